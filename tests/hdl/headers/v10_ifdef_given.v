//= define BOARD_A=1
//= top m
//= port clk in wire
//= port lamps out wire 7:0
module m (
  input clk
`ifdef BOARD_A
  , output [7:0] lamps
  `ifdef DEEP
  , output deep
  `endif
`else
  `ifdef BOARD_A
  , output wrong
  `endif
`endif
);
endmodule
