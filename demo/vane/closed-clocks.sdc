# vane on Tussock: the clock, and what the wind and the hand do to it
create_clock -name osc_20 -period 50 [get_ports osc_20]
set_clock_uncertainty -setup 0.200 [get_clocks osc_20]
set_clock_uncertainty -hold 0.050 [get_clocks osc_20]

# keys: nobody knows when they are pressed; two registers and a slow sample stand behind each
set_false_path -from [get_ports {hold_n zero_n}]
