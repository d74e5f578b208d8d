// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/format/table/board_table.hpp"
#include "core/format/table/remarks.hpp"

#include "core/base/disk.hpp"
#include "core/base/text.hpp"
#include "core/format/json/world_json.hpp"

#include <gtest/gtest.h>

namespace kp::table {
namespace {

std::string load_of_table(const std::string& path) {
    return real_disk().read(std::string(KP_SOURCE "/data/") + path).value();
}
const Part& part() {
    static const Part p = read_part(load_of_table("parts/skr23-b256.part.json"), "p").take();
    return p;
}
const StandardTable& standards() {
    static const StandardTable t = read_standards(load_of_table("standards/io.standards.json"), "s").take();
    return t;
}

TEST(Names, RangesAndLists) {
    const auto shown = [](const char* text) {
        const auto names = expand_names(text);
        std::string out;
        if (!names) return std::string("?");
        for (const auto& n : *names) out += (out.empty() ? "" : " ") + n;
        return out;
    };
    EXPECT_EQ(shown("K1..K4"), "K1 K2 K3 K4");
    EXPECT_EQ(shown("D[-9223372036854775808:0]"), "?");
    EXPECT_EQ(shown("D[9223372036854775807:-9223372036854775808]"), "?");
    EXPECT_EQ(shown("K4..K1"), "K4 K3 K2 K1");
    EXPECT_EQ(shown("K1..4"), "K1 K2 K3 K4");
    EXPECT_EQ(shown("D[3:0]"), "D3 D2 D1 D0");
    EXPECT_EQ(shown("D[0..2]"), "D0 D1 D2");
    EXPECT_EQ(shown("A1, B2 C3"), "A1 B2 C3");
    EXPECT_EQ(shown("clk"), "clk");
    EXPECT_EQ(shown("x[3]"), "x[3]");
    EXPECT_EQ(shown("K1..L8"), "?");
    EXPECT_EQ(shown("D[0:99999]"), "?");
    EXPECT_EQ(shown(""), "");
}

TEST(Amounts, UnitsAreRead) {
    EXPECT_DOUBLE_EQ(*amount("4.7k"), 4700);
    EXPECT_DOUBLE_EQ(*amount("4k7"), 4700);
    EXPECT_DOUBLE_EQ(*amount("33R"), 33);
    EXPECT_DOUBLE_EQ(*amount("33 ohm"), 33);
    EXPECT_NEAR(*amount("10 pF"), 1e-11, 1e-20);
    EXPECT_DOUBLE_EQ(*amount("2,2k"), 2200);
    EXPECT_FALSE(amount("much"));
    EXPECT_FALSE(amount("10 apples"));
    EXPECT_DOUBLE_EQ(*length_mm("1000 mil", 1), 25.4);
    EXPECT_DOUBLE_EQ(*length_mm("1000", length_factor("Length [mil]")), 25.4);
    EXPECT_DOUBLE_EQ(*length_mm("2,5 cm", 1), 25);
    EXPECT_FALSE(length_mm("-3", 1));
}

TEST(Grid, FindsDelimiterHeadingAndRowsNotUsed) {
    const auto tab = read_grid("Peripheral\tSignal\tPin\nLED\tled0\tA2\n# LED\tled1\tA3\n\n", "t").take();
    EXPECT_EQ(tab.delimiter, '\t');
    EXPECT_TRUE(tab.has_header);
    ASSERT_EQ(tab.rows.size(), 2u);
    EXPECT_TRUE(tab.rows[1].unused);
    EXPECT_EQ(tab.rows[1].cells[0], "LED");
    EXPECT_EQ(tab.rows[1].line, 3);
    EXPECT_EQ(read_grid("a;b;c\n1;2;3\n", "t").value().delimiter, ';');
    EXPECT_EQ(read_grid("\"x, y\",b\n1,2\n3,4\n", "t").value().delimiter, ',');
    EXPECT_FALSE(read_grid("A1,led0\nA2,led1\n", "t").value().has_header);
    EXPECT_FALSE(read_grid("\n\n", "t"));
    std::string long_table;
    for (int i = 0; i < 20005; ++i) long_table += "a,b\n";
    EXPECT_FALSE(read_grid(long_table, "t"));
}

TEST(Grid, RowsAboveTheHeadingsAreTitles) {
    const auto grid =
        read_grid("Wires of the main board,,,\nrev. B,3 May,,\n\nDevice,Signal,Pin,Remarks\nD1,a,K1,\n", "t.csv")
            .take();
    EXPECT_TRUE(grid.has_header);
    EXPECT_EQ(grid.header[1], "Signal");
    EXPECT_EQ(grid.heading_line, 4);
    ASSERT_EQ(grid.titles.size(), 2u);
    EXPECT_EQ(grid.rows.size(), 1u);
    EXPECT_EQ(grid.title_words(),
              "The rows above, such as 'Wires of the main board' are taken for a title; the columns "
              "are named in line 4.");
    // Data under no heading at all are not titles.
    EXPECT_FALSE(read_grid("D1,,,\nD1,a,K1,2\nD1,b,K2,3\n", "t.csv").value().has_header);
    EXPECT_EQ(read_grid("D1,,,\nD1,a,K1,2\nD1,b,K2,3\n", "t.csv").value().rows.size(), 3u);
    EXPECT_EQ(read_grid("Signal,Pin\na,K1\n", "t.csv").value().title_words(), "");
    // Who says which line it is has said it.
    EXPECT_EQ(read_grid("Main board,,\nDevice,Signal,Pin\nD1,a,K1\n", "t.csv", 1).value().rows.size(), 2u);
}

TEST(Remarks, SayWhatTheySay) {
    const auto said = [](const char* text) { return list_names(read_remark(text).said, 9); };
    EXPECT_EQ(said("24,000 MHz \xC2\xB1"
                   "50 ppm"),
              "24 MHz and 50 ppm");
    EXPECT_EQ(said("32.768 kHz +-20ppm"), "0.032768 MHz and 20 ppm");
    EXPECT_EQ(said("t_co 18 ns"), "a clock-to-output time of 18 ns");
    EXPECT_EQ(said("tsu = 4.5 ns, th = 500 ps"), "a setup time of 4.5 ns and a hold time of 0.5 ns");
    EXPECT_EQ(said("pull-up 4k7"), "a pull-up of 4700 ohm");
    EXPECT_EQ(said("10k pull-down, 33R"), "a pull-down of 10000 ohm and a series resistor of 33 ohm");
    EXPECT_EQ(said("33R, pull-up 4k7"), "a series resistor of 33 ohm and a pull-up of 4700 ohm");
    EXPECT_EQ(said("470R"), "a series resistor of 470 ohm");
    EXPECT_EQ(said("R12 470R in series, 15 mA"), "a series resistor of 470 ohm and 15 mA");
    EXPECT_EQ(said("red, low active"), "active low");
    for (const char* none : {"", "rev 3", "J5 pin 12", "2 lamps", "see page 4", "5 V tolerant", "3 ns", "1k2x", "4 MB"})
        EXPECT_EQ(said(none), "") << none;
    std::string cell = "K4 (bank 3)";
    EXPECT_EQ(take_tail(cell), "bank 3");
    EXPECT_EQ(cell, "K4");
    for (const char* whole : {"D(3)", "D(7 downto 0)", "(spare)", "a", ""}) {
        cell = whole;
        EXPECT_EQ(take_tail(cell), "");
        EXPECT_EQ(cell, whole);
    }
}

TEST(Draft, RemarksAndTailsAreProposedAsWhatTheySay) {
    const auto grid = read_grid(
                          "Board,,,,,\nRef,Signal,Pin,Series,Frequency,Remarks\n"
                          "LED1 (red),a,B3,,,\"470R, 15 mA, active low\"\n"
                          "OSC1,out,C8 (clock pin),,\"24,000 MHz \xC2\xB1"
                          "50 ppm\",\n"
                          "U7,q (data),K2,33R,,\"t_co 18 ns; pull-up 4k7; 100R; up to 50 MHz\"\n",
                          "t.csv")
                          .take();
    const auto mapping = guess_mapping(grid, part());
    EXPECT_EQ(mapping.columns[5], Role::remarks);
    const auto draft = draft_board(grid, mapping, part(), standards(), "own", "X");
    std::string told;
    for (const auto& t : draft.troubles)
        if (t.severity != Severity::note) told += t.text + "\n";
    EXPECT_EQ(told, "The remark says a series resistor of 100 ohm and the column 33 ohm; the column counts.\n");
    const auto lamp = draft.board.at_terminal("LED1.a"), data = draft.board.at_terminal("U7.q");
    ASSERT_TRUE(lamp && data);
    EXPECT_EQ(lamp.net->series_ohm, 470);
    EXPECT_EQ(lamp.terminal->current_ma, 15);
    EXPECT_TRUE(lamp.terminal->active_low);
    EXPECT_EQ(data.net->series_ohm, 33);
    EXPECT_EQ(data.net->pull, "up");
    EXPECT_EQ(data.net->pull_ohm, 4700);
    EXPECT_EQ(data.terminal->out_max_ns, 18);
    ASSERT_EQ(draft.board.oscillators.size(), 1u);  // a rate beside a part that is not an oscillator makes none
    EXPECT_EQ(draft.board.oscillators[0].mhz, 24);
    EXPECT_EQ(draft.board.oscillators[0].ppm, 50);
}

TEST(Mapping, IsGuessedFromHeadingsAndFromCells) {
    const auto words = [](const Grid& g) {
        std::string out;
        for (const auto r : guess_mapping(g, part()).columns) out += std::string(name_of(r)) + "|";
        return out;
    };
    EXPECT_EQ(
        words(
            read_grid(
                "Component\tNet name\tFPGA Ball\tDir\tI/O Standard\tLength (mm)\tRemark\nU2\trxd\tB3\tin\t3.3\t20\tx\n",
                "t")
                .value()),
        "board part|terminal|FPGA pin|direction|I/O standard|trace length|remarks|");
    // No heading at all: pins are known by the part, directions by their words, terminals by being different.
    EXPECT_EQ(words(read_grid("led0,out,B3\nled1,out,B4\nkey0,in,B5\n", "t").value()), "terminal|direction|FPGA pin|");
    // A column called "pin" that holds something else gives way to the one that holds pins.
    EXPECT_EQ(words(read_grid("Pin,Signal,Where\n1,led0,B3\n2,led1,B4\n", "t").value()), "not used|terminal|FPGA pin|");
}

TEST(Mapping, IsKeptAsALine) {
    Mapping m{{Role::pin, Role::ignored, Role::terminal}, false};
    EXPECT_EQ(mapping_from_line(mapping_line(m)), m);
    m.comment = "!";
    m.dress = {{"ball-", ""}, {}, {"", "mil"}};
    EXPECT_EQ(mapping_from_line(mapping_line(m)), m);
    EXPECT_FALSE(mapping_from_line("nonsense"));
    EXPECT_FALSE(mapping_from_line("fpga;unheard of"));
}

BoardDraft draft(const std::string& text, bool from_fpga = true) {
    const auto grid = read_grid(text, "t").take();
    auto mapping = guess_mapping(grid, part());
    mapping.seen_from_fpga = from_fpga;
    return draft_board(grid, mapping, part(), standards(), "mine", "SKR23-B256-MN");
}

TEST(Draft, TellsWhatIsWrongPerCell) {
    struct Case {
        const char *row, *wanted;
        bool wired;
    };
    for (const auto& c : {
             Case{"U2,rxd,Q3,in,3.3", "The part has no pin Q3.", false},
             Case{"U2,rxd,G7,in,3.3", "Pin G7 is", false},
             Case{"U2,rxd,B4,sideways,3.3", "'sideways' is not a direction", false},
             Case{"U2,D[7:0],B3..B4,in,3.3", "8 terminals and 2 pins; a row needs", false},
             Case{"U2,,B4,in,3.3", "The terminal has no name", false},
             Case{"U2,rxd,,in,3.3", "No pin is given", false},
             Case{"U2,rxd,B4,in,LVCMOS 9.9 V", "is not an I/O standard of the table", true},
             Case{"U2,rxd,B3,in,3.3", "Pin B3 stands in line 2 already", false},
             Case{"U2,txd,B4,in,3.3", "The terminal txd of U2 is there already", false},
         }) {
        const auto d = draft(std::string("Part,Signal,FPGA pin,Dir,Standard\nU2,txd,B3,out,3.3\n") + c.row + "\n");
        ASSERT_FALSE(d.troubles.empty()) << c.row;
        EXPECT_NE(d.troubles[0].text.find(c.wanted), std::string::npos) << d.troubles[0].text;
        EXPECT_EQ(d.troubles[0].row, 1u);
        EXPECT_EQ(d.wired, c.wired ? 2u : 1u) << c.row;
    }
}

TEST(Draft, PrefixesUnitsAndCommentMarksAreThoseOfItsColumns) {
    const auto grid = read_grid(
                          "Part,Signal,FPGA pin,Dir,Standard,Trace,Pull ohm\n"
                          "U2,NET_txd,site-B3,out,3.3,900,4.7\n!U2,NET_rts,site-B5,out,3.3,900,4.7\n"
                          "U2,rxd,B4,in,3.3,10 mm,10k\n",
                          "t")
                          .take();
    auto mapping = guess_mapping(grid, part());
    EXPECT_EQ(draft_board(grid, mapping, part(), standards(), "mine", "SKR23-B256-MN").wired, 1u);
    mapping.comment = "!";
    mapping.dress.resize(7);
    mapping.dress[1].prefix = "net_";
    mapping.dress[2].prefix = "site-";
    mapping.dress[5].unit = "mil";
    mapping.dress[6].unit = "k";
    const auto d = draft_board(grid, mapping, part(), standards(), "mine", "SKR23-B256-MN");
    EXPECT_EQ(d.wired, 2u);
    EXPECT_EQ(d.unused, 1u);
    const auto txd = d.board.at_terminal("U2.txd");
    ASSERT_TRUE(txd);
    EXPECT_EQ(txd.net->pin, "B3");
    EXPECT_NEAR(txd.net->trace_mm, 900 * 0.0254, 1e-9);
    EXPECT_NEAR(txd.net->pull_ohm, 4700, 1e-6);
    // What carries a unit of its own keeps it.
    EXPECT_NEAR(d.board.at_terminal("U2.rxd").net->trace_mm, 10, 1e-9);
    EXPECT_NEAR(d.board.at_terminal("U2.rxd").net->pull_ohm, 10000, 1e-6);
}

/// A package with numbered pins, where a column of rates would do for a column of pins.
TEST(Mapping, ARateIsNoPin) {
    Part numbered;
    for (int i = 1; i <= 48; ++i) {
        Pin pin;
        pin.name = std::to_string(i);
        pin.kind = PinKind::io;
        numbered.by_name[pin.name] = numbered.pins.size();
        numbered.pins.push_back(pin);
    }
    for (const std::string heading : {"Clock,Net,Where", "MHz,Net,Where", "Remark,Net,Where"}) {
        const bool says_unit = heading.starts_with("Remark");
        const std::string unit = says_unit ? " MHz" : "";
        const auto grid =
            read_grid(heading + "\n12" + unit + ",osc,7\n25" + unit + ",eth,8\n48" + unit + ",usb,9\n", "t").take();
        EXPECT_EQ(guess_mapping(grid, numbered).column(Role::pin), 2) << heading;
    }
}

TEST(Draft, DirectionsDependOnWhereTheyAreSeenFrom) {
    const std::string text = "Part,Signal,FPGA pin,Dir,Standard\nU2,txd,B3,out,3.3\nU2,rxd,B4,in,3.3\n";
    EXPECT_EQ(draft(text).board.at_terminal("U2.txd").terminal->direction, TerminalDirection::reads);
    EXPECT_EQ(draft(text, false).board.at_terminal("U2.txd").terminal->direction, TerminalDirection::drives);
}

/// Saltmarsh as a table that somebody would paste, and the board that comes out of it.
TEST(Draft, ABoardPastedFromASpreadsheetHasAllItsWires) {
    const auto board = read_board(load_of_table("boards/saltmarsh.board.json"), "b").take();
    std::string text =
        "Saltmarsh revision C\nComponent\tSignal\tFPGA ball\tDir\tI/O standard\tTrace (mil)\tSeries R\tPull-up\n";
    size_t rows = 0;
    for (const auto& net : board.nets) {
        const auto at = board.at_terminal(net.terminal);
        const char* way = at.terminal->direction == TerminalDirection::drives  ? "in"
                          : at.terminal->direction == TerminalDirection::reads ? "out"
                                                                               : "inout";
        const std::string ohm = net.pull == "up" ? shortest(net.pull_ohm / 1000) + "k" : "";
        text += at.part->ref + "\t" + at.terminal->name + "\t" + lower(net.pin) + "\t" + way + "\t" +
                at.terminal->standard + "\t" + shortest(net.trace_mm / 0.0254) + "\t" +
                (net.series_ohm > 0 ? shortest(net.series_ohm) : "") + "\t" + ohm + "\n";
        // A spreadsheet of 300 lines has remarks and unused rows in between.
        text += "# spare\tnc" + std::to_string(++rows) + "\t\t\t\t\t\t\n";
    }
    const auto grid = read_grid(text.substr(text.find('\n') + 1), "t").take();
    EXPECT_GE(grid.rows.size(), 290u);
    const auto d = draft_board(grid, guess_mapping(grid, part()), part(), standards(), "mine", board.part);
    for (const auto& t : d.troubles) ADD_FAILURE() << grid.rows[t.row].line << ": " << t.text;
    EXPECT_EQ(d.wired, board.nets.size());
    EXPECT_EQ(d.unused, board.nets.size());
    for (const auto& net : board.nets) {
        const auto at = d.board.at_terminal(net.terminal);
        ASSERT_NE(at.net, nullptr) << net.terminal;
        EXPECT_EQ(at.net->pin, net.pin);
        EXPECT_NEAR(at.net->trace_mm, net.trace_mm, 1e-9);
        EXPECT_EQ(at.net->series_ohm, net.series_ohm);
        EXPECT_EQ(at.terminal->direction, board.at_terminal(net.terminal).terminal->direction);
        EXPECT_EQ(at.terminal->standard, board.at_terminal(net.terminal).terminal->standard);
    }
    for (const auto& rail : board.rails) EXPECT_EQ(d.board.rail(rail.bank), rail.volts);
    // It is a board file like any other, and its parts do not lie on each other.
    const auto back = read_board(write_board(d.board), "made");
    ASSERT_TRUE(back) << back.first().sentence();
    for (const auto& a : back.value().parts)
        for (const auto& b : back.value().parts)
            if (a.ref < b.ref)
                EXPECT_FALSE(a.x < b.x + b.w && b.x < a.x + a.w && a.y < b.y + b.h && b.y < a.y + a.h)
                    << a.ref << " and " << b.ref;
}

PartDraft pins(const std::string& text) {
    const auto grid = read_grid(text, "t").take();
    return draft_part(grid, guess_pin_mapping(grid), standards(), "MINE");
}

TEST(PinList, KindsBanksAndPairsAreUnderstood) {
    const auto d = pins(
        "Pin,Function,Bank,Kind\nA1,IO_3P,bank 2,I/O\nA2,IO_3N,bank "
        "2,I/O\nB1,GND,,power\nB2,VIO_2,2,power\nC1,TCK,,dedicated\nC2,CLK_IN,1,clk\n# D1,spare,1,io\n\"D1, "
        "D2\",GND,,\n");
    for (const auto& t : d.troubles) ADD_FAILURE() << t.text;
    EXPECT_EQ(d.pins, 8u);
    EXPECT_EQ(d.unused, 1u);
    const auto& p = d.part;
    EXPECT_EQ(p.banks.size(), 2u);
    EXPECT_EQ(p.pin("A1")->pair, "A2");
    EXPECT_TRUE(p.pin("A1")->pair_true);
    EXPECT_EQ(p.pin("B1")->kind, PinKind::ground);
    EXPECT_EQ(p.pin("B2")->kind, PinKind::bank_supply);
    EXPECT_EQ(p.pin("C1")->kind, PinKind::configuration);
    EXPECT_EQ(p.pin("C2")->kind, PinKind::clock);
    EXPECT_TRUE(p.package.ball_grid);
    EXPECT_EQ(p.package.rows, 4);
    const auto back = read_part(write_part(p), "made");
    ASSERT_TRUE(back) << back.first().sentence();
    EXPECT_EQ(write_part(back.value()), write_part(p));
}

TEST(PinList, TellsWhatIsWrongPerCell) {
    EXPECT_EQ(pins("Pin,Function\nA1,x\nA1,y\n").troubles.at(0).text, "Pin A1 is there twice.");
    EXPECT_EQ(pins("Pin,Function\nA1..B3,x\n").troubles.at(0).text,
              "This range of pins cannot be read; write A1..A8 or list the pins.");
    EXPECT_NE(pins("Pin,Function,Kind\nA1,x,odd\n").troubles.at(0).text.find("'odd' is not a kind of pin"),
              std::string::npos);
    EXPECT_NE(pins("Pin,Function,Bank\nleft,x,1\nright,y,1\n").troubles.at(0).text.find("neither numbers nor balls"),
              std::string::npos);
    EXPECT_NE(pins("Pin,Function,Bank,Pair\nA1,x,1,A9\n").troubles.at(0).text.find("paired with A9"),
              std::string::npos);
}

TEST(PinList, KindsMayBeWrittenWithBlanksAndHyphens) {
    const auto p =
        pins("Pin,Function,Kind,Bank\nA1,a,IO supply,1\nA2,b,core-supply,\nA3,c,bank supply,1\nA4,d,i/o,1\n");
    ASSERT_TRUE(p.troubles.empty()) << p.troubles[0].text;
    EXPECT_EQ(p.part.pin("A1")->kind, PinKind::bank_supply);
    EXPECT_EQ(p.part.pin("A2")->kind, PinKind::supply);
    EXPECT_EQ(p.part.pin("A3")->kind, PinKind::bank_supply);
}

/// The shipped parts as pin lists, and what comes back.
TEST(PinList, AShippedPartComesBackFromItsPinList) {
    for (const char* file : {"parts/skr11-q144.part.json", "parts/skr44l-b529.part.json"}) {
        const auto part = read_part(load_of_table(file), file).take();
        std::string text = "Ball\tName\tBank\tKind\tPair\n";
        for (const auto& p : part.pins)
            text += p.name + "\t" + (p.function.empty() ? "IO" : p.function) + "\t" + p.bank + "\t" +
                    kp::name_of(p.kind) + "\t" + (p.pair_true ? p.pair : "") + "\n";
        const auto d = pins(text);
        for (const auto& t : d.troubles) ADD_FAILURE() << t.text;
        ASSERT_EQ(d.part.pins.size(), part.pins.size());
        EXPECT_EQ(d.part.banks.size(), part.banks.size());
        for (const auto& p : part.pins) {
            const auto* made = d.part.pin(p.name);
            EXPECT_EQ(made->kind, p.kind) << p.name << " " << p.function;
            EXPECT_EQ(made->bank, p.bank) << p.name;
            EXPECT_EQ(made->pair, p.pair) << p.name;
            EXPECT_EQ(made->pair_true, p.pair_true) << p.name;
            if (part.package.ball_grid)
                EXPECT_EQ(std::pair(made->row, made->column), std::pair(p.row, p.column)) << p.name;
            else
                EXPECT_EQ(std::pair(made->side, made->slot), std::pair(p.side, p.slot)) << p.name;
        }
    }
}

}  // namespace
}  // namespace kp::table
