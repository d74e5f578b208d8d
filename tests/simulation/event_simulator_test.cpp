// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/simulation/vectors.hpp"
#include "core/format/liberty/read.hpp"
#include "core/format/sdf/read.hpp"
#include "core/hdl/verilog/read_netlist.hpp"
#include "tests/synthesis/same.hpp"

#include <random>

namespace kp::simulation {
namespace {

using synthesis::file_text;
using synthesis::shipped_library;

/// A netlist, its circuit, and a simulator of it.
struct Bench {
    Netlist netlist;
    Circuit circuit;
    std::optional<EventSimulator> simulator;
    std::vector<PortGroup> groups;

    explicit Bench(const std::string& text, const std::string& sdf = {}, const Library& library = shipped_library()) {
        const SourceText source{"n.v", text};
        auto read = read_netlist({&source, 1}, "top", library);
        EXPECT_TRUE(read.ok()) << (read.ok() ? "" : read.first().sentence()) << text;
        netlist = read.take();
        auto made = Circuit::of(netlist, library);
        EXPECT_TRUE(made.ok()) << (made.ok() ? "" : made.first().sentence());
        circuit = made.take();
        if (!sdf.empty()) {
            const auto delays = read_sdf(sdf, "n.sdf");
            EXPECT_TRUE(delays.ok()) << (delays.ok() ? "" : delays.first().sentence());
            EXPECT_TRUE(circuit.annotate(delays.value()).empty());
        }
        simulator.emplace(circuit);
        groups = groups_of(netlist);
    }
    void set(const std::string& port, char value) {
        for (const auto& g : groups)
            if (g.name == port)
                simulator->set(g.ports[0], value == '0'   ? Bit::zero
                                           : value == '1' ? Bit::one
                                           : value == 'z' ? Bit::z
                                                          : Bit::x);
    }
    void until(double ns) { EXPECT_FALSE(simulator->run_until(time_of(ns)).has_value()); }
    char get(const std::string& port) const {
        for (const auto& g : groups)
            if (g.name == port) return letter(simulator->port(g.ports[0]));
        return '?';
    }
};

/// The same netlist, simulated as simply as it can be: everything again and again until nothing changes, every function
/// by trying all ways to fill in what is unknown. Shares nothing with the simulator but the netlist.
class Naive {
public:
    Naive(const Netlist& n, const Library& library)
        : n_(n), library_(library), value_(n.net_names.size(), 'z'), given_(n.ports.size(), 'x') {
        for (std::uint32_t c = 0; c < n.cells.size(); ++c) state_[c] = '0';
        for (std::uint32_t p = 0; p < n.ports.size(); ++p)
            if (n.ports[p].direction == Direction::inout) given_[p] = 'z';
        settle();
        // Clears and presets work before anything moves.
        for (int round = 0; round < 20; ++round) {
            for (std::uint32_t c = 0; c < n.cells.size(); ++c)
                if (n.type_of(c).starts_with("SK_REGISTER")) state_[c] = after(c, n.type_of(c), 'x', 'x', value_);
            settle();
        }
        for (std::uint32_t c = 0; c < n.cells.size(); ++c) clock_[c] = pin(c, "CK");
    }

    void row(const std::vector<char>& given) {
        const auto before = value_;
        given_ = given;
        settle();
        for (int round = 0; round < 20; ++round) {
            bool any = false;
            for (std::uint32_t c = 0; c < n_.cells.size(); ++c) {
                const auto& type = n_.type_of(c);
                if (!type.starts_with("SK_REGISTER")) continue;
                const char now = pin(c, "CK"), last = clock_[c];
                clock_[c] = now;
                const auto next = after(c, type, last, now, before);
                any |= next != state_[c];
                state_[c] = next;
            }
            settle();
            if (!any) return;
        }
    }
    char port(std::uint32_t p) const { return value_[n_.ports[p].net]; }

private:
    std::uint32_t net(std::uint32_t c, const std::string& name) const {
        for (auto p = n_.cells[c].first_pin; p < n_.cells[c].first_pin + n_.cells[c].pin_count; ++p)
            if (n_.pin_names[n_.pins[p].name] == name) return n_.pins[p].net;
        return no_id;
    }
    char pin(std::uint32_t c, const std::string& name) const { return pin(c, name, value_); }
    char pin(std::uint32_t c, const std::string& name, const std::vector<char>& values) const {
        const auto at = net(c, name);
        const char v = at == no_id ? 'x' : values[at];
        return v == 'z' ? 'x' : v;
    }
    static char both(char a, char b) { return a == b ? a : 'x'; }

