// SPDX-License-Identifier: GPL-3.0-or-later
// Each simulated part against what its standard or its sheet says, with a tester that shares no code with it.
#include "tests/board_sim/rig.hpp"

#include "core/format/image/image.hpp"

#include <cmath>

namespace kp::board_sim {
namespace {

TEST(Acting, ContactsBounceAndThenStay) {
    Rig rig("key", "hold>L");
    rig.record("hold");
    EXPECT_TRUE(rig.high("hold"));  // at rest
    rig.control("hold", "1");
    rig.run(3 * millisecond);
    EXPECT_FALSE(rig.high("hold"));
    const auto edges = rig.edges("hold");
    EXPECT_GE(edges.size(), 6u);  // what stood before, down, and at least two times up and down
    EXPECT_LT(edges.back().when - edges[1].when, 2 * millisecond);
    rig.control("bounce", "none");
    const auto before = rig.edges("hold").size();
    rig.control("hold", "0");
    rig.run(3 * millisecond);
    EXPECT_EQ(rig.edges("hold").size(), before + 1);
    EXPECT_FALSE(rig.part().set("hold", "2").ok());
    EXPECT_FALSE(rig.part().set("nobody", "1").ok());
}

TEST(Acting, AnEncoderTurnsInQuarters) {
    Rig rig("encoder", "enc_a> enc_b> enc_z>");
    for (const char* w : {"enc_a", "enc_b", "enc_z"}) rig.record(w);
    rig.control("quarter steps", "+256");
    rig.run(400 * millisecond);
    const auto a = measure(rig.edges("enc_a"), 0, rig.model->now());
    EXPECT_EQ(a.rises, 64u);
    EXPECT_EQ(rig.word("turns"), "1.000");
    // Forward: a is high when b rises, each time.
    const auto b = rig.edges("enc_b");
    for (size_t i = 1; i < b.size(); ++i)
        if (b[i].level == Level::high) {
            EXPECT_EQ(level_at(rig.edges("enc_a"), b[i].when), Level::high);
        }
    EXPECT_EQ(measure(rig.edges("enc_z"), 0, rig.model->now()).rises, 1u);  // once a turn
}

TEST(Acting, AWinchTurnsWithTheShareOfTimeAndItsEncoderWithIt) {
    Rig rig("driver", "pwm< dir< brake_n<L fault_n>L", "encoder", "enc_a> enc_b> enc_z>", "winch");
    rig.set("dir", false);
    rig.set("brake_n", true);
    const auto drive = [&](int ms) {
        for (int k = 0; k < ms * 10; ++k) {
            rig.set("pwm", true);
            rig.run(25 * microsecond);
            rig.set("pwm", false);
            rig.run(75 * microsecond);
        }
    };
    drive(1000);  // ten times the time in which it follows: all but 5e-5 of what is asked for
    EXPECT_NEAR(std::stod(rig.word("speed")), 5.0, 0.05);  // a quarter of 20 turns a second
    // Over a second: 5 turns less what the start took, 5 * 0.1 s (the integral of its exponential).
    EXPECT_NEAR(std::stod(rig.word("turns", "U2")), 4.5, 0.1);
    rig.set("brake_n", false);
    rig.run(10 * millisecond);
    const auto at = rig.word("turns", "U2");
    rig.run(100 * millisecond);
    EXPECT_EQ(rig.word("turns", "U2"), at);
    rig.control("fault", "1");
    EXPECT_FALSE(rig.high("fault_n"));
}

TEST(Acting, LampsAreAsBrightAsTheirShareOfTime) {
    Rig rig("lamp", "a< b<L");
    rig.set("b", true);
    (void)rig.part().look();
    for (int k = 0; k < 100; ++k) {
        rig.set("a", true);
        rig.set("b", false);
        rig.run(25 * microsecond);
        rig.set("a", false);
        rig.set("b", true);
        rig.run(75 * microsecond);
    }
    const auto seen = rig.part().look();
    EXPECT_NEAR(seen.lamps[0], 0.25, 1e-6);
    EXPECT_NEAR(seen.lamps[1], 0.25, 1e-6);
    EXPECT_EQ(rig.word("current"), "4.0 mA");  // two of 8 mA, a quarter of the time each
}

TEST(Acting, DigitsAreReadWhileTheyAreChosen) {
    Rig rig("display", "seg0<L seg1<L seg2<L seg3<L seg4<L seg5<L seg6<L seg7<L dig0<L dig1<L dig2<L dig3<L");
    // Segments a to g of the figures 4 3 2 1, from the right (common practice, no source).
    const unsigned shapes[] = {0x66, 0x4F, 0x5B, 0x06};
    for (int round = 0; round < 8; ++round)
        for (int d = 0; d < 4; ++d) {
            for (int k = 0; k < 8; ++k) rig.set("seg" + std::to_string(k), !((shapes[d] >> k) & 1));
            for (int k = 0; k < 4; ++k) rig.set("dig" + std::to_string(k), k != d);
            rig.run(millisecond);
        }
    const auto sight = rig.part().look();
    EXPECT_EQ(rig.word("reads"), "1234");
    EXPECT_NEAR(sight.digits[0][5], 0.25, 0.01);  // lit a quarter of the time
    EXPECT_EQ(sight.digits[0][0], 0.0);
}

TEST(Acting, ATone) {
    Rig rig("sounder", "tone<");
    EXPECT_EQ(rig.word("tone"), "silent");
    for (int k = 0; k < 20; ++k) {
        rig.set("tone", true);
        rig.run(second / 880);
        rig.set("tone", false);
        rig.run(second / 880);
    }
    EXPECT_EQ(rig.word("tone"), "440.0 Hz");  // a' (ISO 16:1975)
    rig.run(second);
    EXPECT_EQ(rig.word("tone"), "silent");
}

TEST(Acting, ASerialTerminalSendsAndReads) {
    Rig rig("serial", "host_tx> host_rx<");
    rig.record("host_tx");
    rig.control("rate", "9600");
    rig.control("send", "Hi");
    rig.run(5 * millisecond);
    const auto sent = read_serial(rig.edges("host_tx"), second / 9600, rig.model->now());
    ASSERT_EQ(sent.size(), 2u);
    EXPECT_EQ(sent[0].value, 0x48u);
    EXPECT_EQ(sent[1].value, 0x69u);
    EXPECT_NEAR(static_cast<double>(sent[0].to - sent[0].from), static_cast<double>(10 * (second / 9600)), 1e6);
    // The other way at a rate that it finds out: bit by bit, "Uk".
    rig.control("rate", "measured");
    const Time bit = second / 115200;
    rig.set("host_rx", true);
    rig.run(millisecond);
    for (const unsigned byte : {0x55u, 0x6Bu}) {
        unsigned frame = (byte | 0x100u) << 1;
        for (int k = 0; k < 10; ++k, frame >>= 1) {
            rig.set("host_rx", frame & 1);
            rig.run(bit);
        }
    }
    rig.run(millisecond);
    EXPECT_EQ(rig.part().look().text, "Uk");
    EXPECT_NEAR(std::stod(rig.word("rate, measured")), 115200, 20);
    // A line that stays low has no stop bit.
    rig.set("host_rx", false);
    rig.run(20 * bit);
    rig.set("host_rx", true);
    rig.run(millisecond);
    (void)rig.part().look();
    EXPECT_EQ(rig.word("without stop bit"), "1");
}

TEST(Acting, SatelliteTimePulsesAndSaysSo) {
    // The checksum is the exclusive or of what stands between $ and *; the example is one that is found in receivers'
    // manuals (NMEA 0183 ZDA, from memory).
    const auto sum = [](const std::string& s) {
        unsigned v = 0;
        for (size_t i = 1; s[i] != '*'; ++i) v ^= static_cast<unsigned char>(s[i]);
        char text[4];
        std::snprintf(text, sizeof text, "%02X", v);
        return std::string(text);
    };
    EXPECT_EQ(sum("$GPZDA,201530.00,04,07,2002,00,00*60"), "60");
    Rig rig("receiver", "pps> gps_tx> gps_rx<");
    rig.record("pps");
    rig.record("gps_tx");
    rig.run(3 * second);
    const auto pulses = measure(rig.edges("pps"), 0, rig.model->now());
    EXPECT_EQ(pulses.rises, 3u);
    EXPECT_NEAR(pulses.hz, 1.0, 1e-9);
    std::string text;
    for (const auto& w : read_serial(rig.edges("gps_tx"), second / 9600, rig.model->now()))
        text += static_cast<char>(w.value);
    ASSERT_GE(text.size(), 70u);
    EXPECT_EQ(text.substr(0, 13), "$GPZDA,000001");
    EXPECT_EQ(text.substr(text.find('*') + 1, 2), sum(text));
    rig.control("a second takes", "10 ms");
    const auto from = rig.model->now();
    rig.run(second);
    EXPECT_NEAR(static_cast<double>(measure(rig.edges("pps"), from, rig.model->now()).rises), 100, 1);
}

/// SPI mode 0, as a controller does it: data set before the rise, read at the rise.
std::uint32_t exchange(Rig& rig, std::uint32_t out, int bits, const std::string& in, const std::string& from) {
    std::uint32_t came = 0;
    rig.set("cs_n", false);
    for (int k = bits; k-- > 0;) {
        rig.set(in, (out >> k) & 1);
        rig.run(microsecond);
        rig.set("sck", true);
        if (!from.empty()) came = came << 1 | rig.high(from);
        rig.run(microsecond);
        rig.set("sck", false);
    }
    rig.run(microsecond);
    rig.set("cs_n", true);
    return came;
}

TEST(Acting, AWeighIsReadOverSpi) {
    Rig rig("converter", "sck< mosi< miso> cs_n<L drdy_n>L");
    rig.set("sck", false);
    rig.set("cs_n", true);
    rig.control("weight", "123456");
    rig.run(2 * millisecond);
    EXPECT_FALSE(rig.high("drdy_n"));
    EXPECT_EQ(exchange(rig, 0xA5C3F0, 24, "mosi", "miso"), 123456u);
    EXPECT_TRUE(rig.high("drdy_n"));
    EXPECT_EQ(rig.word("was told"), std::to_string(0xA5C3F0));
    (void)exchange(rig, 0, 9, "mosi", "miso");
    EXPECT_EQ(rig.word("cut off"), "1 time");
    EXPECT_EQ(exchange(rig, 0, 24, "mosi", "miso"), 123456u);  // begins anew
}

/// A controller on two wires, each half period 5 us; lines are let go for a one.
struct TwoWireMaster {
    Rig& rig;
    void line(const char* wire, bool level) {
        if (level)
            rig.off(wire);
        else
            rig.set(wire, false);
    }
    void wait() { rig.run(5 * microsecond); }
    void start() {
        line("sda", true), wait(), line("scl", true), wait(), line("sda", false), wait(), line("scl", false), wait();
    }
    void stop() { line("sda", false), wait(), line("scl", true), wait(), line("sda", true), wait(); }
    bool bit(bool out) {
        line("sda", out), wait(), line("scl", true), wait();
        const bool in = rig.high("sda");
        line("scl", false), wait();
        return in;
    }
    bool put(unsigned byte) {  // true: acknowledged
        for (int k = 7; k >= 0; --k) bit((byte >> k) & 1);
        return !bit(true);
    }
    unsigned get(bool more) {
        unsigned v = 0;
        for (int k = 0; k < 8; ++k) v = v << 1 | bit(true);
        bit(!more);
        return v;
    }
};

TEST(Acting, ASensorAnswersOnTwoWires) {
    Rig rig("bus", "scl=^ sda=^");
    rig.record("scl");
    rig.record("sda");
    TwoWireMaster m{rig};
    m.start();
    EXPECT_FALSE(m.put(0x50 << 1));  // nobody there
    m.stop();
    m.start();
    EXPECT_TRUE(m.put(0x48 << 1));
    EXPECT_TRUE(m.put(3));
    EXPECT_TRUE(m.put(0xA7));
    EXPECT_TRUE(m.put(0x3C));
    m.stop();
    m.start();
    EXPECT_TRUE(m.put(0x48 << 1));
    EXPECT_TRUE(m.put(3));
    m.start();  // again, without a stop
    EXPECT_TRUE(m.put(0x48 << 1 | 1));
    EXPECT_EQ(m.get(true), 0xA7u);
    EXPECT_EQ(m.get(false), 0x3Cu);
    m.stop();
    EXPECT_TRUE(rig.high("sda"));
    EXPECT_EQ(rig.word("gave, took"), "2, 2 bytes");
    // The reader of the bus sees the same talk.
    std::vector<std::string> talk;
    for (const auto& w : read_two_wire(rig.edges("scl"), rig.edges("sda"), rig.model->now())) talk.push_back(w.text);
    const std::vector<std::string> wanted{"start",
                                          "address 0x50 write, no answer",
                                          "stop",
                                          "start",
                                          "address 0x48 write",
                                          "0x03",
                                          "0xA7",
                                          "0x3C",
                                          "stop",
                                          "start",
                                          "address 0x48 write",
                                          "0x03",
                                          "start again",
                                          "address 0x48 read",
                                          "0xA7",
                                          "0x3C, last",
                                          "stop"};
    EXPECT_EQ(talk, wanted);
}

TEST(Acting, AConverterSendsWordsAtBothEdges) {
    Rig rig("converter", "clk_out_p> clk_out_n> frame_p> frame_n> d_p0> d_n0> d_p1> d_n1> sck< sdi< cs_n<L sleep<");
    rig.set("sleep", false);
    rig.control("wave", "steady");
    for (const char* w : {"clk_out_p", "frame_p", "d_p0", "d_p1", "d_n1"}) rig.record(w);
    rig.run(2 * microsecond);
    // Both lanes at every edge of the clock; a word ends where the frame line falls.
    const auto clock = rig.edges("clk_out_p"), frame = rig.edges("frame_p");
    std::string bits[2];
    std::vector<unsigned> words[2];
    for (size_t i = 1; i < clock.size(); ++i) {
        const auto t = clock[i].when;
        for (int lane = 0; lane < 2; ++lane)
            bits[lane] += level_at(rig.edges("d_p" + std::to_string(lane)), t) == Level::high ? '1' : '0';
        const bool ends =
            level_at(frame, t) == Level::low && i > 1 && level_at(frame, clock[i - 1].when) == Level::high;
        for (int lane = 0; lane < 2 && ends; ++lane) {
            if (bits[lane].size() >= 12)
                words[lane].push_back(
                    static_cast<unsigned>(std::stoul(bits[lane].substr(bits[lane].size() - 12), nullptr, 2)));
            bits[lane].clear();
        }
    }
    ASSERT_GE(words[0].size(), 10u);
    for (size_t i = 1; i < words[0].size(); ++i) {
        EXPECT_EQ(words[0][i], 1023u);
        EXPECT_EQ(words[1][i], 2047u);
    }
    // Data move in the middle between two edges of the clock: a quarter of its period from the next one.
    const auto data = rig.edges("d_p1");
    for (size_t i = 2; i < data.size(); ++i) {
        auto next = std::find_if(clock.begin(), clock.end(), [&](const Edge& e) { return e.when > data[i].when; });
        if (next != clock.end()) {
            EXPECT_EQ(next->when - data[i].when, 2 * nanosecond);
        }
    }
    rig.set("sleep", true);
    rig.run(2 * microsecond);
    const auto before = rig.edges("clk_out_p").size();
    rig.run(10 * microsecond);
    EXPECT_EQ(rig.edges("clk_out_p").size(), before);  // asleep
}

const char* const phy_terminals =
    "txc< txd0< txd1< txd2< txd3< tx_ctl< rxc> rxd0> rxd1> rxd2> rxd3> rx_ctl> mdc< mdio= phy_rst_n<L";

/// What stands on the receive side at every edge of its clock, as bytes of frames.
std::vector<std::string> frames_on_wires(Rig& rig, Time from) {
    std::vector<std::string> out;
    std::string now;
    unsigned low = 0;
    const auto clock = rig.edges("rxc");
    std::vector<std::vector<Edge>> data;
    for (int k = 0; k < 4; ++k) data.push_back(rig.edges("rxd" + std::to_string(k)));
    const auto valid = rig.edges("rx_ctl");
    for (size_t i = 1; i < clock.size(); ++i) {
        if (clock[i].when < from) continue;
        unsigned half = 0;
        for (size_t k = 0; k < 4; ++k) half |= (level_at(data[k], clock[i].when) == Level::high ? 1u : 0u) << k;
        if (level_at(valid, clock[i].when) != Level::high) {
            if (!now.empty()) out.push_back(std::exchange(now, {}));
            continue;
        }
        if (clock[i].level == Level::high)
            low = half;
        else
            now += static_cast<char>(low | half << 4);
    }
    return out;
}

TEST(Acting, FramesWithTheirCrcGoBothWays) {
    Rig rig("ethernet", phy_terminals);
    rig.set("phy_rst_n", true);
    for (const char* w : {"rxc", "rxd0", "rxd1", "rxd2", "rxd3", "rx_ctl"}) rig.record(w);
    rig.run(microsecond * 2);
    rig.control("send a frame", "1");
    rig.run(10 * microsecond);
    auto frames = frames_on_wires(rig, 0);
    ASSERT_EQ(frames.size(), 1u);
    EXPECT_EQ(frames[0].substr(0, 8), std::string(7, '\x55') + '\xD5');  // IEEE 802.3, 3.2.1 and 3.2.2
    EXPECT_EQ(frames[0].size(), 8u + 64u);                               // the smallest frame, 3.2.7
    // A frame with its CRC leaves the rest 0x2144DF1C (IEEE 802.3, 3.2.9; the value is the usual reflected form).
    EXPECT_EQ(crc32(frames[0].substr(8)), 0x2144DF1Cu);
    EXPECT_NEAR(measure(rig.edges("rxc"), 0, rig.model->now()).hz, 125e6, 1);
    // Back from the design: the tester sends the same bytes at both edges of its own clock.
    const auto from = rig.model->now();
    const auto send = [&](const std::string& f) {
        for (const char c : f)
            for (const int half : {0, 1}) {
                const auto v = static_cast<unsigned>(static_cast<unsigned char>(c)) >> (4 * half);
                for (int k = 0; k < 4; ++k) rig.set("txd" + std::to_string(k), (v >> k) & 1);
                rig.set("tx_ctl", true);
                rig.run(2 * nanosecond);
                rig.set("txc", half == 0);
                rig.run(2 * nanosecond);
            }
        rig.set("tx_ctl", false);
        for (int k = 0; k < 8; ++k) rig.run(2 * nanosecond), rig.set("txc", k % 2 == 0), rig.run(2 * nanosecond);
    };
    rig.set("txc", false);
    rig.control("loop back", "1");
    send(frames[0]);
    EXPECT_EQ(rig.word("came, CRC good"), "1");
    rig.run(10 * microsecond);
    const auto back = frames_on_wires(rig, from);
    ASSERT_EQ(back.size(), 1u);
    EXPECT_EQ(back[0], frames[0]);
    auto spoilt = frames[0];
    spoilt[30] = static_cast<char>(spoilt[30] ^ 4);
    send(spoilt);
    EXPECT_EQ(rig.word("came, CRC bad"), "1");
    // Two at once have twelve bytes between them (4.4.2).
    rig.run(20 * microsecond);
    const auto then = rig.model->now();
    rig.control("loop back", "0");
    rig.control("send a frame", "1");
    rig.control("send a frame", "1");
    rig.run(20 * microsecond);
    const auto valid = rig.edges("rx_ctl");
    std::vector<Time> at;
    for (const auto& e : valid)
        if (e.when > then) at.push_back(e.when);
    ASSERT_EQ(at.size(), 4u);
    EXPECT_NEAR(static_cast<double>(at[2] - at[1]), 12 * 8e6, 8e6);
    rig.set("phy_rst_n", false);
    rig.run(5 * microsecond);
    const auto edges = rig.edges("rxc").size();
    rig.run(5 * microsecond);
    EXPECT_EQ(rig.edges("rxc").size(), edges);  // held in reset
}

const char* const memory_terminals =
    "dq0= dq1= dq2= dq3= dq4= dq5= dq6= dq7= dm0< dqs_p0= dqs_n0= ck_p< ck_n< a0< a1< a2< a3< a4< a5< a6< a7< a8< a9< "
    "a10< a11< a12< a13< ba0< ba1< ba2< ras_n< cas_n< we_n< cke< cs_n<";

/// Commands to a memory of eight bits, one a clock of 4 ns.
struct MemoryMaster {
    Rig& rig;
    bool up = false;
    void half() {
        up = !up;
        rig.set("ck_p", up);
        rig.set("ck_n", !up);
        rig.run(2 * nanosecond);
    }
    void command(bool ras, bool cas, bool we, unsigned bank, unsigned address) {
        if (up) half();
        rig.set("ras_n", !ras), rig.set("cas_n", !cas), rig.set("we_n", !we);
        for (int k = 0; k < 3; ++k) rig.set("ba" + std::to_string(k), (bank >> k) & 1);
        for (int k = 0; k < 14; ++k) rig.set("a" + std::to_string(k), (address >> k) & 1);
        half();
        rig.set("ras_n", true), rig.set("cas_n", true), rig.set("we_n", true);
        half();
    }
    void write(const std::vector<unsigned>& words, int latency) {
        for (int k = 0; k < 2 * (latency - 1); ++k) half();  // the command itself took a clock
        for (size_t i = 0; i < words.size(); ++i) {
            for (int k = 0; k < 8; ++k) rig.set("dq" + std::to_string(k), (words[i] >> k) & 1);
            up = !up;
            rig.set("ck_p", up);
            rig.run(nanosecond);
            rig.set("dqs_p0", i % 2 == 0);
            rig.run(nanosecond);
        }
        for (int k = 0; k < 8; ++k) rig.off("dq" + std::to_string(k));
        rig.off("dqs_p0");
        for (int k = 0; k < 4; ++k) half();
    }
    std::vector<unsigned> read(int latency) {
        for (int k = 0; k < 2 * (latency - 1); ++k) half();
        std::vector<unsigned> out;
        for (int i = 0; i < 8; ++i) {
            half();
            out.push_back(0);
            for (int k = 0; k < 8; ++k) out.back() |= static_cast<unsigned>(rig.high("dq" + std::to_string(k))) << k;
        }
        for (int k = 0; k < 4; ++k) half();
        return out;
    }
};

TEST(Acting, AMemoryKeepsWhatIsWrittenIntoAnOpenRow) {
    Rig rig("memory", memory_terminals);
    MemoryMaster m{rig};
    rig.set("cke", true), rig.set("cs_n", false), rig.set("dm0", false);
    rig.set("ras_n", true), rig.set("cas_n", true), rig.set("we_n", true);
    m.half();
    // Mode register 0 with a latency of six clocks (bits 6:4 = 2, JESD79-3, from memory), 2 with five for writing.
    m.command(true, true, true, 0, 2 << 4);
    m.command(true, true, true, 2, 0);
    m.command(true, false, false, 5, 0x1234);  // opens a row of bank 5
    m.command(false, true, true, 5, 8);
    m.write({0x11, 0x22, 0x44, 0x88, 0x0F, 0xF0, 0xA5, 0x5A}, 5);
    EXPECT_EQ(rig.word("written"), "8 words");
    m.command(false, true, false, 5, 8);
    EXPECT_EQ(m.read(6), (std::vector<unsigned>{0x11, 0x22, 0x44, 0x88, 0x0F, 0xF0, 0xA5, 0x5A}));
    // From the middle of its eight columns the burst turns round.
    m.command(false, true, false, 5, 10);
    EXPECT_EQ(m.read(6), (std::vector<unsigned>{0x44, 0x88, 0x0F, 0xF0, 0xA5, 0x5A, 0x11, 0x22}));
    m.command(true, false, true, 5, 0);  // closes it
    m.command(false, true, false, 5, 8);
    EXPECT_EQ(rig.word("bank was not open"), "1 time");
    // Another row of the bank holds nothing.
    m.command(true, false, false, 5, 0x0001);
    m.command(false, true, false, 5, 8);
    EXPECT_EQ(m.read(6), std::vector<unsigned>(8, 0));
}

TEST(Acting, AMemoryTellsCommandsThatComeTooEarly) {
    Rig rig("memory", memory_terminals);
    MemoryMaster m{rig};
    rig.set("cke", true), rig.set("cs_n", false), rig.set("dm0", false);
    rig.set("ras_n", true), rig.set("cas_n", true), rig.set("we_n", true);
    m.half();
    const auto wait = [&](int ns) {
        for (int k = 0; k < ns; k += 4) m.half(), m.half();
    };
    // With the times of DDR3-800E (JESD79-3, from memory) kept there is nothing to say.
    m.command(true, false, false, 1, 0x10);
    wait(20);
    m.command(false, true, false, 1, 0);
    wait(60);
    m.command(true, false, true, 1, 0);
    wait(20);
    m.command(true, true, false, 0, 0);  // refresh
    wait(120);
    m.command(true, false, false, 1, 0x11);
    for (const char* wrong : {"row opened too soon after closing", "column asked too soon after its row",
                              "row closed too soon", "refreshed too late", "command during a refresh"})
        EXPECT_EQ(rig.word(wrong), "") << wrong;
    // Each too early once, each at another bank than the others' rows.
    m.command(false, true, false, 1, 0);
    EXPECT_EQ(rig.word("column asked too soon after its row"), "1 time");
    m.command(true, false, true, 1, 0);
    EXPECT_EQ(rig.word("row closed too soon"), "1 time");
    m.command(true, false, false, 1, 0x12);
    EXPECT_EQ(rig.word("row opened too soon after closing"), "1 time");
    wait(100);
    m.command(true, false, true, 0, 1 << 10);  // all banks
    wait(20);
    m.command(true, true, false, 0, 0);
    m.command(true, false, false, 2, 0);
    EXPECT_EQ(rig.word("command during a refresh"), "1 time");
    EXPECT_EQ(rig.word("refreshed too late"), "");
    wait(80'000);
    m.command(true, true, false, 0, 0);
    EXPECT_EQ(rig.word("refreshed too late"), "1 time");
    EXPECT_EQ(rig.word("row opened too soon after closing"), "1 time");
}

TEST(Acting, WhatIsNotKnownActsByItsTerminals) {
    Rig rig("thing nobody knows", "ask< tell>L both=");
    EXPECT_TRUE(rig.high("tell"));  // inactive
    rig.control("tell", "0");
    EXPECT_FALSE(rig.high("tell"));
    EXPECT_EQ(rig.level("both"), Level::floating);
    rig.control("both", "1");
    EXPECT_TRUE(rig.high("both"));
    rig.set("both", false);
    EXPECT_EQ(rig.level("both"), Level::conflict);
    rig.control("both", "off");
    EXPECT_EQ(rig.level("both"), Level::low);
    EXPECT_FALSE(rig.part().set("ask", "1").ok());
}

}  // namespace
}  // namespace kp::board_sim
