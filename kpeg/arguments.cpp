// SPDX-License-Identifier: GPL-3.0-or-later
// CLI11 behind a face of our own, so that its templates are compiled once.
#include "core/base/said.hpp"
#include "kpeg/arguments.hpp"

#include <CLI/CLI.hpp>
#include <utility>

namespace kpeg {

Option* Option::required() {
    option_.required();
    return this;
}

Option* Option::one_each() {
    option_.allow_extra_args(false);
    return this;
}

Option* Option::needs(Option* other) {
    option_.needs(&other->option_);
    return this;
}

Option* Option::one_of(std::vector<std::string> words) {
    option_.check(CLI::IsMember(std::move(words)));
    return this;
}

Option* Option::positive() {
    // The library's own check tells the range in 300 digits.
    option_.check(CLI::Validator(
        [](const std::string& text) {
            double v = 0;
            const bool number = CLI::detail::lexical_cast(text, v);
            return number && v > 0 ? std::string() : kp::said("'{}' is not a number above 0.", text);
        },
        "above 0"));
    return this;
}

Command::Command(const std::string& description) : owned_(std::make_unique<CLI::App>(description)), app_(*owned_) {
    app_.require_subcommand(1);
}

Command::Command(CLI::App& app) : app_(app) {}

Command::~Command() = default;

Command* Command::add_subcommand(const std::string& name, const std::string& description) {
    commands_.push_back(std::unique_ptr<Command>(new Command(*app_.add_subcommand(name, description))));
    return commands_.back().get();
}

Option* Command::keep(CLI::Option* option) {
    options_.push_back(std::make_unique<Option>(*option));
    return options_.back().get();
}

namespace {

/// A script that forgot to set a variable gives an empty text: it is told, not taken for an option that is not there.
CLI::Option* refuse_empty(CLI::Option* option, const std::string& names) {
    if (names.starts_with('-'))
        option->check(CLI::Validator(
            [](const std::string& text) { return text.empty() ? std::string("the value is empty.") : std::string(); },
            ""));
    return option;
}

}  // namespace

Option* Command::add_option(const std::string& names, std::string& into, const std::string& description) {
    return keep(refuse_empty(app_.add_option(names, into, description), names));
}

Option* Command::add_option(const std::string& names, std::vector<std::string>& into, const std::string& description) {
    return keep(refuse_empty(app_.add_option(names, into, description), names));
}

Option* Command::add_option(const std::string& names, unsigned& into, const std::string& description) {
    return keep(app_.add_option(names, into, description));
}

Option* Command::add_option(const std::string& names, std::size_t& into, const std::string& description) {
    return keep(app_.add_option(names, into, description));
}

Option* Command::add_option(const std::string& names, double& into, const std::string& description) {
    return keep(app_.add_option(names, into, description));
}

Option* Command::add_option(const std::string& names, std::optional<int>& into, const std::string& description) {
    return keep(app_.add_option(names, into, description));
}

Option* Command::add_flag(const std::string& names, bool& into, const std::string& description) {
    return keep(app_.add_flag(names, into, description));
}

void Command::callback(std::function<void()> chosen) {
    app_.callback(std::move(chosen));
}

Command::Parsing Command::parse(int argc, char** argv) {
    try {
        app_.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        if (error.get_exit_code() != 0) return {false, error.what()};
        app_.exit(error);  // help, on standard output
        return {false, ""};
    }
    return {};
}

}  // namespace kpeg
