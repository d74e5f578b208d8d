// SPDX-License-Identifier: GPL-3.0-or-later
// Commands and their options. The parser behind them is a header-only library that costs seconds in every file that
// includes it, so only arguments.cpp does.
#pragma once

#include <cstddef>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace CLI {
class App;
class Option;
}  // namespace CLI

namespace kpeg {

/// One option or operand of a command. Each member narrows what is taken and returns the option itself.
class Option {
public:
    explicit Option(CLI::Option& option) : option_(option) {}
    Option* required();
    /// One value each time it is written, not all words that follow.
    Option* one_each();
    Option* needs(Option* other);
    Option* one_of(std::vector<std::string> words);
    /// A number above zero.
    Option* positive();

private:
    CLI::Option& option_;
};

/// The program or one of its commands. What it is given to write into must outlive parse().
class Command {
public:
    explicit Command(const std::string& description);
    ~Command();
    Command(const Command&) = delete;
    Command& operator=(const Command&) = delete;

    Command* add_subcommand(const std::string& name, const std::string& description);
    Option* add_option(const std::string& names, std::string& into, const std::string& description);
    Option* add_option(const std::string& names, std::vector<std::string>& into, const std::string& description);
    Option* add_option(const std::string& names, unsigned& into, const std::string& description);
    Option* add_option(const std::string& names, std::size_t& into, const std::string& description);
    Option* add_option(const std::string& names, double& into, const std::string& description);
    Option* add_option(const std::string& names, std::optional<int>& into, const std::string& description);
    Option* add_flag(const std::string& names, bool& into, const std::string& description);
    /// Called by parse() when this command was chosen.
    void callback(std::function<void()> chosen);

    /// What a command line came to: nothing to do any more (help was shown), or what is wrong with it in one sentence.
    struct Parsing {
        bool goes_on = true;
        std::string wrong;
    };
    /// Reads a command line, of which exactly one command must be a part.
    Parsing parse(int argc, char** argv);

private:
    explicit Command(CLI::App& app);
    Option* keep(CLI::Option* option);

    std::unique_ptr<CLI::App> owned_;  // of the program itself; a command belongs to the one it is part of
    CLI::App& app_;
    std::vector<std::unique_ptr<Command>> commands_;
    std::vector<std::unique_ptr<Option>> options_;
};

}  // namespace kpeg