    char after(std::uint32_t c, const std::string& type, char last, char now, const std::vector<char>& before) const {
        const auto kind = type.substr(6);
        const bool falls = kind.find("FALL") != std::string::npos;
        const char low = falls ? '1' : '0', high = falls ? '0' : '1';
        char state = state_.at(c);
        const char d = pin(c, "D", before), e = kind.find("ENABLE") != std::string::npos ? pin(c, "E", before) : '1';
        const char taken = e == '1' ? d : e == '0' ? state : both(d, state);
        if (last == low && now == high)
            state = taken;
        else if ((last == low && now == 'x') || (last == 'x' && now == high))
            state = both(state, taken);
        for (const auto& [name, to] : {std::pair("CLR", '0'), {"PRE", '1'}}) {
            if (net(c, name) == no_id) continue;
            const char r = pin(c, name);
            state = r == '1' ? to : r == '0' ? state : both(state, to);
        }
        return state;
    }

    char look(std::uint32_t c, const std::string& type) const {
        const int n = type.back() - '0';
        std::string text;
        for (const auto& p : n_.parameters)
            if (p.cell == c) text = p.value;
        const auto table = std::stoul(text.substr(text.find('h') + 1), nullptr, 16);
        char out = 0;
        for (int v = 0; v < 1 << n; ++v) {
            bool possible = true;
            for (int k = 0; k < n; ++k) {
                const char p = pin(c, "A" + std::to_string(k));
                possible &= p == 'x' || (p == '1') == ((v >> k) & 1);
            }
            if (!possible) continue;
            const char bit = (table >> v) & 1 ? '1' : '0';
            out = out == 0 || out == bit ? bit : 'x';
        }
        return out;
    }

    /// What a cell gives each net.
    void drive(std::vector<std::vector<char>>& drivers) const {
        for (std::uint32_t c = 0; c < n_.cells.size(); ++c) {
            const auto& type = n_.type_of(c);
            const auto give = [&](const char* name, char v) {
                if (net(c, name) != no_id) drivers[net(c, name)].push_back(v);
            };
            if (type.starts_with("SK_TABLE_")) give("Y", look(c, type));
            if (type.starts_with("SK_REGISTER")) give("Q", state_.at(c));
            if (type == "SK_PAD_TWO_WAY") {
                const char e = pin(c, "E"), a = pin(c, "A");
                give("PAD", e == '1' ? a : e == '0' ? 'z' : 'x');
                give("Y", pin(c, "PAD"));
            }
            if (type == "SK_SUM") {
                int low = 0, unknown = 0;
                for (const char* name : {"A", "B", "CI"}) {
                    low += pin(c, name) == '1';
                    unknown += pin(c, name) == 'x';
                }
                give("S", unknown ? 'x' : low % 2 ? '1' : '0');
                give("CO", low >= 2 ? '1' : low + unknown < 2 ? '0' : 'x');
            }
        }
    }

    void settle() {
        for (int round = 0; round < 200; ++round) {
            std::vector<std::vector<char>> drivers(value_.size());
            for (std::uint32_t p = 0; p < n_.ports.size(); ++p)
                if (n_.ports[p].direction != Direction::out) drivers[n_.ports[p].net].push_back(given_[p]);
            drive(drivers);
            auto next = value_;
            for (size_t k = 0; k < next.size(); ++k) {
                next[k] = 'z';
                for (const char v : drivers[k]) next[k] = next[k] == 'z' ? v : v == 'z' || v == next[k] ? next[k] : 'x';
                if (k == n_.constant_net[0]) next[k] = '0';
                if (k == n_.constant_net[1]) next[k] = '1';
            }
            if (next == value_) return;
            value_ = next;
        }
        ADD_FAILURE() << "the naive simulation does not settle";
    }

