// SPDX-License-Identifier: GPL-3.0-or-later
// folder: what a folder holds, and the project that it becomes or goes on in.
#include "core/format/json/json_text.hpp"
#include "core/base/output.hpp"
#include "core/base/text.hpp"
#include "core/inputs/data_folder.hpp"
#include "core/inputs/new_project.hpp"
#include "core/inputs/take_over.hpp"
#include "kpeg/commands.hpp"

#include <memory>

namespace kpeg {

namespace {

struct FolderArguments {
    std::string folder, project, json = "-";
    std::vector<std::string> allow;
};

kp::Json view_json(const kp::FolderView& view) {
    kp::Json out{{"schema", "kitepeg.folder/1"}, {"files", kp::Json::array()}, {"hierarchy", kp::Json::array()}};
    for (const auto& f : view.files)
        out["files"].push_back({{"path", kp::json_safe(f.path)}, {"role", f.role}, {"why", kp::json_safe(f.why)}});
    for (const auto& m : view.hierarchy) {
        kp::Json types = kp::Json::array(), counts = kp::Json::object();
        for (const auto& [type, count] : m.instances) {
            types.push_back(kp::json_safe(type));
            counts[kp::json_safe(type)] = count;
        }
        out["hierarchy"].push_back({{"module", kp::json_safe(m.module)},
                                    {"file", kp::json_safe(m.file)},
                                    {"instances", std::move(types)},
                                    {"counts", std::move(counts)},
                                    {"simulation_only", !m.only_simulated.empty()},
                                    {"why", m.only_simulated}});
    }
    out["top"] = view.top.empty() ? kp::Json(nullptr) : kp::Json(kp::json_safe(view.top));
    out["order"] = kp::Json::array();
    for (const auto& path : view.order) out["order"].push_back(kp::json_safe(path));
    out["messages"] = kp::Json::array();
    for (const auto& m : view.messages) out["messages"].push_back(kp::message_json(m));
    return out;
}

/// A project that is there gets what is new; everything else in it stays.
kp::Status merge(const FolderArguments& a, const kp::NewProject& wanted, kp::Json& out) {
    auto opened = open_project(a.project, a.allow, kp::OpenTo::work, "folder");
    if (!opened) return opened.messages();
    auto& session = *opened.value();
    auto& disk = kp::real_disk();
    const size_t before = session.document().done().size();
    const auto difference =
        kp::compare_folder(disk, session.project(), session.document().folder(), wanted.sources, a.folder);
    if (!difference.fresh.empty()) {
        auto edit = kp::add_files(disk, session.project(), session.document().folder(), difference.fresh, false,
                                  session.world().library, nullptr, wanted.netlists);
        auto status = edit ? session.apply(edit.value()) : kp::Status(edit.messages());
        if (status) status = session.document().save();
        if (!status) {
            take_back(session, before);
            return status;
        }
    }
    for (const auto& [key, list] : {std::pair{"added", &difference.fresh}, std::pair{"gone", &difference.gone}}) {
        out[key] = kp::Json::array();
        for (const auto& path : *list) out[key].push_back(kp::json_safe(path));
    }
    return kp::Done{};
}

kp::Status make(const FolderArguments& a, const kp::FolderView& view, kp::Json& out) {
    auto& disk = kp::real_disk();
    auto w = kp::project_of(view, a.folder);
    w.folder = kp::folder_of(a.project).empty() ? "." : kp::folder_of(a.project);
    w.name = kp::file_name_of(a.project);
    w.name = w.name.substr(0, w.name.size() - std::string(".kpeg").size());
    const auto boards = view.with_role("board");
    if (boards.size() == 1) {
        const auto text = disk.read(kp::join_path(a.folder, boards[0]));
        if (!text) return text.messages();
        const auto taken = kp::take_in(disk, w.folder, kp::join_path(a.folder, boards[0]), true);
        if (!taken) return taken.messages();
        w.board = taken.value().substr(0, taken.value().size() - std::string(".board.json").size());
        for (const auto& part : view.with_role("part"))
            if (part.ends_with(".part.json"))
                if (auto status = kp::take_in(disk, w.folder, kp::join_path(a.folder, part), true); !status)
                    return status.messages();
    }
    const auto path = kp::create_project(disk, w, kp::read_catalogue(disk, w.folder, kp::data_folder()));
    if (!path) return path.messages();
    out["project"] = kp::json_safe(path.value());
    return kp::Done{};
}

int run_folder(const FolderArguments& a) {
    auto& disk = kp::real_disk();
    if (!a.project.empty() && !a.project.ends_with(".kpeg"))
        return refuse({{kp::Severity::stop, kp::Code::arguments, "--project names a project file, NAME.kpeg."}});
    const auto view = kp::look_at_folder(disk, a.folder);
    if (!view) return refuse(view.messages());
    std::vector<std::string> inputs;
    for (const auto& f : view.value().files) inputs.push_back(kp::join_path(a.folder, f.path));
    if (auto status = kp::check_outputs({a.json}, inputs); !status) return refuse(status.messages());
    auto out = view_json(view.value());
    if (!a.project.empty()) {
        const auto status =
            disk.exists(a.project) ? merge(a, kp::project_of(view.value(), a.folder), out) : make(a, view.value(), out);
        if (!status) return refuse(status.messages());
    }
    return write_out(out, a.json, in_order);
}

}  // namespace

void add_folder(Command& app, Run& run) {
    auto a = std::make_shared<FolderArguments>();
    auto* c = app.add_subcommand("folder", "What a folder holds: roles of files, tree of modules, top, order");
    c->add_option("folder", a->folder, "The folder")->required();
    c->add_option("--json", a->json, "Where the result goes; - is standard output")->required();
    c->add_option("--project", a->project,
                  "Make this project of it (NAME.kpeg); one that is there gets what is new in the folder");
    add_allow(*c, a->allow);
    c->callback([a, &run] { run = [a] { return run_folder(*a); }; });
}

}  // namespace kpeg
