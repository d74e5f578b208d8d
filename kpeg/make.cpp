// SPDX-License-Identifier: GPL-3.0-or-later
// new, part, board: files and projects from what others wrote, without a window.
#include "kpeg/commands.hpp"

#include "core/base/bytes.hpp"
#include "core/base/output.hpp"
#include "core/base/text.hpp"
#include "core/format/bsdl/read.hpp"
#include "core/format/json/world_json.hpp"
#include "core/format/table/board_table.hpp"
#include "core/format/table/part_join.hpp"
#include "core/session/data_folder.hpp"
#include "core/build/starter.hpp"
#include "core/session/new_project.hpp"

#include <iostream>
#include <memory>
#include <optional>

namespace kpeg {

namespace {

kp::Message make_error(const std::string& text, const std::string& file = "") {
    return {kp::Severity::stop, "arguments", text, file, 0, 0};
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

/// A part or board that is named by its file comes along, and is called from then on as the folder knows it.
kp::Status bring_along(kp::NewProject& w, std::vector<std::string>& brought) {
    auto& disk = kp::real_disk();
    for (auto* name : {&w.part, &w.board}) {
        const std::string ending = name == &w.part ? ".part.json" : ".board.json";
        if (!name->ends_with(ending)) continue;
        if (auto status = disk.make_folder(w.folder); !status) return status;
        const bool fresh = !disk.exists(kp::join_path(w.folder, kp::file_name_of(*name)));
        const auto taken = kp::take_in(disk, w.folder, *name, true);
        if (!taken) return taken.messages();
        if (fresh) brought.push_back(kp::join_path(w.folder, taken.value()));
        if (name == &w.board) {
            *name = taken.value().substr(0, taken.value().size() - ending.size());
            continue;
        }
        const auto text = disk.read(kp::join_path(w.folder, taken.value()));
        const auto part = text ? kp::read_part(text.value(), *name) : kp::Result<kp::Part>(text.messages());
        if (!part) return part.messages();
        *name = part.value().codes;
    }
    return kp::Done{};
}

void take_away(const std::vector<std::string>& brought) {
    for (const auto& file : brought) static_cast<void>(kp::real_disk().remove(file));
}

/// The smallest design for a board, with its pegs.
int run_starter(NewArguments a) {
    if (a.wanted.board.empty()) return refuse({make_error("A starter is made for a board; name it with --board.")});
    auto& disk = kp::real_disk();
    std::vector<std::string> brought;
    if (auto status = bring_along(a.wanted, brought); !status) return refuse(status.messages());
    const auto give_up = [&](const std::vector<kp::Message>& why) {
        take_away(brought);
        return refuse(why);
    };
    kp::Project p;
    p.board = a.wanted.board;
    for (const auto& entry : kp::read_catalogue(disk, a.wanted.folder, kp::data_folder()).boards)
        if (entry.file == p.board) p.part = entry.part;
    const auto world = kp::load_world(disk, p, a.wanted.folder, kp::data_folder());
    if (!world) return give_up(world.messages());
    auto starter = kp::build::starter_for(world.value()->board, p.board, world.value()->part);
    if (!starter) return give_up(starter.messages());
    starter.value().project.name = a.wanted.name;
    const auto path = kp::build::write_starter(disk, a.wanted.folder, starter.value());
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
    if (auto status = bring_along(w, brought); !status) return refuse(status.messages());
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

/// What --columns says (kitepeg.columns/1).
struct Columns {
    std::map<std::string, std::string> roles;  ///< by heading, or by number from 1
    std::optional<int> heading_line;
    std::vector<int> leave_out;
    bool from_fpga = true;
    std::string comment;                              ///< mark of rows that are not used
    std::map<std::string, std::string> prefix, unit;  ///< by heading, or by number from 1
};

kp::Result<Columns> read_columns(const std::string& path) {
    Columns out;
    if (path.empty()) return out;
    auto text = kp::disk_with_pipes({path})->read(path, std::size_t{1} << 20);
    if (!text) return text.messages();
    const auto j = kp::parse_json(text.value());
    const auto bad = [&](const std::string& why) {
        return make_error(
            why + R"( A file of columns is like {"schema": "kitepeg.columns/1", "columns": {"Ball": "FPGA pin"}, )"
                  R"("heading_row": 1, "leave_out": [7]}.)",
            path);
    };
    const auto word = [&](const char* key) {
        return j->contains(key) && j->at(key).is_string() ? j->at(key).get<std::string>() : std::string();
    };
    if (!j || !j->is_object() || word("schema") != "kitepeg.columns/1")
        return bad("This is not a file of columns (kitepeg.columns/1).");
    if (!j->contains("columns") || !j->at("columns").is_object()) return bad("It has no 'columns'.");
    for (const auto& [heading, role] : j->at("columns").items()) {
        if (!role.is_string()) return bad("The meaning of column '" + heading + "' is not text.");
        out.roles[heading] = role.get<std::string>();
    }
    if (j->contains("heading_row")) {
        if (!j->at("heading_row").is_number_integer()) return bad("'heading_row' is a line, counted from 1, or 0.");
        out.heading_line = j->at("heading_row").get<int>();
    }
    if (j->contains("leave_out") && !j->at("leave_out").is_array()) return bad("'leave_out' lists lines.");
    for (const auto& line : j->value("leave_out", kp::Json::array()))
        if (line.is_number_integer())
            out.leave_out.push_back(line.get<int>());
        else
            return bad("'leave_out' lists lines.");
    if (const auto seen = word("seen_from"); j->contains("seen_from") && seen != "fpga" && seen != "board")
        return bad("'seen_from' is \"fpga\" or \"board\".");
    out.from_fpga = word("seen_from") != "board";
    if (j->contains("comment") && !j->at("comment").is_string()) return bad("'comment' is the mark of rows left out.");
    out.comment = word("comment");
    for (auto [key, into] : {std::pair{"prefix", &out.prefix}, std::pair{"unit", &out.unit}}) {
        if (!j->contains(key)) continue;
        if (!j->at(key).is_object()) return bad("'" + std::string(key) + "' gives a text for a column.");
        for (const auto& [heading, text] : j->at(key).items()) {
            if (!text.is_string()) return bad("The " + std::string(key) + " of column '" + heading + "' is not text.");
            (*into)[heading] = text.get<std::string>();
        }
    }
    return out;
}

kp::Result<kp::table::Grid> read_table(const std::string& path, const std::string& text, const Columns& columns) {
    auto grid = kp::table::read_grid(text, path, columns.heading_line);
    if (!grid) return grid.messages();
    for (auto& row : grid.value().rows)
        row.unused |=
            std::find(columns.leave_out.begin(), columns.leave_out.end(), row.line) != columns.leave_out.end();
    return grid;
}

/// The column with a heading, or with a number from 1.
kp::Result<std::size_t> column_called(const kp::table::Grid& grid, const std::string& heading) {
    for (std::size_t c = grid.header.size(); c-- > 0;)
        if (kp::lower(grid.header[c]) == kp::lower(heading) || std::to_string(c + 1) == heading) return c;
    return make_error("The table has no column '" + heading + "'; it has " + kp::list_names(grid.header, 12) + ".");
}

/// Puts what the file of columns says over what was guessed.
kp::Status take_columns(const kp::table::Grid& grid, const Columns& columns, kp::table::Mapping& mapping) {
    mapping.seen_from_fpga = columns.from_fpga;
    for (const auto& [heading, role] : columns.roles) {
        const auto at = column_called(grid, heading);
        if (!at) return at.messages();
        std::vector<std::string> known;
        int found = -1;
        for (int r = 0; r < kp::table::role_count; ++r) {
            known.emplace_back(kp::table::name_of(static_cast<kp::table::Role>(r)));
            if (role == known.back()) found = r;
        }
        if (found < 0)
            return make_error("'" + role + "' is not a meaning of a column; there are " + kp::list_names(known, 30) +
                              ".");
        for (auto& other : mapping.columns)
            if (static_cast<int>(other) == found) other = kp::table::Role::ignored;
        mapping.columns[at.value()] = static_cast<kp::table::Role>(found);
    }
    mapping.comment = columns.comment;
    for (const auto& [list, member] : {std::pair{&columns.prefix, &kp::table::CellDress::prefix},
                                       std::pair{&columns.unit, &kp::table::CellDress::unit}})
        for (const auto& [heading, text] : *list) {
            const auto at = column_called(grid, heading);
            if (!at) return at.messages();
            mapping.dress.resize(grid.header.size());
            mapping.dress[at.value()].*member = text;
        }
    return kp::Done{};
}

struct Told {
    std::vector<kp::Message> messages;
    bool stopped = false;
    void add(const std::vector<kp::table::CellTrouble>& troubles, const kp::table::Grid& grid,
             const std::string& file) {
        for (const auto& t : troubles) {
            const bool of_row = t.row < grid.rows.size() && t.column >= 0;
            messages.push_back({t.severity, "table", t.text, file, of_row ? grid.rows[t.row].line : 0, 0});
            stopped |= t.severity == kp::Severity::stop;
        }
    }
};

kp::Result<kp::StandardTable> standards() {
    const auto path = kp::data_folder() + "/standards/io.standards.json";
    auto text = kp::real_disk().read(path);
    if (!text) return text.messages();
    return kp::read_standards(text.value(), path);
}

struct PartArguments {
    std::vector<std::string> from;
    std::string out, columns, name, code, json;
};

kp::Result<kp::Part> part_from(const std::string& path, const PartArguments& a, const Columns& columns,
                               const kp::StandardTable& table, Told& told) {
    auto text = kp::disk_with_pipes({path})->read(path, std::size_t{64} << 20);
    if (!text) return text.messages();
    const auto low = kp::lower(path);
    if (low.ends_with(".part.json")) return kp::read_part(text.value(), path);
    if (low.ends_with(".bsd") || low.ends_with(".bsdl") || low.ends_with(".bsm")) {
        auto bsdl = kp::read_bsdl(text.value(), path);
        if (!bsdl) return bsdl.messages();
        auto part = kp::part_from_bsdl(bsdl.value());
        if (part) told.messages.insert(told.messages.end(), part.messages().begin(), part.messages().end());
        return part;
    }
    auto grid = read_table(path, text.value(), columns);
    if (!grid) return grid.messages();
    auto mapping = kp::table::guess_pin_mapping(grid.value());
    if (auto status = take_columns(grid.value(), columns, mapping); !status) return status.messages();
    auto draft = kp::table::draft_part(grid.value(), mapping, table, a.name);
    told.add(draft.troubles, grid.value(), path);
    if (draft.pins == 0) return make_error("No row of the table gives a pin.", path);
    return std::move(draft.part);
}

int run_part(PartArguments a) {
    if (a.name.empty()) {
        a.name = kp::file_name_of(a.out);
        a.name = kp::upper(a.name.substr(0, a.name.find('.')));
    }
    if (auto status = kp::check_outputs({a.out, a.json}, a.from); !status) return refuse(status.messages());
    auto columns = read_columns(a.columns);
    if (!columns) return refuse(columns.messages());
    const auto table = standards();
    if (!table) return refuse(table.messages());
    Told told;
    std::optional<kp::Part> whole;
    for (const auto& path : a.from) {
        auto part = part_from(path, a, columns.value(), table.value(), told);
        if (!part) return refuse(part.messages());
        if (!whole) {
            whole = part.take();
            continue;
        }
        auto joined = kp::table::join_parts(std::move(*whole), part.value(), told.messages);
        if (!joined) return refuse(joined.messages());
        whole = joined.take();
    }
    for (const auto& m : told.messages)
        if (m.severity == kp::Severity::stop) return refuse({m});
    whole->name = whole->codes = a.name;
    whole->ordering = {{a.name, "", {}}};
    say(told.messages);
    if (const int status = write_text(kp::write_part(*whole), a.out, in_order)) return status;
    if (a.json.empty()) return in_order;
    kp::Json j{{"schema", "kitepeg.part/1"},        {"part", whole->name},          {"pins", whole->pins.size()},
               {"user_pins", whole->usable_pins()}, {"banks", whole->banks.size()}, {"messages", kp::Json::array()}};
    for (const auto& m : told.messages) j["messages"].push_back(kp::message_json(m));
    return write_out(j, a.json, in_order);
}

struct BoardArguments {
    std::string from, out, columns, part, name, json;
};

kp::Result<kp::Part> known_part(const std::string& code, const std::string& folder) {
    if (code.empty()) return kp::Part{};
    if (code.ends_with(".part.json")) {
        auto text = kp::real_disk().read(code);
        if (!text) return text.messages();
        return kp::read_part(text.value(), code);
    }
    const auto catalogue = kp::read_catalogue(kp::real_disk(), folder, kp::data_folder());
    if (const auto* part = catalogue.part_of(code)) return *part;
    return make_error("No part file knows the ordering code '" + code + "'." +
                      kp::did_you_mean(code, catalogue.codes()));
}

int run_board(BoardArguments a) {
    if (a.name.empty()) {
        a.name = kp::file_name_of(a.out);
        a.name = a.name.substr(0, a.name.find('.'));
    }
    if (auto status = kp::check_outputs({a.out, a.json}, {a.from}); !status) return refuse(status.messages());
    auto columns = read_columns(a.columns);
    if (!columns) return refuse(columns.messages());
    const auto table = standards();
    if (!table) return refuse(table.messages());
    auto part = known_part(a.part, kp::folder_of(a.out));
    if (!part) return refuse(part.messages());
    auto text = kp::disk_with_pipes({a.from})->read(a.from, std::size_t{16} << 20);
    if (!text) return refuse(text.messages());
    auto grid = read_table(a.from, text.value(), columns.value());
    if (!grid) return refuse(grid.messages());
    auto mapping = kp::table::guess_mapping(grid.value(), part.value());
    if (auto status = take_columns(grid.value(), columns.value(), mapping); !status) return refuse(status.messages());
    const auto draft = kp::table::draft_board(grid.value(), mapping, part.value(), table.value(), a.name,
                                              a.part.ends_with(".part.json") ? part.value().codes : a.part);
    Told told;
    told.add(draft.troubles, grid.value(), a.from);
    if (draft.wired == 0)
        return refuse(
            {told.messages.empty() ? make_error("No row of the table wires a pin.", a.from) : told.messages.front()});
    say(told.messages);
    if (const int status = write_text(kp::write_board(draft.board), a.out, in_order)) return status;
    const int answer = told.stopped ? findings : in_order;  // rows were left out
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
    for (const auto& m : told.messages) j["messages"].push_back(kp::message_json(m));
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
