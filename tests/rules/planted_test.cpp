// SPDX-License-Identifier: GPL-3.0-or-later
// Every rule broken in at least three ways in a clean copy of `profiler`, at the boundary and on either side of it,
// with exactly the findings that are to come of it: more would be noise, fewer a board that does not work.
#include "tests/rules/planted.hpp"

namespace kp {
namespace {

TEST_P(PlantedFault, GivesJustWhatIsExpected) {
    Planted p;
    GetParam().fault(p);
    EXPECT_EQ(p.dump(), GetParam().expected);
    if (HasFailure())
        for (const auto& f : p.findings()) std::cout << "  " << f.rule << " " << f.text << "\n";
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
    {"L03_Swapped", [](Planted& p) { p.swap("adc_frame_p", "adc_frame_n"); }, "L03 stop x2"},
    {"L03_TornApart", [](Planted& p) { p.swap("adc_frame_n", "adc_d_n[0]"); }, "L03 stop x6"},
    {"L03_NoPair",
     [](Planted& p) {
         auto& pin = p.pin_of("adc_frame_n");
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
    {"L07_NoGroup", [](Planted& p) { p.pin_of("mem_dq[3]").strobe_group = ""; }, "L07 stop"},
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
    {"L13_KeyOnRocker", [](Planted& p) { p.swap("key_n[0]", "rocker[0]"); }, "L13 stop x2; D12 caution x2"},
    {"L13_HeaderIsForAnything",
     [](Planted& p) {
         p.peg("dig_n[0]", p.project.pegs.at("head_b[7]").pin);
         p.project.pegs.erase("head_b[7]");
     },
     "L11 stop"},
    {"L14_ClockElsewhere", [](Planted& p) { p.pin_of("rgmii_rxc").region = "low-west"; }, "L14 caution"},
    {"L14_OneBitElsewhere", [](Planted& p) { p.pin_of("rgmii_rxd[3]").region = "low-east"; }, "L14 caution"},
    {"L14_SendSide", [](Planted& p) { p.pin_of("rgmii_txd[0]").region = "low-east"; }, "L14 caution"},
    {"L14_NotTimedAgainstIt", [](Planted& p) { p.pin_of("phy_mdc").region = "low-east"; }, ""},
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
     [](Planted& p) { p.attributes("adc_frame_p").termination = p.attributes("adc_frame_n").termination = ""; },
     "E11 caution"},
    {"E11_HalfSaysIt", [](Planted& p) { p.attributes("adc_frame_n").termination = ""; }, ""},
    {"E11_EndedOnTheBoard",
     [](Planted& p) {
         p.attributes("adc_frame_p").termination = p.attributes("adc_frame_n").termination = "";
         p.net("U4.frame_p").parallel_ohm = 100;
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

}  // namespace
}  // namespace kp
