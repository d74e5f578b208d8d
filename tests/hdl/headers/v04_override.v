//= param WIDTH=4
//= top fifo
//= port din in wire 3:0
//= port both out wire 7:0
module fifo #(parameter WIDTH = 16, localparam TWICE = 2 * WIDTH) (input [WIDTH-1:0] din, output [TWICE-1:0] both);
endmodule
