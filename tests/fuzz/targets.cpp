// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/fuzz/targets.hpp"

#include "core/format/json/json_text.hpp"
#include "core/format/image/image.hpp"
#include "core/jtag/svf.hpp"
#include "core/simulation/vectors.hpp"
#include "core/build_flow/origin.hpp"
#include "core/build_flow/placed_json.hpp"
#include "core/synthesis/map.hpp"
#include "core/base/memory_disk.hpp"
#include "core/hdl/source/interpreter.hpp"
#include "core/hdl/source/parser.hpp"
#include "core/inputs/source_list.hpp"
#include "core/format/bsdl/read.hpp"
#include "core/hdl/outline.hpp"
#include "core/hdl/read_ports.hpp"
#include "core/base/bytes.hpp"
#include "core/base/disk.hpp"
#include "core/base/line_merge.hpp"
#include "core/format/json/edit_json.hpp"
#include "core/format/json/links_json.hpp"
#include "core/format/json/project_json.hpp"
#include "core/format/json/world_json.hpp"
#include "core/format/liberty/read.hpp"
#include "core/format/lines/pattern_json.hpp"
#include "core/hdl/models/read.hpp"
#include "core/format/sdc/rename.hpp"
#include "core/format/sdc/sdc_text.hpp"
#include "core/format/sdf/cells.hpp"
#include "core/format/sdf/read.hpp"
#include "core/format/vcd/read.hpp"
#include "core/format/table/board_table.hpp"
#include "core/format/csv/pin_report.hpp"
#include "core/hdl/verilog/read_netlist.hpp"
#include "core/handoff/adapter.hpp"
#include "core/planning/sheet.hpp"

#include <cstdlib>

