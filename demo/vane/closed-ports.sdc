# the vane's sensor gives its five lines well before the next edge
set vane_late 6.0
set_input_delay -clock osc_20 -max [expr {$vane_late + 0.2}] [get_ports gray[*]]
set_input_delay -clock osc_20 -min 1.0 [get_ports gray[*]]

# header J2: the raw direction, straight through
set_output_delay -clock osc_20 -max 5.0 [get_ports raw[*]]
set_output_delay -clock osc_20 -min 0.0 [get_ports raw[*]]

# lamps of the compass rose
set_output_delay -clock osc_20 -max 4.0 \
    [get_ports {rose_n[*]}]
set_output_delay -clock osc_20 -min 0.0 [get_ports {rose_n[*]}]

# the sounder hears an edge or not: half a period is plenty
set_output_delay -clock osc_20 -max 10.0 [get_ports tone]
set_output_delay -clock osc_20 -min 0.0 [get_ports tone]
