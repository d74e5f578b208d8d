-- SPDX-License-Identifier: GPL-3.0-or-later
-- The ports of profiler, before there is anything inside: enough to plan the pins.
library ieee;
use ieee.std_logic_1164.all;

entity profiler is
  port (
    osc_25 : in std_logic;
    rst_n : in std_logic;
    rgmii_rxc : in std_logic;
    rgmii_rxd : in std_logic_vector(3 downto 0);
    rgmii_rx_ctl : in std_logic;
    rgmii_txc : out std_logic;
    rgmii_txd : out std_logic_vector(3 downto 0);
    rgmii_tx_ctl : out std_logic;
    phy_mdc : out std_logic;
    phy_mdio : inout std_logic;
    phy_rst_n : out std_logic;
    mem_dq : inout std_logic_vector(15 downto 0);
    mem_dqs_p : inout std_logic_vector(1 downto 0);
    mem_dqs_n : inout std_logic_vector(1 downto 0);
    mem_dm : out std_logic_vector(1 downto 0);
    mem_ck_p : out std_logic;
    mem_ck_n : out std_logic;
    mem_a : out std_logic_vector(13 downto 0);
    mem_ba : out std_logic_vector(2 downto 0);
    mem_ras_n : out std_logic;
    mem_cas_n : out std_logic;
    mem_we_n : out std_logic;
    mem_cke : out std_logic;
    mem_cs_n : out std_logic;
    mem_odt : out std_logic;
    mem_rst_n : out std_logic;
    adc_clk_out_p : in std_logic;
    adc_clk_out_n : in std_logic;
    adc_frame_p : in std_logic;
    adc_frame_n : in std_logic;
    adc_d_p : in std_logic_vector(3 downto 0);
    adc_d_n : in std_logic_vector(3 downto 0);
    adc_sck : out std_logic;
    adc_sdi : out std_logic;
    adc_cs_n : out std_logic;
    adc_sleep : out std_logic;
    load_sck : out std_logic;
    load_mosi : out std_logic;
    load_miso : in std_logic;
    load_cs_n : out std_logic;
    load_drdy_n : in std_logic;
    winch_pwm : out std_logic;
    winch_dir : out std_logic;
    winch_brake_n : out std_logic;
    winch_fault_n : in std_logic;
    enc_a : in std_logic;
    enc_b : in std_logic;
    enc_z : in std_logic;
    gps_pps : in std_logic;
    gps_tx : in std_logic;
    gps_rx : out std_logic;
    i2c_scl : inout std_logic;
    i2c_sda : inout std_logic;
    host_tx : in std_logic;
    host_rx : out std_logic;
    tone : out std_logic;
    lamp : out std_logic_vector(7 downto 0);
    rocker : in std_logic_vector(7 downto 0);
    key_n : in std_logic_vector(3 downto 0);
    seg_n : out std_logic_vector(7 downto 0);
    dig_n : out std_logic_vector(3 downto 0);
    head_a : inout std_logic_vector(7 downto 0);
    head_b : inout std_logic_vector(7 downto 0)
  );
end entity profiler;

architecture shell of profiler is
begin
end architecture shell;