namespace kp::fuzz {

namespace {

/// A reader answers with a value or with a sentence; anything else is a fault.
template <class T>
void expect_answer(const Result<T>& r) {
    if (r) return;
    if (r.messages().empty()) std::abort();
    for (const auto& m : r.messages())
        if (m.text.empty()) std::abort();
}

void ports(std::string_view text, const char* file) {
    const SourceText source{file, text};
    PortRequest request;
    request.include = [](const std::string&, const std::string&) -> std::optional<std::string> {
        return "`define INCLUDED 3\n";
    };
    expect_answer(read_ports({&source, 1}, request));
}

const Library& cells_of_targets() {
    static const Library library = [] {
        return read_liberty(
                   "library (l) { cell (INV) { pin (A) { direction : input; } pin (Y) { direction : output; function : "
                   "\"!A\"; } } cell (SK_TABLE_2) { pin (A0) { direction : input; } pin (A1) { direction : input; } "
                   "pin "
                   "(Y) { direction : output; } } }",
                   "l")
            .take();
    }();
    return library;
}

void cell_models(std::string_view text) {
    const SourceText source{"m.v", text};
    expect_answer(read_models({&source, 1}));
}

/// The text is a file of delays of which nothing else is known.
void told_by_delays(std::string_view text) {
    const Library none;
    CellsFromDelays told(none);
    if (const auto delays = read_sdf(text, "d.sdf"))
        for (size_t i = 0; i < delays.value().size(); ++i) told.take(delays.value()[i]);
    for (const char* type : {"R", "G", ""}) (void)told.cell(type, {"A", "B[3]", "B[x]", "["});
}

/// The first line is an example, with its first words as marks; the rest is read by it, and written again.
void learned_lines(std::string_view text) {
    const auto end = std::min(text.find('\n'), text.size());
    lines::Pattern p;
    lines::Shape shape;
    shape.example = text.substr(0, end);
    static const char* const fields[] = {"port", "pin", "standard"};
    size_t at = 0;
    for (const char* field : fields) {
        while (at < shape.example.size() && lines::word_at(shape.example, at).second == 0) ++at;
        const auto [first, length] = lines::word_at(shape.example, at);
        if (length) shape.marks.push_back({field, first, length});
        at = first + length + 1;
    }
    p.shapes.push_back(std::move(shape));
    const auto read = lines::read(p, text, "t");
    expect_answer(read);
    if (!read) return;
    const std::vector<std::string> nobody(read.value().joined.size());
    const auto commented = lines::rewrite(p, text, read.value(), nobody, true);
    if (commented.size() < text.size()) std::abort();  // marks are added, nothing goes
}

void pattern(std::string_view text) {
    expect_answer(lines::read_pattern(text, "p.json"));
}

void outline(std::string_view text) {
    (void)outline_of({"o.sv", text});
    (void)outline_of({"o.vhd", text});
}

void netlist(std::string_view text) {
    const SourceText source{"n.v", text};
    expect_answer(read_netlist({&source, 1}, "", cells_of_targets()));
}

void table_text(std::string_view text) {
    const auto grid = table::read_grid(text, "t");
    expect_answer(grid);
    if (!grid) return;
    const Part part;
    const auto draft = table::draft_board(grid.value(), table::guess_mapping(grid.value(), part), part, {}, "b", "P");
    (void)write_board(draft.board);
}

void sdc_text(std::string_view text) {
    const std::string copy(text);
    for (const auto& command : sdc::split_commands(copy, "f").commands) (void)sdc::words_of(copy, command);
    std::string renamed = copy;
    const auto found = sdc::rename_ports(copy, {{"a", "b"}, {"osc_20", "clock_in"}});
    for (auto at = found.rbegin(); at != found.rend(); ++at) {
        if (renamed.compare(at->offset, at->before.size(), at->before) != 0) std::abort();
        renamed.replace(at->offset, at->before.size(), at->after);
    }
}

void bsdl(std::string_view text) {
    const auto b = read_bsdl(text, "b");
    expect_answer(b);
    if (!b) return;
    const auto part = part_from_bsdl(b.value());
    expect_answer(part);
    if (part) expect_answer(read_part(write_part(part.value()), "made"));
}

/// A sheet that reads is written and read to the same rows.
void pin_sheet(std::string_view text) {
    const auto sheet = read_sheet(text, "s");
    expect_answer(sheet);
    if (!sheet) return;
    const auto again = read_sheet(write_sheet(sheet.value().rows), "s");
    if (!again || again.value().rows.size() != sheet.value().rows.size()) std::abort();
}

/// A line of a journal: what reads as an edit is written and read to the same edit.
void journal_line(std::string_view text) {
    const auto j = parse_json(text);
    if (!j || !j->is_object()) return;
    const auto edit = edit_from_json(*j);
    expect_answer(edit);
    if (!edit) return;
    const auto again = edit_from_json(edit_to_json(edit.value()));
    if (!again || edit_to_json(again.value()) != edit_to_json(edit.value())) std::abort();
    Project p;
    (void)apply(p, edit.value());
}

/// Any bytes in an editor: what is shown is text, and an edit of it leads to what is shown then.
void shown(std::string_view text) {
    const auto now = shown_text(text);
    if (!is_utf8(now) || change_to_show(text, now)) std::abort();
    const auto change = change_to_show(text, now + "x");
    if (!change || change->offset + change->before.size() > text.size()) std::abort();
    std::string then(text);
    then.replace(change->offset, change->before.size(), change->after);
    if (shown_text(then) != now + "x") std::abort();
}

/// Any three texts merge, and a side against itself is that side.
void merge(std::string_view text) {
    const auto third = text.size() / 3;
    const auto base = text.substr(0, third), mine = text.substr(third, third), theirs = text.substr(2 * third);
    (void)merged_text(merge_lines(base, mine, theirs), {});
    if (merged_text(merge_lines(base, mine, base), {}) != mine ||
        merged_text(merge_lines(base, mine, mine), {}) != mine)
        std::abort();
}

const Adapter& adapter() {
    static const Adapter a{"top",
                           "core",
                           {{{"a", "a", -1, Direction::in, 0}, "A1", false, ""},
                            {{"y[1]", "y", 1, Direction::out, 0}, "Y1", true, ""},
                            {{"y[0]", "y", 0, Direction::out, 0}, "", false, "", false}},
                           {{"Z", 1, ""}},
                           {}};
    return a;
}

/// Source to cells; what comes out has to be a netlist that reads back.
void map(std::string_view text) {
    static const Library library = [] {
        const auto file = real_disk().read(KP_SOURCE "/data/cells/skerry.lib");
        return read_liberty(file.value(), "skerry.lib").take();
    }();
    const SourceText source{"f.v", text};
    synthesis::MapRequest request;
    request.most_work = 100'000;
    request.most_gates = 20'000;
    request.reading.include = [](const std::string&, const std::string&) -> std::optional<std::string> {
        return "`define INCLUDED 3\n";
    };
    const auto mapped = synthesis::map_design({&source, 1}, library, request);
    expect_answer(mapped);
    if (!mapped || mapped.value().netlist.empty()) return;
    const SourceText netlist{"n.v", mapped.value().netlist};
    if (!read_netlist({&netlist, 1}, mapped.value().top, library)) std::abort();
}

/// A source (or a formula, which becomes one) is run for some edges of its inputs.
void run_source(std::string_view text) {
    const SourceText source{"f.v", text};
    const auto code = source::read_code({&source, 1}, {});
    expect_answer(code);
    if (!code || code.value().order.empty()) return;
    auto run = source::Interpreter::of(code.value(), code.value().order.back());
    expect_answer(run);
    for (int turn = 0; run && turn < 6; ++turn)
        for (const auto& port : run.value().ports()) {
            run.value().set(port.name, std::string(static_cast<size_t>(port.width), turn % 2 ? '1' : '0'));
            if (run.value().settle()) return;
        }
}

/// The text is a list of files; one of them exists, and one is a list that leads back.
void source_list(std::string_view text) {
    MemoryDisk disk;
    disk.files["d/l.f"] = std::string(text);
    disk.files["d/back.f"] = "-f l.f\nl.f\n";
    disk.files["d/a.v"] = "module a; endmodule\n";
    expect_answer(expand_sources(disk, "d", {"l.f"}));
}

/// Places of a netlist of two cells, and what a folder says it was built from.
void kept_build(std::string_view text) {
    static const Netlist two = [] {
        const SourceText n{"n.v",
                           "module t (a, y);\ninput a;\noutput y;\nwire n;\nINV u (.A(a), .Y(n));\nINV v (.A(n), "
                           ".Y(y));\nendmodule\n"};
        return read_netlist({&n, 1}, "t", cells_of_targets()).take();
    }();
    expect_answer(build_flow::read_placed(text, "placed.json", two));
    expect_answer(build_flow::read_origin(text, "origin.json"));
}

void svf(std::string_view text) {
    SimulatedChip chip(0x1A2460FF, 8);
    ScanChain chain(chip, {});
    expect_answer(play_svf(text, "f.svf", chain, 1 << 18));
}

void vectors(std::string_view text) {
    const std::vector<simulation::PortGroup> groups{
        {"a", Direction::in, {0, 1, 2, 3}}, {"y", Direction::out, {4}}, {"w", Direction::inout, {5, 6}}};
    expect_answer(simulation::read_vectors(text, "v.csv", groups));
}

}  // namespace

const std::vector<Target>& targets() {
    const std::string headers = "tests/hdl/headers";
    static const std::vector<Target> list{
        {"verilog_ports",
         [](std::string_view t) { ports(t, "p.sv"); },
         {headers},
         {"module", "endmodule", "input", "[", "]", "`define", "`ifdef", "`endif", "parameter", "$clog2(", "typedef",
          "package", "(*", "/*", "\\"}},
        {"vhdl_ports",
         [](std::string_view t) { ports(t, "p.vhd"); },
         {headers},
         {"entity", "is", "port (", "generic (", "downto", "std_logic_vector(", "end", "package", "constant",
          ":=", "--", "\\"}},
        {"netlist",
         netlist,
         {"tests/fuzz/seeds/netlist.v"},
         {"module", "endmodule", "wire", "assign", "{", "}", "1'b0", ".A(", "[", "]"}},
        {"models",
         cell_models,
         {"tests/fuzz/seeds/models.v"},
         {"specify", "endspecify", "(posedge A => (Y +: B))", "$setuphold(", "if (", "table", "endtable", "always @(",
          "`timescale 1ps/1ps", ":", "?", "*>"}},
        {"delays_alone",
         told_by_delays,
         {"tests/fuzz/seeds/small.sdf"},
         {"(CELL", "IOPATH", "(COND", "posedge", "RECOVERY", "HOLD", "INTERCONNECT"}},
        {"lines",
         learned_lines,
         {"tests/fuzz/seeds/lines.txt"},
         {"#", "\"", "[0]", "<3>", ";", "=", "\n", "\r\n", "  "}},
        {"pattern",
         pattern,
         {"tests/fuzz/seeds/pattern.json"},
         {"\"marks\"", "\"shapes\"", "[", "]", "{", "}", "4294967296", "\"spellings\""}},
        {"outline",
         outline,
         {"tests/hdl/headers", "tests/fuzz/seeds/netlist.v"},
         {"module", "endmodule", "entity", "architecture", "of", "begin", "port map (", "#(", "`include \"a\"", "use"}},
        {"bsdl", bsdl, {"tests/format/bsdl"}, {"attribute", "\" & \"", "constant", "BC_1", "entity", "(", ")"}},
        {"table",
         table_text,
         {"tests/fuzz/seeds/board.csv"},
         {"K1..K8", "D[7:0]", "\"", "\t", ";", "# ", "mil", "4k7"}},
        {"part",
         [](std::string_view t) { expect_answer(read_part(t, "p")); },
         {"tests/fuzz/seeds/small.part.json"},
         {"\"pins\"", "[", "]", "{", "}", "null", "1e999"}},
        {"board",
         [](std::string_view t) { expect_answer(read_board(t, "b")); },
         {"data/boards/tussock.board.json"},
         {"\"nets\"", "[", "]", "{", "}", "null", "-1"}},
        {"module",
         [](std::string_view t) { expect_answer(read_module(t, "m")); },
         {"data/modules/lampbar.module.json"},
         {"\"wires\"", "[", "]", "{", "}"}},
        {"project",
         [](std::string_view t) { expect_answer(read_project(t, "k")); },
         {"demo/vane/vane.kpeg", "demo/uplink/uplink.kpeg"},
         {"\"pegs\"", "\"ports\"", "\"interfaces\"", "[", "]", "{", "}", "null"}},
        {"interfaces",
         [](std::string_view t) { expect_answer(read_ask(t, "a")); },
         {"tests/fuzz/seeds/small.links.json"},
         {"\"interfaces\"", "\"lanes\"", "\"pegged\"", "[", "]", "{", "}", "null", "1e999", "-1"}},
        {"liberty",
         [](std::string_view t) { expect_answer(read_liberty(t, "l")); },
         {"tests/fuzz/seeds/small.lib"},
         {"cell", "pin", "timing", "values", "(", ")", "{", "}", "\""}},
        {"sdf",
         [](std::string_view t) { expect_answer(read_sdf(t, "d")); },
         {"tests/fuzz/seeds/small.sdf"},
         {"(CELL", "IOPATH", "INTERCONNECT", "(0.1:0.2:0.3)", "(COND", "posedge", "SETUPHOLD"}},
        {"sdc",
         sdc_text,
         {"demo/vane/clocks.sdc", "demo/vane/ports.sdc"},
         {"[get_ports ", "{", "}", "\\\n", "\"", "create_clock", "$", ";"}},
        {"pin_sheet", pin_sheet, {"tests/fuzz/seeds/pins.csv"}, {"port", "pin", "note", "\"", "\n", "\t", ";", "# "}},
        {"pin_report",
         [](std::string_view t) { expect_answer(read_pin_report(t, "r")); },
         {"tests/fuzz/seeds/pins.csv"},
         {"signal", "ball", "\"", "\n", "\t", ";", "# "}},
        {"journal_line",
         journal_line,
         {"tests/fuzz/seeds/edit.json"},
         {"\"kind\":\"peg\"", "\"kind\":\"file\"", "\"kind\":\"text\"", "\"before\":null", "\"changes\":[",
          "base64:", "{", "}", "[", "]"}},
        {"map",
         map,
         {"tests/synthesis/designs/alu.sv", "tests/synthesis/designs/enum_machine.sv",
          "tests/synthesis/designs/generate_case.sv", "tests/synthesis/designs/registers_of_array.sv",
          "tests/synthesis/designs/indexed_writes.sv", "demo/vane/vane_hdl.v"},
         {"begin", "end", "always @(posedge clk)", "assign ", "[7:0]", "{", "}", "+:", "<=", "for (", "generate",
          "casez (", "function", "endfunction", "localparam N = ", "`define X ", "65535", "1'bz", "$signed("}},
        {"source",
         run_source,
         {"demo/vane/vane_hdl.v", "tests/fuzz/seeds/formula.v", "tests/synthesis/designs/alu.sv"},
         {"assign ", "always @(posedge osc_20)", "always @*", "[7:0]", "<<", "$signed(", "for (", "65536", "2147483647",
          "$random", "{8{", "function", "+:", "?"}},
        {"source_list",
         source_list,
         {"tests/fuzz/seeds/sources.f"},
         {"-f back.f", "+incdir+", "+define+A=", "a.v", "*.v", "**", "// ", "\"", "-v", "$HOME/"}},
        {"kept_build",
         kept_build,
         {"tests/fuzz/seeds/placed.json", "tests/fuzz/seeds/origin.json"},
         {"\"cells\"", "\"column\"", "\"files\"", "[", "]", "{", "}", "null", "1e999", "-1"}},
        {"svf",
         svf,
         {"tests/fuzz/seeds/small.svf"},
         {"SDR ", "SIR ", "TDI (", "TDO (", "STATE ", "RUNTEST ", ";", "!", "MASK ("}},
        {"vectors", vectors, {"tests/fuzz/seeds/vectors.csv"}, {"time", "=y", "0x", "x", "z", "-", ",", "\n"}},
        {"vcd",
         [](std::string_view t) { expect_answer(vcd::read_vcd(t, "v.vcd")); },
         {"tests/fuzz/seeds/small.vcd"},
         {"$var wire 1 ", "$end", "$scope module ", "$enddefinitions $end", "#", "b", "x", "z", "$dumpvars",
          "99999999"}},
        {"image",
         [](std::string_view t) { expect_answer(read_image(t, "i")); },
         {"tests/fuzz/seeds/small.svf"},
         {"KPIM\x01", "target: "}},
        {"shown", shown, {"demo/vane/clocks.sdc"}, {"\xEF\xBB\xBF", "\xE9", "\xC3", "\r\n", "\xE2\x90"}},
        {"merge", merge, {"demo/vane/clocks.sdc"}, {"\n", "\r\n", "a\nb\n", "\n\n"}},
        {"adapter_v",
         [](std::string_view t) { expect_answer(check_adapter(adapter(), AdapterLanguage::verilog, std::string(t))); },
         {"tests/fuzz/seeds/adapter.v"},
         {"assign", ".y(", "{", "}", "core wrapped (", "1'b0"}},
        {"adapter_vhd",
         [](std::string_view t) { expect_answer(check_adapter(adapter(), AdapterLanguage::vhdl, std::string(t))); },
         {"tests/fuzz/seeds/adapter.vhd"},
         {"port map (", "=>", "<= not", "'0'", "y(0)"}},
    };
    return list;
}

}  // namespace kp::fuzz
