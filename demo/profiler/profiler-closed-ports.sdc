# RGMII: the receiver's clock comes 2 ns late on purpose (internal delay of the PHY)
foreach edge {"" -clock_fall} {
    eval set_input_delay -clock rxc $edge -network_latency_included -max 2.8 -add_delay {[get_ports {rgmii_rxd[*] rgmii_rx_ctl}]}
    eval set_input_delay -clock rxc $edge -network_latency_included -min 1.2 -add_delay {[get_ports {rgmii_rxd[*] rgmii_rx_ctl}]}
}
# the PHY needs 1 ns before its edge, and the forwarded clock leaves 3 ns after ours by the same way: 1 - 3
set_output_delay -clock eth -max -2.0 [get_ports {rgmii_txd[*] rgmii_tx_ctl}]
set_output_delay -clock eth -min -1.0 [get_ports {rgmii_txd[*] rgmii_tx_ctl}]
# the converter's data change around the middle between two edges
foreach edge {"" -clock_fall} {
    eval set_input_delay -clock adc_clk $edge -network_latency_included -max 1.97 -add_delay {[get_ports {adc_d_p[*] adc_frame_p}]}
    eval set_input_delay -clock adc_clk $edge -network_latency_included -min 1.37 -add_delay {[get_ports {adc_d_p[*] adc_frame_p}]}
}
# memory commands are taken by the next clock
set_output_delay -clock mem -max 0.4 [get_ports {mem_a[*] mem_ba[*] mem_ras_n mem_cas_n mem_we_n mem_cs_n}]
set_output_delay -clock mem -min -0.4 [get_ports {mem_a[*] mem_ba[*] mem_ras_n mem_cas_n mem_we_n mem_cs_n}]
# what the hand does, and slow things that are sampled: no promise
set_false_path -from [get_ports {rst_n key_n[*] rocker[*] enc_* gps_pps gps_tx host_tx winch_fault_n load_miso load_drdy_n phy_mdio i2c_* head_*}]
set_false_path -to [get_ports {lamp[*] seg_n[*] dig_n[*] tone winch_* gps_rx host_rx load_* adc_sck adc_sdi adc_cs_n adc_sleep phy_* i2c_* head_*}]
# strobes and data of the memory are trained at start-up, the forwarded clocks are what others are measured by
set_false_path -from [get_ports {mem_dq[*] mem_dqs_p[*] mem_dqs_n[*]}]
set_false_path -to [get_ports {mem_dq[*] mem_dqs_p[*] mem_dqs_n[*] mem_dm[*] mem_ck_p mem_ck_n mem_cke mem_odt mem_rst_n rgmii_txc}]
# what is driven out must not be taken for what comes in
set_false_path -through [get_pins {pad_mem_dq_*/PAD pad_mem_dqs_*/PAD}]
# the comparison of the sums has four clocks
set_multicycle_path 4 -setup -from [get_cells held*_reg] -to [get_cells shear_q*_reg]
set_multicycle_path 3 -hold -from [get_cells held*_reg] -to [get_cells shear_q*_reg]
