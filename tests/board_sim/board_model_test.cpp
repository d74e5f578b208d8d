// SPDX-License-Identifier: GPL-3.0-or-later
// Wires, ticks and what is measured on them: by hand, and against counts that follow from the definitions.
#include "tests/board_sim/rig.hpp"

#include "core/board_sim/board_bench.hpp"
#include "core/board_sim/currents.hpp"
#include "core/board_sim/scope.hpp"
#include "core/format/liberty/read.hpp"
#include "core/hdl/verilog/read_netlist.hpp"

#include <fstream>
#include <random>

namespace kp::board_sim {
namespace {

const Library& cells() {
    static const Library library = [] {
        std::ifstream in(KP_SOURCE "/data/cells/skerry.lib");
        std::stringstream text;
        text << in.rdbuf();
        return read_liberty(text.str(), "skerry.lib").take();
    }();
    return library;
}

/// A design between a board with one header, terminals named as the ports.
struct Wired {
    Netlist netlist;
    Board board;
    PegMap pegs;
    std::unique_ptr<BoardModel> model;
    Wired(const std::string& source, std::vector<std::pair<double, std::string>> oscillators = {},
          const std::string& pull = "") {
        const SourceText text{"n.v", source};
        auto read = read_netlist({&text, 1}, "top", cells());
        EXPECT_TRUE(read.ok()) << (read.ok() ? "" : read.first().sentence());
        netlist = read.take();
        BoardPart header;
        header.ref = "H";
        header.kind = "header";
        for (const auto& port : netlist.ports) {
            Terminal t;
            t.name = port.name;
            header.terminals.push_back(t);
            BoardNet net;
            net.pin = "P" + port.name;
            net.terminal = "H." + port.name;
            net.pull = pull;
            board.nets.push_back(net);
            pegs[port.name] = {net.pin, PegState::pegged, "by hand"};
        }
        board.parts.push_back(header);
        for (const auto& [mhz, terminal] : oscillators) {
            Oscillator o;
            o.terminal = terminal;
            o.mhz = mhz;
            board.oscillators.push_back(o);
        }
        make();
    }
    void make() {
        board.index();
        model.reset();
        auto made = BoardModel::make(netlist, cells(), board, pegs);
        ASSERT_TRUE(made.ok()) << made.first().sentence();
        model = made.take();
    }
    std::uint32_t at(const std::string& port) const { return model->terminal("H." + port); }
    Level level(const std::string& port) const { return model->level(at(port)); }
    void set(const std::string& port, Drive d) { model->give(at(port), d); }
};

const char* const two_way = R"(module top(a, e, w, y); input a, e; inout w; output y;
  wire ai, ei, wi;
  SK_PAD_INPUT pa(.PAD(a), .Y(ai)); SK_PAD_INPUT pe(.PAD(e), .Y(ei));
  SK_PAD_TWO_WAY pw(.A(ai), .E(ei), .PAD(w), .Y(wi)); SK_PAD_OUTPUT py(.A(wi), .PAD(y)); endmodule)";

TEST(BoardModel, APadThatIsOffLetsGoAndReadsWhatTheOutsideGives) {
    Wired w(two_way);
    w.set("e", Drive::low);
    EXPECT_EQ(w.level("w"), Level::floating);
    w.set("w", Drive::high);
    EXPECT_EQ(w.level("w"), Level::high);
    EXPECT_EQ(w.level("y"), Level::high);  // read through the pad
    w.set("a", Drive::low);
    w.set("e", Drive::high);
    EXPECT_EQ(w.level("w"), Level::conflict);  // it drives low against high
    ASSERT_EQ(w.model->driver_conflicts().size(), 1u);
    EXPECT_FALSE(w.model->driver_conflicts()[0].design_high);
    w.set("w", Drive::off);
    EXPECT_EQ(w.level("w"), Level::low);
    EXPECT_EQ(w.level("y"), Level::low);
    w.set("w", Drive::low);
    EXPECT_EQ(w.level("w"), Level::low);  // two that agree do not conflict
    EXPECT_TRUE(w.model->driver_conflicts().empty());
}

TEST(BoardModel, APullHoldsWhatNobodyDrives) {
    for (const auto& [pull, level] : {std::pair("up", Level::high), {"down", Level::low}, {"", Level::floating}}) {
        Wired w(two_way, {}, pull);
        w.set("e", Drive::low);
        EXPECT_EQ(w.level("w"), level) << pull;
        w.set("w", level == Level::high ? Drive::low : Drive::high);
        EXPECT_NE(w.level("w"), level) << pull;
        EXPECT_TRUE(w.model->driver_conflicts().empty());
    }
}

TEST(BoardModel, OscillatorsAndPllsTickAtTheirOwnRates) {
    // Rates by the definition of the dividers: 25 MHz * 60 / 15, / 12, / 10, as in the demo profiler.
    Wired w(R"(module top(c, s, x, y, z); input c, s; output x, y, z;
      wire ci, c0, c1, c2; SK_PAD_INPUT pc(.PAD(c), .Y(ci));
      SK_PLL #(.DIVIDE(1), .MULTIPLY(60), .DIVIDE0(15), .DIVIDE1(12), .DIVIDE2(10))
        pll(.CKI(ci), .CK0(c0), .CK1(c1), .CK2(c2));
      SK_PAD_OUTPUT px(.A(c0), .PAD(x)); SK_PAD_OUTPUT py(.A(c1), .PAD(y));
      SK_PAD_OUTPUT pz(.A(c2), .PAD(z)); endmodule)",
            {{25, "H.c"}, {32.768e-3, "H.s"}});
    for (const char* port : {"c", "s", "x", "y", "z"}) w.model->record(w.at(port));
    w.model->run_until(1 * millisecond);
    const auto rises = [&](const char* port) {
        const auto& kept = w.model->edges(w.at(port));
        return measure(std::vector<Edge>(kept.begin(), kept.end()), 0, w.model->now());
    };
    EXPECT_EQ(rises("c").rises, 25'000u);
    EXPECT_NEAR(static_cast<double>(rises("s").rises), 32.768, 1);  // 32.768 kHz, the rate of watch crystals
    EXPECT_NEAR(rises("x").hz, 100e6, 1);
    EXPECT_NEAR(rises("y").hz, 125e6, 1);
    EXPECT_NEAR(rises("z").hz, 150e6, 1);
    EXPECT_NEAR(rises("z").duty, 0.5, 1e-3);
    EXPECT_EQ(w.model->rises(), 25'000u);
}

TEST(BoardModel, ManySetsOfDriversAgreeWithTheDefinition) {
    // Three terminals and a pad on one wire, all ways to drive it: a wire is what its drivers agree on, else nobody
    // can say; without drivers it is what its pull makes of it.
    for (const char* pull : {"", "up", "down"}) {
        Wired w(two_way, {}, pull);
        for (int more = 0; more < 2; ++more) {
            BoardPart other;
            other.ref = "X" + std::to_string(more);
            other.kind = "thing";
            other.terminals.emplace_back();
            other.terminals[0].name = "w";
            w.board.parts.push_back(other);
            BoardNet net;
            net.pin = "Pw";
            net.terminal = other.ref + ".w";
            net.pull = pull;
            w.board.nets.push_back(net);
        }
        w.make();
        for (int way = 0; way < 81; ++way) {
            const int pick[4] = {way % 3, way / 3 % 3, way / 9 % 3, way / 27};
            static const Drive drives[] = {Drive::off, Drive::low, Drive::high};
            w.set("a", pick[3] == 2 ? Drive::high : Drive::low);
            w.set("e", pick[3] ? Drive::high : Drive::low);
            w.set("w", drives[pick[0]]);
            w.model->give(w.model->terminal("X0.w"), drives[pick[1]]);
            w.model->give(w.model->terminal("X1.w"), drives[pick[2]]);
            const bool low = std::count(pick, pick + 4, 1), high = std::count(pick, pick + 4, 2);
            const auto rests = *pull == 'u' ? Level::high : *pull == 'd' ? Level::low : Level::floating;
            const auto wanted = low && high ? Level::conflict : low ? Level::low : high ? Level::high : rests;
            EXPECT_EQ(w.level("w"), wanted) << way << " " << pull;
        }
    }
}

TEST(BoardModel, TheBoundaryRegisterTakesThePinFromTheDesign) {
    Wired w(two_way);
    w.set("a", Drive::low);
    w.set("e", Drive::high);
    EXPECT_EQ(w.level("w"), Level::low);
    w.model->drive_pin("Pw", Drive::high);  // IEEE 1149.1, EXTEST: the cell, not the design, drives the pin
    EXPECT_EQ(w.level("w"), Level::high);
    EXPECT_EQ(w.model->level_at_pin("Pw"), Level::high);
    w.set("w", Drive::low);
    EXPECT_EQ(w.level("w"), Level::conflict);
    w.set("w", Drive::off);
    w.model->drive_pin("Pw", Drive::off);
    EXPECT_EQ(w.level("w"), Level::low);
    w.model->drive_pin("nowhere", Drive::high);
    EXPECT_EQ(w.model->level_at_pin("nowhere"), Level::floating);
}

TEST(Currents, FollowFromLevelsDrivesAndResistors) {
    // Ohm's law by hand: VOL 0.4 V at 8 mA is 50 ohm, (3.3 - 2.9) V at 8 mA is 50 ohm, 22 ohm between them:
    // 3.3 V / 122 ohm = 27.05 mA. With 4 mA chosen the pad has 100 ohm: 3.3 / 172 = 19.19 mA.
    IoStandard s;
    s.name = "S";
    s.supply = 3.3;
    s.vol = 0.4;
    s.voh = 2.9;
    EXPECT_NEAR(output_ohm(s, 8, false), 50, 1e-9);
    EXPECT_NEAR(output_ohm(s, 4, true), 100, 1e-9);
    Wired w(two_way);
    w.board.nets[2].series_ohm = 22;
    w.make();
    w.set("a", Drive::low);
    w.set("e", Drive::high);
    w.set("w", Drive::high);
    ASSERT_EQ(w.model->driver_conflicts().size(), 1u);
    StandardTable model;
    model.rows.push_back(s);
    std::map<std::string, PortAttributes> attributes;
    attributes["w"].standard = "S";
    const Part part;
    auto c = current_of(*w.model, w.model->driver_conflicts()[0], w.netlist, part, model, attributes);
    EXPECT_NEAR(c.ma, 3300.0 / 122, 1e-6);
    EXPECT_TRUE(c.assumed);
    EXPECT_NE(c.sentence().find("27.0 mA"), std::string::npos) << c.sentence();
    attributes["w"].drive = "4";
    c = current_of(*w.model, w.model->driver_conflicts()[0], w.netlist, part, model, attributes);
    EXPECT_NEAR(c.ma, 3300.0 / 172, 1e-6);
}

std::vector<Edge> square(Time period, Time high, int periods, Time first = 0) {
    std::vector<Edge> out{{0, Level::low}};
    for (int k = 0; k < periods; ++k) {
        out.push_back({first + k * period + period / 4, Level::high});
        out.push_back({first + k * period + period / 4 + high, Level::low});
    }
    return out;
}

TEST(Edges, RateDutyAndSkew) {
    const auto a = square(1000 * nanosecond, 250 * nanosecond, 100);
    const auto m = measure(a, 0, 200 * microsecond);
    EXPECT_NEAR(m.hz, 1e6, 1e-3);
    EXPECT_NEAR(m.duty, 0.25, 1e-9);
    EXPECT_EQ(m.shortest_high, 250 * nanosecond);
    EXPECT_EQ(m.shortest_low, 750 * nanosecond);
    const auto b = square(1000 * nanosecond, 500 * nanosecond, 100, 3 * nanosecond);
    const auto s = skew(a, b, 0, 200 * microsecond);
    EXPECT_EQ(s.pairs, 100u);
    EXPECT_EQ(s.mean, 3 * nanosecond);
    EXPECT_EQ(skew(b, a, 0, 200 * microsecond).mean, -3 * nanosecond);
    EXPECT_EQ(measure({}, 0, second).hz, 0.0);
    EXPECT_EQ(skew(a, {}, 0, second).pairs, 0u);
    EXPECT_EQ(level_at(a, 250 * nanosecond), Level::high);
    EXPECT_EQ(level_at(a, 250 * nanosecond - 1), Level::low);
    EXPECT_EQ(level_at({}, 5), Level::floating);
}

TEST(Edges, AHeartbeatIsCountedInBlinks) {
    const auto beat = measure(square(second / 2, second / 4, 10), 0, 10 * second);  // 2 blinks, 4 toggles a second
    EXPECT_NE(beat_verdict(2, beat).find("as expected, +0 ppm"), std::string::npos);
    EXPECT_NE(beat_verdict(4, beat).find("toggles at the frequency"), std::string::npos);
    EXPECT_NE(beat_verdict(1, beat).find("twice as often"), std::string::npos);
    EXPECT_NE(beat_verdict(5, beat).find("0.4 times"), std::string::npos);
    EXPECT_EQ(beat_verdict(2, measure({}, 0, second)), "no whole blink yet");
    EXPECT_EQ(beat_verdict(0, beat), "nothing is expected");
}

TEST(Edges, SpiInAllFourModes) {
    std::mt19937 random(5);
    for (unsigned mode = 0; mode < 4; ++mode) {
        const bool rest = mode & 2, second_edge = mode & 1;
        std::vector<Edge> clock{{0, rest ? Level::high : Level::low}}, data{{0, Level::low}},
            select{{0, Level::high}, {microsecond, Level::low}};
        std::vector<unsigned> sent;
        Time t = 2 * microsecond;
        const auto to = [](bool v) { return v ? Level::high : Level::low; };
        for (int byte = 0; byte < 20; ++byte) {
            sent.push_back(random() & 0xFF);
            for (int k = 7; k >= 0; --k) {
                const bool bit = (sent.back() >> k) & 1;
                // Data are set half a clock before the edge at which they are taken.
                if (!second_edge) data.push_back({t, to(bit)});
                clock.push_back({t + 500 * nanosecond, to(!rest)});
                if (second_edge) data.push_back({t + 500 * nanosecond, to(bit)});
                clock.push_back({t + microsecond, to(rest)});
                t += microsecond;
            }
        }
        const auto words = read_spi(clock, data, select, mode, t + microsecond);
        ASSERT_EQ(words.size(), sent.size()) << mode;
        for (size_t i = 0; i < sent.size(); ++i) EXPECT_EQ(words[i].value, sent[i]) << mode;
        select.push_back({t - 3500 * nanosecond, Level::high});
        select.push_back({t - 3200 * nanosecond, Level::low});
        const auto cut = read_spi(clock, data, select, mode, t + microsecond);
        EXPECT_TRUE(std::any_of(cut.begin(), cut.end(), [](const BusWord& w) { return !w.good; })) << mode;
    }
}

TEST(Edges, SerialBytesAtRandomTimesComeBack) {
    std::mt19937 random(7);
    std::vector<Edge> line{{0, Level::high}};
    std::vector<unsigned> sent;
    const Time bit = second / 38400;
    Time t = bit;
    for (int k = 0; k < 300; ++k) {
        sent.push_back(random() & 0xFF);
        unsigned frame = (sent.back() | 0x100u) << 1;
        for (int b = 0; b < 10; ++b, frame >>= 1) {
            const auto level = frame & 1 ? Level::high : Level::low;
            if (line.back().level != level) line.push_back({t, level});
            t += bit;
        }
        t += static_cast<Time>(random() % 3) * bit / 2;
    }
    const auto read = read_serial(line, bit, t + bit);
    ASSERT_EQ(read.size(), sent.size());
    for (size_t i = 0; i < sent.size(); ++i) EXPECT_EQ(read[i].value, sent[i]) << i;
    EXPECT_NEAR(static_cast<double>(bit_length(line)), static_cast<double>(bit), 1);
    // At 3 % off it still reads (the sampling point of the last bit moves by 0.3 bits); at 8 % it does not.
    EXPECT_EQ(read_serial(line, bit * 103 / 100, t + bit).at(0).value, sent[0]);
}

TEST(Scope, LooksWhenItsEdgeComes) {
    Rig rig("sounder", "tone<");
    Scope scope;
    scope.choose(*rig.model, 0, "T.tone");
    scope.set_span(100 * microsecond);
    scope.set({0, true, Scope::once});
    scope.arm(rig.model->now());
    rig.run(millisecond);
    EXPECT_FALSE(scope.look(*rig.model));
    EXPECT_TRUE(scope.waits());
    const auto at = rig.model->now();
    rig.set("tone", true);
    rig.run(10 * microsecond);
    EXPECT_FALSE(scope.look(*rig.model));  // what follows is not there yet
    rig.set("tone", false);
    rig.run(200 * microsecond);
    ASSERT_TRUE(scope.look(*rig.model));
    EXPECT_EQ(scope.capture().trigger, at);
    EXPECT_EQ(scope.capture().from, at - 10 * microsecond);
    ASSERT_EQ(scope.capture().edges[0].size(), 3u);  // low before, up, down
    EXPECT_FALSE(scope.waits());
    rig.set("tone", true);
    rig.run(millisecond);
    EXPECT_FALSE(scope.look(*rig.model));  // once is once
    scope.set({0, false, Scope::repeated});
    rig.set("tone", false);
    const auto fell = rig.model->now();
    rig.run(millisecond);
    ASSERT_TRUE(scope.look(*rig.model));
    EXPECT_EQ(scope.capture().trigger, fell);
    EXPECT_FALSE(scope.look(*rig.model));  // nothing newer
    scope.set({0, true, Scope::rolling});
    ASSERT_TRUE(scope.look(*rig.model));
    EXPECT_EQ(scope.capture().to - scope.capture().from, 100 * microsecond);
}

}  // namespace
}  // namespace kp::board_sim