    const Netlist& n_;
    const Library& library_;
    std::vector<char> value_, given_;
    std::map<std::uint32_t, char> state_, clock_;
};

/// Cells on random nets of earlier cells; two drivers on a net now and then.
std::string random_netlist(unsigned seed) {
    std::mt19937 random(seed);
    const auto pick = [&](size_t n) { return static_cast<size_t>(random() % n); };
    std::vector<std::string> nets{"a", "b", "c", "d"};
    std::string cells, wires;
    const size_t count = 5 + pick(25);
    for (size_t k = 0; k < count; ++k) {
        const auto any = [&] { return nets[pick(nets.size())]; };
        const auto name = "n" + std::to_string(k);
        const auto u = " u" + std::to_string(k) + " (";
        static const char* kinds[] = {
            "",      "_ENABLE",      "_CLEAR",      "_PRESET",     "_ENABLE_CLEAR", "_ENABLE_PRESET",
            "_FALL", "_FALL_ENABLE", "_FALL_CLEAR", "_FALL_PRESET"};
        const auto what = pick(10);
        if (what < 4) {
            const auto inputs = 1 + pick(4);
            static const char* digits = "0123456789abcdef";
            std::string table;
            for (size_t i = 0; i < std::max<size_t>(1, (size_t{1} << inputs) / 4); ++i)
                table += digits[pick(inputs == 1 ? 4 : 16)];
            cells += "SK_TABLE_" + std::to_string(inputs) + " #(.TABLE(" + std::to_string(1 << inputs) + "'h" + table +
                     "))" + u;
            for (size_t i = 0; i < inputs; ++i) cells += ".A" + std::to_string(i) + "(" + any() + "), ";
            cells += ".Y(" + name + "));\n";
        } else if (what < 8) {
            const std::string kind = kinds[pick(10)];
            cells += "SK_REGISTER" + kind + u + ".D(" + any() + "), .CK(" + (pick(3) ? "clk" : any()) + "), .Q(" +
                     name + ")";
            if (kind.find("ENABLE") != std::string::npos) cells += ", .E(" + any() + ")";
            if (kind.find("CLEAR") != std::string::npos) cells += ", .CLR(" + any() + ")";
            if (kind.find("PRESET") != std::string::npos) cells += ", .PRE(" + any() + ")";
            cells += ");\n";
        } else if (what == 8) {
            cells += "SK_SUM" + u + ".A(" + any() + "), .B(" + any() + "), .CI(" + any() + "), .S(" + name + "), .CO(" +
                     name + "c));\n";
            wires += "wire " + name + "c;\n";
            nets.push_back(name + "c");
        } else {
            // From inputs only: what reads the wire back would feed itself.
            cells += "SK_PAD_TWO_WAY" + u + ".A(" + nets[pick(4)] + "), .E(" + nets[pick(4)] + "), .PAD(w), .Y(" +
                     name + "));\n";
        }
        wires += "wire " + name + ";\n";
        nets.push_back(name);
    }
    return "module top (clk, a, b, c, d, w, y0, y1, y2);\ninput clk, a, b, c, d;\ninout w;\noutput y0, y1, y2;\n" +
           wires + cells + "SK_TABLE_1 #(.TABLE(2'h2)) o0 (.A0(" + nets.back() +
           "), .Y(y0));\nSK_TABLE_1 #(.TABLE(2'h2)) o1 (.A0(" + nets[nets.size() / 2] +
           "), .Y(y1));\nSK_TABLE_2 #(.TABLE(4'h6)) o2 (.A0(" + nets[nets.size() - 2] +
           "), .A1(w), .Y(y2));\nendmodule\n";
}

TEST(EventRandom, ANaiveSimulatorSeesTheSameFourValues) {
    for (unsigned seed = 1; seed <= 200; ++seed) {
        const auto text = random_netlist(seed);
        Bench b(text);
        Naive naive(b.netlist, shipped_library());
        std::mt19937 random(seed * 77);
        std::vector<char> given(b.netlist.ports.size(), 'x');
        for (std::uint32_t p = 0; p < given.size(); ++p)
            if (b.netlist.ports[p].direction == Direction::inout) given[p] = 'z';
        double now = 0;
        for (int row = 0; row < 40; ++row) {
            for (std::uint32_t p = 0; p < b.netlist.ports.size(); ++p) {
                if (b.netlist.ports[p].direction == Direction::out || random() % 3 == 0) continue;
                const bool clock = b.netlist.ports[p].name == "clk";
                given[p] = (clock || row < 5 ? "01" : "010101xz")[random() % (clock || row < 5 ? 2 : 8)];
                b.set(b.netlist.ports[p].name, given[p]);
            }
            b.until(now += 1);
            naive.row(given);
            for (std::uint32_t p = 0; p < b.netlist.ports.size(); ++p)
                ASSERT_EQ(letter(b.simulator->port(p)), naive.port(p))
                    << "seed " << seed << " row " << row << " port " << b.netlist.ports[p].name << "\n"
                    << text;
        }
    }
}

const char* buffer_netlist =
    "module top (a, y);\ninput a;\noutput y;\nSK_TABLE_1 #(.TABLE(2'h2)) u (.A0(a), .Y(y));\nendmodule\n";

std::string path_sdf(const std::string& lines) {
    return "(DELAYFILE (SDFVERSION \"3.0\") (DIVIDER /) (TIMESCALE 1ns)\n(CELL (CELLTYPE \"SK_TABLE_1\") (INSTANCE u) "
           "(DELAY (ABSOLUTE " +
           lines + "))))\n";
}

TEST(Event, APulseShorterThanItsPathIsSwallowedAndOneAsLongPasses) {
    // IEEE 1364-2005, 14.6.1: an inertial path passes no pulse shorter than its delay.
    for (const auto& [width, passes] : {std::pair(0.9, false), {1.0, true}, {1.5, true}}) {
        Bench b(buffer_netlist, path_sdf("(IOPATH A0 Y (1.0) (1.0))"));
        int changes = 0;
        b.set("a", '0');
        b.until(5);
        b.simulator->watch([&](const Change& c) { changes += c.net == b.netlist.ports[1].net; });
        b.set("a", '1');
        b.until(5 + width);
        b.set("a", '0');
        b.until(20);
        EXPECT_EQ(changes, passes ? 2 : 0) << width;
        EXPECT_EQ(b.get("y"), '0');
    }
}

/// Three inverters in a ring: with delays every step ends, and the ring never.
TEST(Event, ARingOfDelaysIsGivenUpWithASentence) {
    Bench b(
        "module top (en, y);\ninput en;\noutput y;\nwire p, q;\n"
        "SK_TABLE_2 #(.TABLE(4'h7)) a (.A0(en), .A1(y), .Y(p));\nSK_TABLE_1 #(.TABLE(2'h1)) c (.A0(p), .Y(q));\n"
        "SK_TABLE_1 #(.TABLE(2'h1)) d (.A0(q), .Y(y));\nendmodule\n",
        "(DELAYFILE (SDFVERSION \"3.0\") (TIMESCALE 1ns) (CELL (CELLTYPE \"SK_TABLE_1\") (INSTANCE *)\n"
        " (DELAY (ABSOLUTE (IOPATH A0 Y (0.5) (0.5))))))\n");
    b.set("en", '0');
    b.until(10);
    b.simulator->limit(10'000);
    b.set("en", '1');
    const auto stop = b.simulator->run_until(time_of(1e9));
    ASSERT_TRUE(stop.has_value());
    EXPECT_NE(stop->text.find("More than 10000 events"), std::string::npos) << stop->text;
}

TEST(Event, AClockRisesWhenItWasAsked) {
    Bench b(buffer_netlist);
    b.simulator->clock(0, 8'000'000, 2'000'000);
    for (const auto& [ns, level] : {std::pair(1.9, '0'), {2.1, '1'}, {5.9, '1'}, {6.1, '0'}, {10.1, '1'}}) {
        b.until(ns);
        EXPECT_EQ(b.get("y"), level) << ns;
    }
}

TEST(Event, DelaysThatAreNoneAreToldAndNegativeOnesComeAtOnce) {
    Bench b(buffer_netlist, path_sdf("(IOPATH A0 Y (-1.0) (-1.0))"));
    b.set("a", '0');
    b.until(5);
    b.set("a", '1');
    b.until(5.001);
    EXPECT_EQ(b.get("y"), '1');
    const auto far = read_sdf(path_sdf("(IOPATH A0 Y (1e19) (1e19))"), "n.sdf");
    ASSERT_TRUE(far.ok());
    const auto told = b.circuit.annotate(far.value());
    ASSERT_FALSE(told.empty());
    EXPECT_EQ(told[0].severity, Severity::stop);
    EXPECT_NE(told[0].text.find("longer than a second"), std::string::npos);
}

TEST(Event, RiseAndFallHaveTheirOwnDelays) {
    Bench b(buffer_netlist, path_sdf("(IOPATH A0 Y (2.0) (3.0))"));
    b.set("a", '0');
    b.until(10);
    b.set("a", '1');
    b.until(12);
    EXPECT_EQ(b.get("y"), '0');  // just before
    b.until(12.001);
    EXPECT_EQ(b.get("y"), '1');
    b.until(20);
    b.set("a", '0');
    b.until(23);
    EXPECT_EQ(b.get("y"), '1');
    b.until(23.001);
    EXPECT_EQ(b.get("y"), '0');
}

TEST(Event, AWirePassesEveryPulse) {
    Bench b(buffer_netlist,
            "(DELAYFILE (SDFVERSION \"3.0\") (DIVIDER /) (TIMESCALE 1ns)\n(CELL (CELLTYPE \"top\") (INSTANCE) (DELAY "
            "(ABSOLUTE (INTERCONNECT a u/A0 (2.0))))))\n");
    int changes = 0;
    b.set("a", '0');
    b.until(5);
    b.simulator->watch([&](const Change& c) { changes += c.net == b.netlist.ports[1].net; });
    b.set("a", '1');
    b.until(5.1);
    b.set("a", '0');
    b.until(20);
    EXPECT_EQ(changes, 2);
}

TEST(Event, TheWireToAPortIsWaitedForToo) {
    Bench b(buffer_netlist,
            "(DELAYFILE (SDFVERSION \"3.0\") (DIVIDER /) (TIMESCALE 1ns)\n(CELL (CELLTYPE \"top\") (INSTANCE) (DELAY "
            "(ABSOLUTE (INTERCONNECT u/Y y (1.5))))))\n");
    b.set("a", '0');
    b.until(5);
    b.set("a", '1');
    b.until(6.4);
    EXPECT_EQ(b.get("y"), '0');
    b.until(6.6);
    EXPECT_EQ(b.get("y"), '1');
}

TEST(Event, SetupAndHoldAreToldAtTheRegisterThatHasThem) {
    const std::string sdf =
        "(DELAYFILE (SDFVERSION \"3.0\") (DIVIDER /) (TIMESCALE 1ns)\n(CELL (CELLTYPE \"SK_REGISTER\") (INSTANCE r) "
        "(TIMINGCHECK (SETUPHOLD D (posedge CK) (1.0) (0.5)))))\n";
    Bench b("module top (d, clk, q);\ninput d, clk;\noutput q;\nSK_REGISTER r (.D(d), .CK(clk), .Q(q));\nendmodule\n",
            sdf);
    b.set("clk", '0');
    b.set("d", '0');
    b.until(10);
    b.set("d", '1');
    b.until(10.4);
    b.set("clk", '1');
    b.until(10.7);
    b.set("d", '0');
    b.until(20);
    ASSERT_EQ(b.simulator->violations().size(), 2U);
    EXPECT_TRUE(b.simulator->violations()[0].setup);
    EXPECT_NEAR(ns_of(b.simulator->violations()[0].missing), 0.6, 1e-9);
    EXPECT_FALSE(b.simulator->violations()[1].setup);
    EXPECT_NEAR(ns_of(b.simulator->violations()[1].missing), 0.2, 1e-9);
    EXPECT_EQ(b.get("q"), '1');
}

TEST(Event, AMemoryKeepsWhatItsClockWrote) {
    Bench b(
        "module top (clk, we, wa, ra, d, q);\ninput clk, we, d;\ninput [1:0] wa, ra;\noutput q;\n"
        "SK_MEMORY m (.CK(clk), .WE(we), .WA({7'b0, wa}), .RA({7'b0, ra}), .WD({17'b0, d}), .RD({open0, open1, open2, "
        "open3, open4, open5, open6, open7, open8, open9, open10, open11, open12, open13, open14, open15, open16, "
        "q}));\nendmodule\n");
    const auto set2 = [&](const std::string& name, const std::string& v) {
        for (const auto& g : b.groups)
            if (g.name == name)
                for (size_t i = 0; i < 2; ++i)
                    b.simulator->set(g.ports[i], v[i] == '1' ? Bit::one : v[i] == '0' ? Bit::zero : Bit::x);
    };
    b.set("clk", '0');
    b.set("we", '1');
    b.set("d", '1');
    set2("wa", "10");
    set2("ra", "10");
    b.until(1);
    EXPECT_EQ(b.get("q"), 'x');  // never written
    b.set("clk", '1');
    b.until(2);
    EXPECT_EQ(b.get("q"), '1');
    set2("ra", "x0");
    b.until(3);
    EXPECT_EQ(b.get("q"), 'x');  // word 0 or word 2
    set2("ra", "10");
    b.set("clk", '0');
    b.set("we", 'x');
    b.set("d", '0');
    b.until(4);
    b.set("clk", '1');
    b.until(5);
    EXPECT_EQ(b.get("q"), 'x');  // written or not
}

TEST(Vectors, ValuesAreReadAsTheyAreWritten) {
    EXPECT_EQ(value_of("10xz", 4, false).value_or(""), "10xz");
    EXPECT_EQ(value_of("0x1F", 5, false).value_or(""), "11111");
    EXPECT_EQ(value_of("0xf", 8, false).value_or(""), "00001111");
    EXPECT_EQ(value_of("0x1", 3, false).value_or(""), "001");  // as many letters as bits, and yet hexadecimal
    EXPECT_FALSE(value_of("0x10", 4, false));
    EXPECT_FALSE(value_of("0xz1", 4, false));
    EXPECT_EQ(value_of("0x", 2, false).value_or(""), "0x");  // no digit follows: a bit that is not known
    EXPECT_EQ(value_of("-", 3, true).value_or(""), "---");
    EXPECT_FALSE(value_of("-", 3, false));
    EXPECT_FALSE(value_of("0x20", 5, false));
    EXPECT_FALSE(value_of("101", 4, false));
}

TEST(Vectors, WrongFilesAreToldWithTheirLine) {
    Bench b(buffer_netlist);
    const std::vector<std::tuple<std::string, int, std::string>> all{{"a,=y\n0,1\n", 1, "'time'"},
                                                                     {"time,q\n0,1\n", 1, "no port 'q'"},
                                                                     {"time,y\n0,1\n", 1, "not an input"},
                                                                     {"time,a,a\n0,1,1\n", 1, "twice"},
                                                                     {"time,a\n0,1\n0,0\n", 3, "above"},
                                                                     {"time,a\n0,1,0\n", 2, "3 columns"},
                                                                     {"time,a\n0,2\n", 2, "not a value"},
                                                                     {"time,a\n", 1, "no vectors"},
                                                                     {"", 1, "no vectors"},
                                                                     {"time,a\nx,1\n", 2, "should be a number"}};
    for (const auto& [text, line, what] : all) {
        const auto read = read_vectors(text, "v.csv", b.groups);
        ASSERT_FALSE(read.ok()) << text;
        EXPECT_EQ(read.first().line, line) << read.first().sentence();
        EXPECT_NE(read.first().text.find(what), std::string::npos) << read.first().sentence();
    }
}

TEST(Vectors, ARowIsSeenJustBeforeTheNextOneAndTheLastAsLongAsTheOneBefore) {
    Bench b(buffer_netlist, path_sdf("(IOPATH A0 Y (4.0) (4.0))"));
    const auto v = read_vectors("time,a,=y\n0,0,-\n10,1,1\n13,0,1\n16,,0\n", "v.csv", b.groups);
    ASSERT_TRUE(v.ok()) << v.first().sentence();
    const auto seen = run_vectors(*b.simulator, b.groups, v.value(), {});
    ASSERT_TRUE(seen.ok());
    // The pulse of 3 ns is swallowed.
    ASSERT_EQ(seen.value().rows.size(), 4U);
    EXPECT_EQ(seen.value().rows[0].observed[0].second, "0");
    EXPECT_EQ(seen.value().rows[1].observed[0].second, "0");
    EXPECT_FALSE(seen.value().rows[1].ok);
    EXPECT_FALSE(seen.value().rows[2].ok);
    EXPECT_TRUE(seen.value().rows[3].ok);
    EXPECT_EQ(seen.value().failed, 2U);
}

TEST(Vectors, AllCombinationsCountUpFirstPortFirst) {
    Bench b(
        "module top (a, b, y);\ninput [1:0] a;\ninput b;\noutput y;\nSK_TABLE_3 #(.TABLE(8'h80)) u (.A0(a[1]), "
        ".A1(a[0]), .A2(b), .Y(y));\nendmodule\n");
    const auto seen = run_combinations(*b.simulator, b.circuit, b.groups);
    ASSERT_TRUE(seen.ok());
    ASSERT_EQ(seen.value().rows.size(), 8U);
    EXPECT_EQ(seen.value().rows[5].inputs[0].second, "10");
    EXPECT_EQ(seen.value().rows[5].inputs[1].second, "1");
    for (size_t k = 0; k < 8; ++k) EXPECT_EQ(seen.value().rows[k].observed[0].second, k == 7 ? "1" : "0");
    Bench r("module top (d, clk, q);\ninput d, clk;\noutput q;\nSK_REGISTER r (.D(d), .CK(clk), .Q(q));\nendmodule\n");
    EXPECT_FALSE(run_combinations(*r.simulator, r.circuit, r.groups).ok());
}

/// Liberty user guide, ff group: clear_preset_var1 and clear_preset_var2 (from memory): L 0, H 1, N unchanged, T turned
/// over, X unknown, for the two variables while clear and preset are active together.
TEST(EventSimulator, ClearAndPresetTogetherGiveWhatTheLibrarySays) {
    const auto shown = [](const std::string& rules) {
        const std::string text =
            "library(l) { cell(F) { ff(IQ, IQN) { clocked_on : \"CK\"; next_state : \"D\"; clear : \"C\"; preset : "
            "\"P\"; " +
            rules +
            " } pin(D) { direction : input; } pin(CK) { direction : input; clock : true; } pin(C) { direction : input; "
            "} "
            "pin(P) { direction : input; } pin(Q) { direction : output; function : \"IQ\"; } pin(QN) { direction : "
            "output; function : \"IQN\"; } } }";
        auto library = read_liberty(text, "l.lib");
        EXPECT_TRUE(library.ok()) << (library.ok() ? "" : library.first().sentence());
        Bench b(
            "module top(d, ck, c, p, q, qn); input d, ck, c, p; output q, qn; F f (.D(d), .CK(ck), .C(c), .P(p), "
            ".Q(q), .QN(qn)); endmodule",
            {}, library.value());
        for (const char* low : {"d", "ck"}) b.set(low, '0');
        b.set("c", '1');
        b.set("p", '1');
        b.until(0.001);  // from the very beginning
        std::string out{b.get("q"), b.get("qn")};
        b.set("p", '0');
        b.until(1);
        return out + " " + b.get("q") + b.get("qn");
    };
    EXPECT_EQ(shown(""), "xx 01");
    EXPECT_EQ(shown("clear_preset_var1 : L; clear_preset_var2 : L;"), "00 01");
    EXPECT_EQ(shown("clear_preset_var1 : H; clear_preset_var2 : L;"), "10 01");
    EXPECT_EQ(shown("clear_preset_var1 : \"H\"; clear_preset_var2 : \"H\";"), "11 01");
    EXPECT_FALSE(read_liberty("library(l) { cell(F) { ff(IQ, IQN) { clocked_on : \"CK\"; next_state : \"D\"; "
                              "clear_preset_var1 : Q; } } }",
                              "l.lib")
                     .ok());
}

TEST(EventSimulator, AClockOfAnOddRatioDoesNotDrift) {
    Bench b("module top(c, q); input c; output q; assign q = c; endmodule");
    // A period of 1000/3 ns, so that three of them are a microsecond, however many there were.
    b.simulator->tick_from(b.groups[0].ports[0], 0, 500'000'000, 3);
    int rises = 0;
    b.simulator->watch([&](const Change& c) { rises += c.value == Bit::one && c.net == b.netlist.ports[0].net; });
    b.until(3'000'000);
    EXPECT_EQ(rises, 9000);
}

TEST(Vectors, TheDumpNamesPortsThatAreAnotherNet) {
    Bench b(
        "module top(a, q, same, one); input a; output q, same, one; SK_TABLE_1 #(.TABLE(2'h1)) i (.A0(a), .Y(q)); "
        "assign same = a; "
        "assign one = 1'b1; endmodule");
    const auto text = Dump(b.netlist).text(std::vector<Bit>(b.netlist.net_names.size(), Bit::x), 0);
    for (const char* port : {" a $end", " q $end", " same $end", " one $end"})
        EXPECT_NE(text.find(port), std::string::npos) << port << "\n" << text;
}

TEST(Vectors, TheDumpNamesEveryChange) {
    Bench b(buffer_netlist);
    Dump dump(b.netlist);
    std::vector<Bit> start(b.netlist.net_names.size(), Bit::x);
    b.simulator->watch([&](const Change& c) { dump.take(c); });
    b.set("a", '0');
    b.until(1);
    b.set("a", '1');
    b.until(3);
    const auto text = dump.text(start, b.simulator->now());
    EXPECT_NE(text.find("$timescale 1ps $end"), std::string::npos);
    EXPECT_NE(text.find("#1000\n1"), std::string::npos) << text;
}

}  // namespace
}  // namespace kp::simulation
