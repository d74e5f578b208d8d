// SPDX-License-Identifier: GPL-3.0-or-later
// As planted_test.cpp, for the rules that compare the plan with design, clock and time, and part with load.
#include "tests/rules/planted.hpp"

namespace kp {
namespace {

// Agreement with design, clock and time; part and load
// ------------------------------------------------------------------

constexpr Plant agreement[] = {
    {"D01_OtherSize", [](Planted& p) { p.board.part = "SKR11-Q144-MN"; }, "D01 stop"},
    {"D01_OtherSpeed", [](Planted& p) { p.board.part = "SKR23-B256-LN"; }, "D01 caution"},
    {"D01_OtherRange", [](Planted& p) { p.board.part = "SKR23-B256-MW"; }, "D01 caution"},
    {"D01_WiredToNowhere",
     [](Planted& p) {
         p.board.nets.push_back({"Z99", "X9.1"});
     },
     "D01 stop"},
    {"D01_FedBankThatIsNotThere",
     [](Planted& p) {
         p.board.rails.push_back({"99", 3.3});
     },
     "D01 stop"},
    {"D01_OnlyTheOtherPackageIsSaid",
     [](Planted& p) {
         p.board.part = "SKR11-Q144-MN";
         p.board.nets.push_back({"Z99", "X9.1"});
     },
     "D01 stop"},
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
         p.text("create_clock -name adc_clk -period 6.667 [get_ports adc_clk_out_p]",
                "create_clock -name adc_clk -period 6.667");
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
     "D08 stop x2; T01 stop x3"},
    {"D08_OnePairForgotten",
     [](Planted& p) {
         p.text(
             "set_clock_groups -asynchronous -group {sys} -group {eth} -group {mem} -group {rxc} -group {adc_clk} "
             "-group "
             "{osc_25}",
             "set_clock_groups -asynchronous -group {sys eth mem osc_25} -group {rxc}");
     },
     "D08 stop; T01 stop x2"},
    {"D08_BusNotInGray",
     [](Planted& p) {
         p.in_netlist("SK_REGISTER rx_f_wp_gray_0_reg (.D(rx_f_wp_g_t1065)",
                      "SK_REGISTER rx_f_wp_gray_0_reg (.D(rx_f_wp_0)");
     },
     "D08 caution"},
    {"D08_ExceptionIsEnough",
     [](Planted& p) {
         p.text(
             "set_clock_groups -asynchronous -group {sys} -group {eth} -group {mem} -group {rxc} -group {adc_clk} "
             "-group "
             "{osc_25}",
             "set_clock_groups -asynchronous -group {sys eth mem osc_25} -group {rxc}\nset_false_path -from "
             "[get_clocks adc_clk] -to [get_clocks sys]");
     },
     "T01 stop"},
    {"D09_BoardIsActiveHigh", [](Planted& p) { p.terminal("S5", "rst_n").active_low = false; }, "D09 caution"},
    {"D09_Phy", [](Planted& p) { p.terminal("U2", "phy_rst_n").active_low = false; }, "D09 caution"},
    {"D09_Memory", [](Planted& p) { p.terminal("U3", "mem_rst_n").active_low = false; }, "D09 caution"},
    {"D09_NoResetNoMatter", [](Planted& p) { p.terminal("U5", "cs_n").active_low = false; }, ""},
    {"D10_OneRegister",
     [](Planted& p) {
         p.in_netlist("SK_REGISTER key0_s2_reg (.D(key0_s1)", "SK_REGISTER key0_s2_reg (.D(key0_state)");
     },
     "D10 caution"},
    {"D10_StraightIntoLogic",
     [](Planted& p) {
         p.in_netlist("SK_REGISTER key0_s1_reg (.D(key_n_0_i)", "SK_REGISTER key0_s1_reg (.D(key_n_1_i)");
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
