# linkwatch on Headland
create_clock -name osc_50 -period 20 [get_ports osc_50]
create_generated_clock -name sys -source [get_pins pll/CKI] -multiply_by 2 [get_pins pll/CK0]
set_clock_uncertainty -setup 0.120 [get_clocks sys]
set_clock_uncertainty -hold 0.040 [get_clocks sys]
# all of the outside is slow or comes by hand: sampled, no promise
set_false_path -from [get_ports {host_rst_n wake_n cage?_present_n cage?_fault cage?_loss cage?_sda cage?_scl rocker[*] head[*]}]
set_false_path -to [get_ports {wake_n cage?_off cage?_sda cage?_scl lamp_n[*] head[*]}]
