//= top m
//= port clk in wire
//= port rst in wire
`define COMMON \
  input clk, \
  input rst
module m (`COMMON);
endmodule
