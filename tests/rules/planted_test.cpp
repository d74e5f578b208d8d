// SPDX-License-Identifier: GPL-3.0-or-later
// Every rule broken in at least three ways in a clean copy of `profiler`, at the boundary and on either side of it,
// with exactly the findings that are to come of it: more would be noise, fewer a board that does not work.
#include "tests/rules/planted.hpp"

namespace kp {
namespace {

/// All outputs of a bank at the weakest drive, so that a test counts only those it speaks of.
void weak_outputs(Planted& p, const std::string& bank) {
    for (const auto& port : p.world().netlist.ports)
        if (const auto peg = p.project.pegs.find(port.name);
            port.direction != Direction::in && peg != p.project.pegs.end() && p.pin(peg->second.pin).bank == bank)
            p.attributes(port.name).drive = port.bus == "lamp" ? "4" : "2";  // a lamp draws 2.6 mA
}

struct Plant {
    const char* name;
    void (*fault)(Planted&);
    const char* expected;  ///< as Planted::dump() says it
};

class PlantedFault : public testing::TestWithParam<Plant> {};

TEST_P(PlantedFault, GivesJustWhatIsExpected) {
    Planted p;
    GetParam().fault(p);
    EXPECT_EQ(p.dump(), GetParam().expected);
    if (HasFailure())
        for (const auto& f : p.findings()) std::cout << "  " << f.rule << " " << f.text << "\n";
}

std::string name_of_plant(const testing::TestParamInfo<Plant>& info) {
    return info.param.name;
}

const std::string lamp_pin(Planted& p, int i) {
    return p.project.pegs.at("lamp[" + std::to_string(i) + "]").pin;
}

// Location -----------------------------------------------------------------------------------------------------------

constexpr Plant location[] = {
    {"Nothing", [](Planted&) {}, ""},
    {"L01_NoSuchPin", [](Planted& p) { p.peg("tone", "Z99"); }, "L01 stop"},
    {"L01_Ground",
     [](Planted& p) {
         for (const auto& pin : p.part.pins)
             if (pin.kind == PinKind::ground) p.peg("tone", pin.name);
     },
     "L01 stop"},
    {"L01_Configuration",
     [](Planted& p) {
         for (const auto& pin : p.part.pins)
             if (pin.kind == PinKind::configuration) p.peg("tone", pin.name);
     },
     "L01 stop"},
    {"L01_NotConnected", [](Planted& p) { p.pin_of("tone").kind = PinKind::not_connected; }, "L01 stop"},
    {"L02_OneMore", [](Planted& p) { p.peg("lamp[0]", lamp_pin(p, 1)); }, "L02 stop"},
    {"L02_Three",
     [](Planted& p) {
         p.peg("lamp[0]", lamp_pin(p, 1));
         p.peg("lamp[2]", lamp_pin(p, 1));
     },
     "L02 stop"},
    {"L02_TwoPins",
     [](Planted& p) {
         p.peg("lamp[0]", lamp_pin(p, 1));
         p.peg("lamp[2]", lamp_pin(p, 3));
     },
     "L02 stop x2"},
    {"L02_ExchangedIsLegal",
     [](Planted& p) {
         p.swap("seg_n[7]", "tone");
         p.swap("seg_n[7]", "tone");
     },
     ""},
    {"L03_Swapped", [](Planted& p) { p.swap("adc_fr_p", "adc_fr_n"); }, "L03 stop x2"},
    {"L03_TornApart", [](Planted& p) { p.swap("adc_fr_n", "adc_d_n[0]"); }, "L03 stop x6"},
    {"L03_NoPair",
     [](Planted& p) {
         auto& pin = p.pin_of("adc_fr_n");
         p.pin(pin.pair).pair = "";
         pin.pair = "";
     },
     "L03 stop x2"},
    {"L04_NoClockPin", [](Planted& p) { p.pin_of("rgmii_rxc").kind = PinKind::io; }, "L04 stop"},
    {"L04_Complement",
     [](Planted& p) {
         auto& pin = p.pin_of("rgmii_rxc");
         p.pin(pin.pair).pair_true = true;
         pin.pair_true = false;
     },
     "L04 stop"},
    {"L04_PllOutOfReach",
     [](Planted& p) {
         p.pin_of("osc_25").reaches = {"part", "regions"};
     },
     "L04 caution"},
    {"L04_RegionsAreEnough", [](Planted& p) { p.pin_of("rgmii_rxc").reaches = {"regions"}; }, ""},
    {"L04_NothingInReach", [](Planted& p) { p.pin_of("rgmii_rxc").reaches = {}; }, "L04 caution"},
    {"L05_PartDrives", [](Planted& p) { p.pin_of("lamp[0]").job = "FLASH_CLOCK"; }, "L05 stop"},
    {"L05_OtherMode", [](Planted& p) { p.pin_of("lamp[0]").job = "READY"; }, ""},
    {"L05_ModeThatDrives",
     [](Planted& p) {
         p.pin_of("lamp[0]").job = "READY";
         p.project.mode = p.board.mode = "byte stream";
         for (auto& s : p.board.straps) s.level = s.pin == p.board.straps[0].pin;
     },
     "L05 stop"},
    {"L05_BoardDrives", [](Planted& p) { p.pin_of("rocker[0]").job = "FLASH_DATA1"; }, "L05 caution"},
    {"L06_ReferenceTaken", [](Planted& p) { p.pin_of("mem_dq[0]").reference = true; }, "L06 stop"},
    {"L06_OutputsNeedNone", [](Planted& p) { p.pin_of("mem_a[0]").reference = true; }, ""},
    {"L06_OtherBank", [](Planted& p) { p.pin_of("lamp[0]").reference = true; }, ""},
    {"L06_ByAnOutput", [](Planted& p) { p.pin_of("mem_dm[0]").reference = true; }, "L06 stop"},
    {"L07_BitAstray", [](Planted& p) { p.swap("mem_dq[0]", "mem_dq[8]"); }, "L07 stop x2; L09 caution"},
    {"L07_NoGroup", [](Planted& p) { p.pin_of("mem_dq[3]").byte_group = ""; }, "L07 stop"},
    {"L07_StrobeOnNoStrobePin", [](Planted& p) { p.pin_of("mem_dqs_p[1]").strobe = false; }, "L07 stop"},
    {"L07_WithinTheByte", [](Planted& p) { p.swap("mem_dq[0]", "mem_dq[1]"); }, "L09 caution"},
    {"L07_Mask", [](Planted& p) { p.swap("mem_dm[0]", "mem_dm[1]"); }, "L07 stop x2"},
    {"L08_Fight", [](Planted& p) { p.terminal("LS1", "tone").direction = TerminalDirection::drives; }, "L08 stop"},
    {"L08_NobodyDrives", [](Planted& p) { p.terminal("U7", "pps").direction = TerminalDirection::reads; },
     "L08 caution"},
    {"L08_Floats",
     [](Planted& p) { std::erase_if(p.board.nets, [](const BoardNet& n) { return n.terminal == "U7.pps"; }); },
     "L08 caution"},
    {"L08_HeldByItsPad",
     [](Planted& p) {
         std::erase_if(p.board.nets, [](const BoardNet& n) { return n.terminal == "U7.pps"; });
         p.attributes("gps_pps").pull = "down";
     },
     ""},
    {"L08_NeverLetsGo",
     [](Planted& p) {
         p.terminal("LS1", "tone").open_drain = true;
         p.net("LS1.tone").pull = "up";
         p.net("LS1.tone").pull_ohm = 2200;
     },
     "L08 caution"},
    {"L08_GoesBothWays", [](Planted& p) { p.terminal("U7", "pps").direction = TerminalDirection::both; }, ""},
    {"L09_Reversed",
     [](Planted& p) {
         for (int i = 0; i < 4; ++i) p.swap("lamp[" + std::to_string(i) + "]", "lamp[" + std::to_string(7 - i) + "]");
     },
     "L09 caution"},
    {"L09_Shuffled", [](Planted& p) { p.swap("rocker[2]", "rocker[5]"); }, "L09 caution"},
    {"L09_Neighbours", [](Planted& p) { p.swap("rgmii_txd[1]", "rgmii_txd[2]"); }, "L09 caution"},
    {"L09_SwappedTwice",
     [](Planted& p) {
         p.swap("rocker[2]", "rocker[5]");
         p.swap("rocker[2]", "rocker[5]");
     },
     ""},
    {"L10_NobodyDrives", [](Planted& p) { p.project.pegs.erase("phy_rst_n"); }, "L11 stop; L10 caution"},
    {"L10_WrongPull",
     [](Planted& p) {
         p.terminal("U6", "dir").must = "high";
         p.net("U6.dir").pull = "down";
         p.net("U6.dir").pull_ohm = 4700;
         p.project.pegs.erase("winch_dir");
     },
     "L11 stop; L10 caution"},
    {"L10_RightPull",
     [](Planted& p) {
         p.terminal("U6", "dir").must = "low";
         p.net("U6.dir").pull = "down";
         p.net("U6.dir").pull_ohm = 4700;
         p.project.pegs.erase("winch_dir");
     },
     "L11 stop"},
    {"L10_NothingHolds",
     [](Planted& p) {
         p.terminal("U6", "dir").must = "low";
         p.project.pegs.erase("winch_dir");
     },
     "L11 stop; L10 caution"},
    {"L10_UnusedPinsHold",
     [](Planted& p) {
         p.terminal("U6", "dir").must = "low";
         p.project.pegs.erase("winch_dir");
         p.terminal("S1", "key0").name = "key0";
         p.project.unused_pins = "pull down";
     },
     "L11 stop"},
    {"L11_Adrift", [](Planted& p) { p.project.pegs.erase("tone"); }, "L11 stop"},
    {"L11_TwoAdrift",
     [](Planted& p) {
         p.project.pegs.erase("tone");
         p.project.pegs.erase("lamp[7]");
     },
     "L11 stop x2"},
    {"L11_LooseIsPegged", [](Planted& p) { p.project.pegs["tone"].state = PegState::loose; }, ""},
    {"L12_DrivenLow",
     [](Planted& p) {
         p.project.unused_pins = "drive low";
         p.project.pegs.erase("gps_pps");
     },
     "L11 stop; L12 caution"},
    {"L12_AgainstThePull",
     [](Planted& p) {
         p.project.unused_pins = "pull up";
         p.project.pegs.erase("rocker[0]");
     },
     "L11 stop; L12 caution"},
    {"L12_WithThePull",
     [](Planted& p) {
         p.project.unused_pins = "pull down";
         p.project.pegs.erase("rocker[0]");
     },
     "L11 stop"},
    {"L12_OpenDrainGivesWay",
     [](Planted& p) {
         p.project.unused_pins = "drive low";
         p.terminal("U7", "pps").open_drain = true;
         p.net("U7.pps").pull = "up";
         p.net("U7.pps").pull_ohm = 4700;
         p.project.pegs.erase("gps_pps");
     },
     "L11 stop"},
    {"L13_OnAnotherPart", [](Planted& p) { p.swap("lamp[0]", "winch_dir"); }, "L13 stop x2"},
    {"L13_KeyOnRocker", [](Planted& p) { p.swap("key_n[0]", "rocker[0]"); }, "L13 stop x2"},
    {"L13_HeaderIsForAnything",
     [](Planted& p) {
         p.peg("dig_n[0]", p.project.pegs.at("head_b[7]").pin);
         p.project.pegs.erase("head_b[7]");
     },
     "L11 stop"},
    {"L14_ClockElsewhere", [](Planted& p) { p.pin_of("rgmii_rxc").region = "R0C0"; }, "L14 caution"},
    {"L14_OneBitElsewhere", [](Planted& p) { p.pin_of("rgmii_rxd[3]").region = "R0C1"; }, "L14 caution"},
    {"L14_SendSide", [](Planted& p) { p.pin_of("rgmii_txd[0]").region = "R0C1"; }, "L14 caution"},
    {"L14_NotTimedAgainstIt", [](Planted& p) { p.pin_of("phy_mdc").region = "R0C1"; }, ""},
};
INSTANTIATE_TEST_SUITE_P(Location, PlantedFault, testing::ValuesIn(location), name_of_plant);

// Electrical ---------------------------------------------------------------------------------------------------------

constexpr Plant electrical[] = {
    {"E01_Nobody", [](Planted& p) { p.attributes("tone").standard = ""; }, "E01 stop"},
    {"E01_Unknown", [](Planted& p) { p.attributes("tone").standard = "LVCMOS 9 V"; }, "E01 stop"},
    {"E01_All",
     [](Planted& p) {
         for (int i = 0; i < 8; ++i) p.project.attributes.erase("lamp[" + std::to_string(i) + "]");
     },
     "E01 stop x8"},
    {"E02_NotInThisBank", [](Planted& p) { std::erase(p.bank("3").standards, "LVCMOS 2.5 V"); }, "E02 stop x21"},
    {"E02_InputOnly", [](Planted& p) { p.standard("LVCMOS 2.5 V").direction = "in"; }, "E02 stop x18"},
    {"E02_NoResistors", [](Planted& p) { p.standard("LVCMOS 2.5 V").resistors = true; }, "E02 stop x11"},
    {"E02_ResistorsThere",
     [](Planted& p) {
         auto copy = p.standard("LVCMOS 2.5 V");
         copy.name = "with resistors";
         copy.resistors = true;
         p.standards.rows.push_back(copy);
         for (auto& b : p.part.banks) b.standards.push_back(copy.name);
         p.attributes("rgmii_txd[0]").standard = copy.name;
     },
     ""},
    {"E03_Output", [](Planted& p) { p.attributes("lamp[0]").standard = "LVCMOS 1.8 V"; }, "E03 stop"},
    {"E03_RailMoved",
     [](Planted& p) {
         for (auto& r : p.board.rails)
             if (r.bank == "3") r.volts = 1.8;
     },
     "E03 stop x21; E05 stop x10"},
    {"E03_InputMayDiffer", [](Planted& p) { p.attributes("load_miso").standard = "LVCMOS 2.5 V"; }, ""},
    {"E03_WithinTwoMillivolt",
     [](Planted& p) {
         for (auto& r : p.board.rails)
             if (r.bank == "3") r.volts = 2.502;
     },
     ""},
    {"E04_TwoReferences",
     [](Planted& p) {
         auto copy = p.standard("SSTL 1.5 V");
         copy.name = "other";
         copy.vref = 0.8;
         p.standards.rows.push_back(copy);
         p.bank("5").standards.push_back("other");
         p.attributes("mem_dq[0]").standard = "other";
     },
     "E04 stop x16"},
    {"E04_SameReference",
     [](Planted& p) {
         auto copy = p.standard("SSTL 1.5 V");
         copy.name = "other";
         p.standards.rows.push_back(copy);
         p.bank("5").standards.push_back("other");
         p.attributes("mem_dq[0]").standard = "other";
     },
     ""},
    {"E04_OutputsNeedNone",
     [](Planted& p) {
         auto copy = p.standard("SSTL 1.5 V");
         copy.name = "other";
         copy.vref = 0.8;
         p.standards.rows.push_back(copy);
         p.bank("4").standards.push_back("other");
         p.attributes("mem_a[0]").standard = "other";
     },
     ""},
    {"E05_HighAtTheBoundary", [](Planted& p) { p.terminal("LS1", "tone").vih = 2.0; }, ""},
    {"E05_HighJustMissed", [](Planted& p) { p.terminal("LS1", "tone").vih = 2.001; }, "E05 stop"},
    {"E05_LowAtTheBoundary", [](Planted& p) { p.terminal("LS1", "tone").vil = 0.4; }, ""},
    {"E05_LowJustMissed", [](Planted& p) { p.terminal("LS1", "tone").vil = 0.399; }, "E05 stop"},
    {"E05_Borne", [](Planted& p) { p.terminal("LS1", "tone").volts_max = 2.5; }, ""},
    {"E05_Destroyed", [](Planted& p) { p.terminal("LS1", "tone").volts_max = 2.499; }, "E05 stop"},
    {"E05_BoardIntoPart", [](Planted& p) { p.terminal("U7", "pps").standard = "LVCMOS 3.3 V"; }, "E05 stop"},
    {"E05_PairOnSingle", [](Planted& p) { p.terminal("U7", "pps").standard = "LVDS 2.5 V"; }, "E05 stop"},
    {"E05_SwingTooSmall", [](Planted& p) { p.standard("LVDS 2.5 V").vid_min = 0.2471; }, "E05 stop x12"},
    {"E05_SwingJustEnough", [](Planted& p) { p.standard("LVDS 2.5 V").vid_min = 0.247; }, ""},
    {"E06_NoSuchDrive", [](Planted& p) { p.attributes("lamp[0]").drive = "5"; }, "E06 stop"},
    {"E06_LastDrive", [](Planted& p) { p.attributes("lamp[0]").drive = "16"; }, ""},
    {"E06_PullOnAnOutput", [](Planted& p) { p.attributes("lamp[0]").pull = "up"; }, "E06 stop"},
    {"E06_TwoPulls", [](Planted& p) { p.attributes("key_n[0]").pull = "down"; }, "E06 stop"},
    {"E06_SamePull", [](Planted& p) { p.attributes("key_n[0]").pull = "up"; }, ""},
    {"E07_AtTheDrive",
     [](Planted& p) {
         p.attributes("lamp[0]").drive = "4";
         p.net("D1.lamp0").series_ohm = 250;
     },
     ""},
    {"E07_AboveTheDrive",
     [](Planted& p) {
         p.attributes("lamp[0]").drive = "4";
         p.net("D1.lamp0").series_ohm = 249;
     },
     "E07 caution"},
    {"E07_Coil",
     [](Planted& p) {
         p.terminal("LS1", "tone").current_ma = 12.1;
         p.net("LS1.tone").series_ohm = 0;
     },
     "E07 caution"},
    {"E07_CoilThroughItsResistor",
     [](Planted& p) {
         p.terminal("LS1", "tone").current_ma = 100;
         p.net("LS1.tone").series_ohm = 262.5;
     },
     ""},
    {"E08_PinAtItsLimit", [](Planted& p) { p.bank("2").pin_ma = 1.0 / 390 * 1000; }, ""},
    {"E08_PinAbove", [](Planted& p) { p.bank("2").pin_ma = 1.0 / 390 * 1000 - 0.001; }, "E08 stop x8"},
    {"E08_BankAtItsLimit", [](Planted& p) { p.bank("2").bank_ma = 8.0 / 390 * 1000; }, "E08 caution"},
    {"E08_BankAbove", [](Planted& p) { p.bank("2").bank_ma = 8.0 / 390 * 1000 - 0.001; }, "E08 stop"},
    {"E08_FourFifths", [](Planted& p) { p.bank("2").bank_ma = 8.0 / 390 * 1000 / 0.8; }, ""},
    {"E08_SupplyPin",
     [](Planted& p) {
         for (auto& pin : p.part.pins)
             if (pin.bank == "2") pin.supply_pair = "only";
         p.bank("2").pair_ma = 20;
         p.bank("2").switching_limit = 100;
     },
     "E08 stop"},
    {"E09_JustOne",
     [](Planted& p) {
         weak_outputs(p, "2");
         for (auto& pin : p.part.pins)
             if (pin.bank == "2") pin.supply_pair = "only";
         p.bank("2").switching_limit = 4;
         p.attributes("lamp[0]").drive = p.attributes("lamp[1]").drive = "8";
     },
     ""},
    {"E09_JustAbove",
     [](Planted& p) {
         weak_outputs(p, "2");
         for (auto& pin : p.part.pins)
             if (pin.bank == "2") pin.supply_pair = "only";
         p.bank("2").switching_limit = 4;
         p.attributes("lamp[0]").drive = p.attributes("lamp[1]").drive = p.attributes("lamp[2]").drive = "8";
     },
     "E09 caution"},
    {"E09_FastAndStrong",
     [](Planted& p) {
         for (int i = 0; i < 8; ++i) {
             p.attributes("lamp[" + std::to_string(i) + "]").drive = "16";
             p.attributes("lamp[" + std::to_string(i) + "]").slew = "fast";
         }
     },
     "E09 caution"},
    {"E09_LimitOfTwo", [](Planted& p) { p.bank("4").switching_limit = 2; }, "E09 caution x2"},
    {"E10_NothingPulls", [](Planted& p) { p.net("J4.sda").pull = ""; }, "E10 stop"},
    {"E10_OnlyThePad",
     [](Planted& p) {
         p.net("J4.sda").pull = "";
         p.attributes("i2c_sda").pull = "up";
     },
     "E10 caution"},
    {"E10_Least", [](Planted& p) { p.net("J4.sda").pull_ohm = 700; }, ""},
    {"E10_TooStrong", [](Planted& p) { p.net("J4.sda").pull_ohm = 699; }, "E10 stop"},
    {"E10_Most", [](Planted& p) { p.net("J4.sda").pull_ohm = 9835; }, ""},
    {"E10_TooWeak", [](Planted& p) { p.net("J4.sda").pull_ohm = 9836; }, "E10 caution"},
    {"E11_PairNotEnded",
     [](Planted& p) { p.attributes("adc_fr_p").termination = p.attributes("adc_fr_n").termination = ""; },
     "E11 caution"},
    {"E11_HalfSaysIt", [](Planted& p) { p.attributes("adc_fr_n").termination = ""; }, ""},
    {"E11_EndedOnTheBoard",
     [](Planted& p) {
         p.attributes("adc_fr_p").termination = p.attributes("adc_fr_n").termination = "";
         p.net("U4.fr_p").parallel_ohm = 100;
     },
     ""},
    {"E11_FastEdge",
     [](Planted& p) {
         p.attributes("winch_dir").slew = "fast";
         p.net("U6.dir").trace_mm = 66.7;
     },
     "E11 caution"},
    {"E11_ShortEnough",
     [](Planted& p) {
         p.attributes("winch_dir").slew = "fast";
         p.net("U6.dir").trace_mm = 66.6;
     },
     ""},
    {"E11_SeriesResistor",
     [](Planted& p) {
         p.attributes("winch_dir").slew = "fast";
         p.net("U6.dir").trace_mm = 200;
         p.net("U6.dir").series_ohm = 33;
     },
     ""},
    {"E12_NotEnded", [](Planted& p) { p.attributes("mem_dq[0]").termination = ""; }, "E12 note"},
    {"E12_Board",
     [](Planted& p) {
         p.attributes("mem_dq[0]").termination = "";
         p.net("U3.dq0").parallel_ohm = 50;
     },
     ""},
    {"E12_BankHasNone",
     [](Planted& p) {
         p.bank("5").termination_ohm.clear();
         for (int i = 0; i < 16; ++i) p.attributes("mem_dq[" + std::to_string(i) + "]").termination = "";
     },
     ""},
    {"E12_Eight",
     [](Planted& p) {
         for (int i = 0; i < 8; ++i) p.attributes("mem_dq[" + std::to_string(i) + "]").termination = "";
     },
     "E12 note x8"},
};
INSTANTIATE_TEST_SUITE_P(Electrical, PlantedFault, testing::ValuesIn(electrical), name_of_plant);

// Agreement with design, clock and time; part and load
// ------------------------------------------------------------------

constexpr Plant agreement[] = {
    {"D01_OtherSize", [](Planted& p) { p.board.part = "SKR12-Q144-2C"; }, "D01 stop"},
    {"D01_OtherSpeed", [](Planted& p) { p.board.part = "SKR24-B256-1C"; }, "D01 caution"},
    {"D01_OtherRange", [](Planted& p) { p.board.part = "SKR24-B256-2I"; }, "D01 caution"},
    {"D02_BlankInAPath", [](Planted& p) { p.project.delays = "my delays.sdf"; }, "D02 caution"},
    {"D02_WordOfVhdl",
     [](Planted& p) {
         p.in_netlist(" tone, lamp", " buffer, lamp");
         p.in_netlist("output tone;", "output buffer;");
         p.in_netlist(".PAD(tone)", ".PAD(buffer)");
         p.text(" tone ", " buffer ");
         p.project.pegs["buffer"] = p.project.pegs["tone"];
         p.project.attributes["buffer"] = p.project.attributes["tone"];
         p.project.pegs.erase("tone");
         p.project.attributes.erase("tone");
     },
     "D02 caution"},
    {"D02_CaseOnly",
     [](Planted& p) {
         p.in_netlist("input enc_b;", "input ENC_A;");
         p.in_netlist(" enc_b,", " ENC_A,");
         p.in_netlist(".PAD(enc_b)", ".PAD(ENC_A)");
     },
     "L11 stop; D02 caution; D03 caution; D06 caution"},
    {"D03_NoSuchPort", [](Planted& p) { p.add("set_input_delay -clock sys 1 [get_ports nobody]"); }, "D03 stop"},
    {"D03_NoSuchClock", [](Planted& p) { p.add("set_output_delay -clock nobody 1 [get_ports tone]"); }, "D03 stop"},
    {"D03_PegOfNobody",
     [](Planted& p) {
         p.project.pegs["nobody"] = {p.free_pin(""), PegState::pegged, "by hand"};
     },
     "D03 caution"},
    {"D04_OtherPeriod", [](Planted& p) { p.text("-period 40 ", "-period 50 "); }, "D04 stop"},
    {"D04_AtItsTolerance", [](Planted& p) { p.text("-period 40 ", "-period 40.001 "); }, ""},
    {"D04_PastItsTolerance", [](Planted& p) { p.text("-period 40 ", "-period 40.00101 "); }, "D04 stop"},
    {"D04_Duty", [](Planted& p) { p.text("-period 40 ", "-period 40 -waveform {0 22.1} "); }, "D04 stop"},
    {"D04_DutyAtItsEdge", [](Planted& p) { p.text("-period 40 ", "-period 40 -waveform {0 22} "); }, ""},
    {"D05_NoClock",
     [](Planted& p) {
         p.text("create_clock -name rxc -period 8.0 [get_ports rgmii_rxc]", "create_clock -name rxc -period 8.0");
     },
     "D05 stop; D06 caution; T02 caution"},
    {"D05_NoClockOfThePair",
     [](Planted& p) {
         p.text("create_clock -name dco -period 6.667 [get_ports adc_dco_p]", "create_clock -name dco -period 6.667");
     },
     "D05 stop; D06 caution; T02 caution"},
    {"D05_NobodyUses", [](Planted& p) { p.add("create_clock -name idle -period 10"); }, "D05 note"},
    {"D05_UsedByADelay",
     [](Planted& p) {
         p.add("create_clock -name outside -period 8");
         p.add("set_output_delay -clock outside -add_delay 0 [get_ports tone]");
     },
     ""},
    {"D06_NoDelay", [](Planted& p) { p.text("phy_mdio i2c_* head_*}", "phy_mdio head_*}"); }, "D06 caution x2"},
    {"D06_HalfOfIt",
     [](Planted& p) { p.text("set_output_delay -clock eth -min -1.0 [get_ports {rgmii_txd[*] rgmii_tx_ctl}]", ""); },
     "D06 caution x5"},
    {"D06_OneInput", [](Planted& p) { p.text("winch_fault_n ", ""); }, "D06 caution"},
    {"D07_Vco",
     [](Planted& p) {
         for (auto& pll : p.part.plls) pll.vco_mhz[1] = 1499;
     },
     "D07 stop"},
    {"D07_VcoAtItsEnd",
     [](Planted& p) {
         for (auto& pll : p.part.plls) pll.vco_mhz[1] = 1500;
     },
     ""},
    {"D07_Input",
     [](Planted& p) {
         for (auto& pll : p.part.plls) pll.input_mhz[0] = 25.1;
     },
     "D07 stop"},
    {"D07_Detector",
     [](Planted& p) {
         for (auto& pll : p.part.plls) pll.detector_mhz[0] = 26;
     },
     "D07 stop"},
    {"D07_Multiplier",
     [](Planted& p) {
         for (auto& pll : p.part.plls) pll.multiply[1] = 59;
     },
     "D07 stop"},
    {"D07_SaysOtherwise", [](Planted& p) { p.text("-multiply_by 5", "-multiply_by 6"); }, "D07 stop"},
    {"D07_NoSetting",
     [](Planted& p) {
         p.in_netlist("#(.DIVIDE(1), .MULTIPLY(60), .DIVIDE0(15), .DIVIDE1(12), .DIVIDE2(10)) ", "");
         for (auto& pll : p.part.plls) pll.vco_mhz[1] = 1499;
     },
     "D07 stop"},
    {"D07_ASettingExists",
     [](Planted& p) { p.in_netlist("#(.DIVIDE(1), .MULTIPLY(60), .DIVIDE0(15), .DIVIDE1(12), .DIVIDE2(10)) ", ""); },
     ""},
    {"D08_GroupsForgotten", [](Planted& p) { p.text("set_clock_groups -asynchronous", "#"); },
     "D08 stop x2; T01 stop x4"},
    {"D08_OnePairForgotten",
     [](Planted& p) {
         p.text(
             "set_clock_groups -asynchronous -group {sys} -group {eth} -group {mem} -group {rxc} -group {dco} -group "
             "{osc_25}",
             "set_clock_groups -asynchronous -group {sys eth mem osc_25} -group {rxc}");
     },
     "D08 stop; T01 stop x3"},
    {"D08_BusNotInGray",
     [](Planted& p) {
         p.in_netlist("SK_REG rx_f_wp_gray_0_reg (.D(rx_f_wp_g_t1065)", "SK_REG rx_f_wp_gray_0_reg (.D(rx_f_wp_0)");
     },
     "D08 caution"},
    {"D08_ExceptionIsEnough",
     [](Planted& p) {
         p.text(
             "set_clock_groups -asynchronous -group {sys} -group {eth} -group {mem} -group {rxc} -group {dco} -group "
             "{osc_25}",
             "set_clock_groups -asynchronous -group {sys eth mem osc_25} -group {rxc}\nset_false_path -from "
             "[get_clocks dco] -to [get_clocks sys]");
     },
     "T01 stop x2"},
    {"D09_BoardIsActiveHigh", [](Planted& p) { p.terminal("S5", "rst_n").active_low = false; }, "D09 caution"},
    {"D09_Phy", [](Planted& p) { p.terminal("U2", "phy_rst_n").active_low = false; }, "D09 caution"},
    {"D09_Memory", [](Planted& p) { p.terminal("U3", "mem_rst_n").active_low = false; }, "D09 caution"},
    {"D09_NoResetNoMatter", [](Planted& p) { p.terminal("U5", "cs_n").active_low = false; }, ""},
    {"D10_OneRegister",
     [](Planted& p) { p.in_netlist("SK_REG key0_s2_reg (.D(key0_s1)", "SK_REG key0_s2_reg (.D(key0_state)"); },
     "D10 caution"},
    {"D10_StraightIntoLogic",
     [](Planted& p) {
         p.in_netlist("SK_REG key0_s1_reg (.D(key_n_0_i)", "SK_REG key0_s1_reg (.D(key_n_1_i)");
         p.in_netlist(".A0(scale_y_t21), .A1(scale_15)", ".A0(key_n_0_i), .A1(scale_15)");
     },
     "D10 caution"},
    {"D10_AnotherPort",
     [](Planted& p) {
         for (auto& part : p.board.parts)
             if (part.ref == "U3") part.kind = "key";
     },
     "D10 caution x4"},
    {"D11_TooFast", [](Planted& p) { p.in_netlist("pad_lamp_3 (.A(lamp_q3)", "pad_lamp_3 (.A(scale_15)"); },
     "D11 note"},
    {"D11_RegisteredOnce", [](Planted& p) { p.in_netlist("pad_lamp_3 (.A(lamp_q3)", "pad_lamp_3 (.A(scale_0)"); },
     "D11 note"},
    {"D11_SlowEnough", [](Planted& p) { p.in_netlist("pad_lamp_3 (.A(lamp_q3)", "pad_lamp_3 (.A(since_16)"); }, ""},
    {"D11_NoLamp", [](Planted& p) { p.in_netlist("pad_tone (.A(tone_q)", "pad_tone (.A(scale_0)"); }, ""},
    {"P01_AnotherChip", [](Planted& p) { p.idcode = 0x1A2460FF; }, "P01 stop"},
    {"P01_OneBit", [](Planted& p) { p.idcode = p.part.idcode ^ 0x10000000; }, "P01 stop"},
    {"P01_Itself", [](Planted& p) { p.idcode = p.part.idcode; }, ""},
    {"P01_NoAnswer", [](Planted& p) { p.idcode = 0xFFFFFFFF; }, "P01 stop"},
    {"P02_Strap", [](Planted& p) { p.board.straps[0].level = 1; }, "P02 stop"},
    {"P02_BothStraps", [](Planted& p) { p.board.straps[0].level = p.board.straps[1].level = 1; }, "P02 stop x2"},
    {"P02_StartClock", [](Planted& p) { p.project.start_clock = "jtag"; }, "P02 stop"},
    {"P02_RightClock", [](Planted& p) { p.project.start_clock = "internal"; }, ""},
    {"P02_NoSuchMode", [](Planted& p) { p.project.mode = "tape"; }, "P02 stop"},
    {"P03_Volatile", [](Planted& p) { p.project.load = "volatile"; }, "P03 caution"},
    {"P03_Stored", [](Planted& p) { p.project.load = "stored"; }, ""},
    {"P03_ByteStreamToo",
     [](Planted& p) {
         p.project.load = "volatile";
         p.board.mode = "byte stream";
         p.board.straps[0].level = 1;
     },
     "P03 caution"},
    {"P03_CableBoard",
     [](Planted& p) {
         p.project.load = "volatile";
         p.board.mode = "cable only";
         p.board.straps[0].level = p.board.straps[1].level = 1;
     },
     ""},
};
INSTANTIATE_TEST_SUITE_P(Agreement, PlantedFault, testing::ValuesIn(agreement), name_of_plant);

}  // namespace
}  // namespace kp
