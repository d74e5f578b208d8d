//= top m
//= port clk in wire
//= port d in wire 7:0
//= port q out reg 7:0
module m (input clk, input [7:0] d, output reg [7:0] q);
  always @(posedge clk) q <= d;
endmodule
