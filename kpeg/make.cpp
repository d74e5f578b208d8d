// SPDX-License-Identifier: GPL-3.0-or-later
// new, part, board: files and projects from what others wrote, without a window.
#include "core/format/json/json_text.hpp"
#include "kpeg/commands.hpp"

#include "core/base/bytes.hpp"
#include "core/base/output.hpp"
#include "core/base/text.hpp"
#include "core/format/json/world_json.hpp"
#include "core/format/table/board_table.hpp"
#include "core/format/table/part_join.hpp"
#include "core/inputs/data_folder.hpp"
#include "core/build_flow/starter.hpp"
#include "core/inputs/new_project.hpp"
#include "core/inputs/part_files.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <iostream>
#include <memory>
#include <optional>

namespace kpeg {

namespace {

kp::Message make_error(const std::string& text, const std::string& file = "") {
    return {kp::Severity::stop, kp::Code::arguments, text, file};
}

void say(const std::vector<kp::Message>& messages) {
    for (const auto& m : messages)
        std::cerr << "kpeg: " << kp::one_line(kp::without_foreign_quotes(m.sentence())) << "\n";
}

// new
// -------------------------------------------------------------------------------------------------------------------

struct NewArguments {
    kp::NewProject wanted;
    std::vector<std::string> sources, netlists, others;
    bool link = false, starter = false;
};

void take_away(const std::vector<std::string>& brought) {
    for (const auto& file : brought) static_cast<void>(kp::real_disk().remove(file));
}

/// The smallest design for a board, with its pegs.
int run_starter(NewArguments a) {
    if (a.wanted.board.empty()) return refuse({make_error("A starter is made for a board; name it with --board.")});
    auto& disk = kp::real_disk();
    std::vector<std::string> brought;
    if (auto status = kp::bring_along(disk, a.wanted, brought); !status) return refuse(status.messages());
    const auto give_up = [&](const std::vector<kp::Message>& why) {
        take_away(brought);
        return refuse(why);
    };
    kp::Project p;
    p.board = a.wanted.board;
    for (const auto& entry : kp::read_catalogue(disk, a.wanted.folder, kp::data_folder()).boards)
        if (entry.file == p.board) p.part = entry.part;
    if (!a.wanted.part.empty()) {
        if (!p.part.empty() && p.part != a.wanted.part)
            say({{kp::Severity::caution, kp::Code::project,
                  kp::said("The board {} carries {}, not {}.", p.board, p.part, a.wanted.part)}});
        p.part = a.wanted.part;
    }
    const auto world = kp::load_world(disk, p, a.wanted.folder, kp::data_folder());
    if (!world) return give_up(world.messages());
    auto starter = kp::build_flow::starter_for(world.value()->board, p.board, world.value()->part);
    if (!starter) return give_up(starter.messages());
    starter.value().project.name = a.wanted.name;
    starter.value().project.part = p.part;
    const auto path = kp::build_flow::write_starter(disk, a.wanted.folder, starter.value());
    if (!path) return give_up(path.messages());
    std::cout << path.value() << "\n";
    return in_order;
}

int run_new(NewArguments a) {
    if (a.starter) return run_starter(std::move(a));
    auto& w = a.wanted;
    // Cells first, so that a netlist is known as one.
    for (const auto* list : {&a.others, &a.netlists, &a.sources})
        w.sources.insert(w.sources.end(), list->begin(), list->end());
    w.netlists.insert(a.netlists.begin(), a.netlists.end());
    w.copy = !a.link;
    std::vector<std::string> brought;
    if (auto status = kp::bring_along(kp::real_disk(), w, brought); !status) return refuse(status.messages());
    const auto catalogue = kp::read_catalogue(kp::real_disk(), w.folder, kp::data_folder());
    for (const auto& m : kp::check(kp::real_disk(), w, catalogue))
        if (m.severity != kp::Severity::stop) say({m});
    auto path = kp::create_project(kp::real_disk(), w, catalogue);
    if (!path) {
        take_away(brought);
        return refuse(path.messages());
    }
    std::cout << path.value() << "\n";
    return in_order;
}

// part and board
// --------------------------------------------------------------------------------------------------------

/// What --columns says; nothing when it is not given.
kp::Result<kp::table::Columns> columns_of(const std::string& path) {
    if (path.empty()) return kp::table::Columns{};
    auto text = kp::disk_with_pipes({path})->read(path, std::size_t{1} << 20);
    if (!text) return text.messages();
    return kp::table::read_columns(text.value(), path);
}

struct PartArguments {
    std::vector<std::string> from;
    std::string out, columns, name, code, json;
};

int run_part(PartArguments a) {
    if (a.name.empty()) {
        a.name = kp::file_name_of(a.out);
        a.name = kp::upper(a.name.substr(0, a.name.find('.')));
    }
    if (auto status = kp::check_outputs({a.out, a.json}, a.from); !status) return refuse(status.messages());
    auto columns = columns_of(a.columns);
    if (!columns) return refuse(columns.messages());
    const auto table = kp::shipped_standards(kp::real_disk(), kp::data_folder());
    if (!table) return refuse(table.messages());
    std::vector<kp::Message> told;
    std::optional<kp::Part> whole;
    const auto disk = kp::disk_with_pipes(a.from);
    for (const auto& path : a.from) {
        auto part = kp::part_from(*disk, path, a.name, columns.value(), table.value());
        if (!part) return refuse(part.messages());
        told.insert(told.end(), part.messages().begin(), part.messages().end());
        if (!whole) {
            whole = part.take();
            continue;
        }
        auto joined = kp::table::join_parts(std::move(*whole), part.value(), told);
        if (!joined) return refuse(joined.messages());
        whole = joined.take();
    }
    for (const auto& m : told)
        if (m.severity == kp::Severity::stop) return refuse({m});
    whole->name = whole->codes = a.name;
    whole->ordering = {{a.name, "", {}}};
    say(told);
    if (const int status = write_text(kp::write_part(*whole), a.out, in_order)) return status;
    if (a.json.empty()) return in_order;
    kp::Json j{{"schema", "kitepeg.part/1"},        {"part", whole->name},          {"pins", whole->pins.size()},
               {"user_pins", whole->usable_pins()}, {"banks", whole->banks.size()}, {"messages", kp::Json::array()}};
    for (const auto& m : told) j["messages"].push_back(kp::message_json(m));
    return write_out(j, a.json, in_order);
}

struct BoardArguments {
    std::string from, out, columns, part, name, json;
};

int run_board(BoardArguments a) {
    if (a.name.empty()) {
        a.name = kp::file_name_of(a.out);
        a.name = a.name.substr(0, a.name.find('.'));
    }
    if (auto status = kp::check_outputs({a.out, a.json}, {a.from}); !status) return refuse(status.messages());
    auto columns = columns_of(a.columns);
    if (!columns) return refuse(columns.messages());
    const auto table = kp::shipped_standards(kp::real_disk(), kp::data_folder());
    if (!table) return refuse(table.messages());
    auto part = a.part.empty() ? kp::Result<kp::Part>(kp::Part{})
                               : kp::part_called(kp::real_disk(), a.part, kp::folder_of(a.out), kp::data_folder());
    if (!part) return refuse(part.messages());
    auto text = kp::disk_with_pipes({a.from})->read(a.from, std::size_t{16} << 20);
    if (!text) return refuse(text.messages());
    auto grid = kp::table::read_table(text.value(), a.from, columns.value());
    if (!grid) return refuse(grid.messages());
    auto mapping = kp::table::guess_mapping(grid.value(), part.value());
    if (auto status = kp::table::take_columns(grid.value(), columns.value(), mapping); !status)
        return refuse(status.messages());
    const auto draft = kp::table::draft_board(grid.value(), mapping, part.value(), table.value(), a.name,
                                              a.part.ends_with(".part.json") ? part.value().codes : a.part);
    const auto told = kp::messages_of(draft.troubles, grid.value(), a.from);
    if (draft.wired == 0)
        return refuse({told.empty() ? make_error("No row of the table wires a pin.", a.from) : told.front()});
    say(told);
    if (const int status = write_text(kp::write_board(draft.board), a.out, in_order)) return status;
    const bool rows_left_out =
        std::any_of(told.begin(), told.end(), [](const kp::Message& m) { return m.severity == kp::Severity::stop; });
    const int answer = rows_left_out ? findings : in_order;
    if (a.json.empty()) return answer;
    kp::Json j{{"schema", "kitepeg.board-table/1"},
               {"board", a.name},
               {"rows", draft.rows},
               {"wired", draft.wired},
               {"unused", draft.unused},
               {"merged", draft.merged},
               {"columns", kp::Json::object()},
               {"messages", kp::Json::array()}};
    for (std::size_t c = 0; c < grid.value().header.size(); ++c)
        j["columns"][grid.value().header[c]] = kp::table::name_of(mapping.columns[c]);
    for (const auto& m : told) j["messages"].push_back(kp::message_json(m));
    return write_out(j, a.json, answer);
}

/// What the making of a part and of a board have in common on the command line.
template <class Arguments>
void add_table_options(Command& command, Arguments& a, const char* out) {
    command.add_option("--out", a.out, out)->required();
    command.add_option("--columns", a.columns, "What the columns of a table mean (kitepeg.columns/1)");
    command.add_option("--json", a.json, "Where a summary goes; - is standard output");
}

}  // namespace

void add_make(Command& app, Run& run) {
    auto n = std::make_shared<NewArguments>();
    auto* c = app.add_subcommand("new", "Make a project");
    c->add_option("folder", n->wanted.folder, "Its folder; made if it is not there")->required();
    c->add_option("--name", n->wanted.name, "Its name")->required();
    c->add_option("--part", n->wanted.part, "Ordering code of the part, or a part file to bring along");
    c->add_option("--board", n->wanted.board, "A board that ships with the program, or a board file to bring along");
    c->add_option("--source", n->sources, "HDL of the design; may be given several times")->one_each();
    c->add_option("--netlist", n->netlists, "Structural Verilog")->one_each();
    c->add_option("--file", n->others, "Cells (.lib), delays (.sdf) or constraints (.sdc)")->one_each();
    c->add_option("--top", n->wanted.top, "Top module, where several could be it");
    c->add_flag("--link", n->link, "Link the files where they are instead of copying them");
    c->add_flag("--starter", n->starter, "A lamp that blinks and one that follows a key, as a design for --board");
    c->callback([n, &run] { run = [n] { return run_new(*n); }; });

    auto p = std::make_shared<PartArguments>();
    c = app.add_subcommand("part",
                           "Make a part file from BSDL, pin lists and other part files; several are joined by pin");
    c->add_option("from", p->from, "BSDL (*.bsd, *.bsdl), a table of pins, or *.part.json")->required();
    add_table_options(*c, *p, "The part file, NAME.part.json");
    c->add_option("--name", p->name, "Name and ordering code; else that of the file");
    c->callback([p, &run] { run = [p] { return run_part(*p); }; });

    auto b = std::make_shared<BoardArguments>();
    c = app.add_subcommand("board", "Make a board file from a table of wires");
    c->add_option("from", b->from, "The table: CSV, tabs, semicolons or bars")->required();
    add_table_options(*c, *b, "The board file, NAME.board.json");
    c->add_option("--part", b->part, "Ordering code or part file, to check the pins by");
    c->add_option("--name", b->name, "Name; else that of the file");
    c->callback([b, &run] { run = [b] { return run_board(*b); }; });
}

}  // namespace kpeg
