//= top m
//= port clk in wire
//= port led out wire
//= port last in wire
`define BOARD_B
module m (
  input clk,
`ifdef BOARD_A
  output [7:0] lamps,
`elsif BOARD_B
  output led,
`else
  output buzzer,
`endif
`ifndef BOARD_B
  input never,
`endif
  input last
);
endmodule
