# profiler on Saltmarsh: clocks
create_clock -name osc_25 -period 40 [get_ports osc_25]
create_clock -name rxc -period 8.0 [get_ports rgmii_rxc]
create_clock -name adc_clk -period 6.667 [get_ports adc_clk_out_p]
# one PLL: 25 MHz x 4, x 5 and x 6
create_generated_clock -name sys -source [get_pins pll/CKI] -multiply_by 4 [get_pins pll/CK0]
create_generated_clock -name eth -source [get_pins pll/CKI] -multiply_by 5 [get_pins pll/CK1]
create_generated_clock -name mem -source [get_pins pll/CKI] -multiply_by 6 [get_pins pll/CK2]
set_clock_uncertainty -setup 0.150 [get_clocks {sys eth mem rxc adc_clk}]
set_clock_uncertainty -hold 0.050 [get_clocks {sys eth mem rxc adc_clk}]
# clocks that come with their data reach the registers through a pad and a root
set_clock_latency 1.4 [get_clocks {rxc adc_clk}]
# they meet only in synchronisers and Gray-coded FIFOs
set_clock_groups -asynchronous -group {sys} -group {eth} -group {mem} -group {rxc} -group {adc_clk} -group {osc_25}
