//= top chip
//= caution none
//= note simulation-only
//= port clk in wire
module chip (input clk);
endmodule
module bench;
  reg clk;
  chip dut (.clk(clk));
  initial begin clk = 0; end
endmodule
