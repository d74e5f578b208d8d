// SPDX-License-Identifier: GPL-3.0-or-later
// kpeg: the engine of Kite Peg without a window. Exit status 0 in order, 1 findings or violations, 2 unusable input.
#include "core/format/json/json_text.hpp"
#include "kpeg/commands.hpp"

#include "core/base/bytes.hpp"
#include "core/base/output.hpp"
#include "core/base/process.hpp"
#include "core/inputs/data_folder.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <iostream>

namespace kpeg {

int refuse(const std::vector<kp::Message>& messages) {
    auto why = std::find_if(messages.begin(), messages.end(),
                            [](const kp::Message& m) { return m.severity == kp::Severity::stop; });
    if (why == messages.end()) why = messages.begin();  // something has to be said
    const auto sentence = why == messages.end() ? std::string("This cannot be used.") : why->sentence();
    std::cerr << "kpeg: " << kp::with_short_quotes(kp::one_line(kp::without_foreign_quotes(sentence))) << "\n";
    return unusable;
}

int write_text(const std::string& text, const std::string& path, int status) {
    if (path.empty()) return status;
    const auto written = kp::write_output(path, text);
    return written ? status : refuse(written.messages());
}

int write_out(const kp::Json& json, const std::string& path, int status) {
    return write_text(json.dump(1, ' ', false, kp::Json::error_handler_t::replace) + "\n", path, status);
}

kp::sdc::RunLimits limits_of(const std::vector<std::string>& scripts, const std::vector<std::string>& allow) {
    kp::sdc::RunLimits limits;
    const kp::Reach reach(kp::real_disk(), scripts.empty() ? "." : kp::folder_of(scripts[0]), allow);
    limits.refuse = [reach](const std::string& path) {
        const auto why = reach.refuse(path);
        return why ? why->sentence() : std::string();
    };
    return limits;
}

std::pair<std::string, std::string> assignment(const std::string& text, const char* otherwise) {
    const auto equals = text.find('=');
    if (equals == std::string::npos) return {text, otherwise};
    return {text.substr(0, equals), text.substr(equals + 1)};
}

void add_allow(Command& command, std::vector<std::string>& allow) {
    command
        .add_option(
            "--allow", allow,
            "A file or folder outside the project's folder that constraint files, source and include may lead to")
        ->one_each();
}

kp::Result<std::unique_ptr<kp::Session>> open_project(const std::string& path, const std::vector<std::string>& allow,
                                                      kp::OpenTo purpose, const std::string& command) {
    kp::OpenOptions options;
    options.purpose = purpose;
    options.program = "kpeg " + command;
    options.allow = allow;
    auto session = kp::Session::open(kp::real_disk(), path, kp::data_folder(), options);
    if (!session) return session;
    const auto& document = session.value()->document();
    const auto stop = [&](const std::string& text) {
        return kp::Message{kp::Severity::stop, kp::Code::project, text, path};
    };
    if (purpose == kp::OpenTo::work && document.looking())
        for (const auto& note : document.notes())
            if (note.code == kp::Code::looking)
                return stop(note.text + (document.owner().empty() ? " Nothing was written."
                                                                  : " Nothing was written; close it there first."));
    if (purpose == kp::OpenTo::work && document.offer())
        return stop(
            kp::said("{} Nothing was written; open the project in the window to decide, or move {}.journal away.",
                     document.offer()->sentence, kp::file_name_of(path)));
    for (const auto& note : document.notes()) std::cerr << "kpeg: " << kp::one_line(note.sentence()) << "\n";
    return session;
}

void take_back(kp::Session& session, std::size_t kept) {
    if (session.document().done().size() == kept) return;
    while (session.document().done().size() > kept)
        if (!session.undo()) return;
    static_cast<void>(
        session.document().save());  // as it was before; what could not be written is told at the next opening
}

kp::Status apply_and_save(kp::Session& session, const kp::Edit& edit) {
    if (edit.empty()) return kp::Done{};
    const auto before = session.document().done().size();
    auto status = session.apply(edit);
    if (status) status = session.document().save();
    if (status)
        session.analyse_now();  // writes the line
    else
        take_back(session, before);
    return status;
}

std::vector<std::string> files_of(const kp::Session& session) {
    std::vector<std::string> out{session.document().path()};
    for (const char* ending : {".journal", ".log", ".lock", ".bak"})
        out.push_back(kp::beside(session.document().path(), ending));
    for (const auto& file : session.project().constraints)
        out.push_back(kp::join_path(session.document().folder(), file.path));
    for (const auto& file : session.world().files) out.push_back(file.full);
    return out;
}

}  // namespace kpeg

int main(int argc, char** argv) {
    kp::open_standard_streams();
    kp::end_tidily("kpeg");
    kpeg::Command app("kpeg: Kite Peg without a window");
    kpeg::Run run;
    kpeg::add_time(app, run);
    kpeg::add_rules(app, run);
    kpeg::add_ports(app, run);
    kpeg::add_pegs(app, run);
    kpeg::add_sdc(app, run);
    kpeg::add_lines(app, run);
    kpeg::add_folder(app, run);
    kpeg::add_recipe(app, run);
    kpeg::add_budget(app, run);
    kpeg::add_handoff(app, run);
    kpeg::add_place(app, run);
    kpeg::add_lanes(app, run);
    kpeg::add_map(app, run);
    kpeg::add_simulate(app, run);
    kpeg::add_build(app, run);
    kpeg::add_chip(app, run);
    kpeg::add_prove(app, run);
    kpeg::add_make(app, run);
    kpeg::add_change(app, run);
    const auto parsed = app.parse(argc, argv);
    if (!parsed.wrong.empty()) {
        std::cerr << "kpeg: " << kp::one_line(parsed.wrong) << (parsed.wrong.ends_with('.') ? "" : ".")
                  << " Try kpeg --help.\n";
        return kpeg::unusable;
    }
    if (!parsed.goes_on) return kpeg::in_order;
    try {
        return run();
    } catch (const std::exception& unforeseen) {
        // No exception should come this far; whoever gets one all the same gets a sentence and can report it.
        std::cerr << "kpeg: This input met a mistake of the program (" << kp::one_line(unforeseen.what())
                  << "); nothing more was written. Please report the input.\n";
        return kpeg::unusable;
    }
}
