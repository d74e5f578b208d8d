//= top m
//= port a in wire 3:0
//= port b in wire 3:0
//= port c out wire
//= port d out wire
//= port e out reg 1:0
//= port f out reg 1:0
module m (input [3:0] a, b, output c, d, output reg [1:0] e, f);
endmodule
