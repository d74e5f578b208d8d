//= top counter
//= port clk in wire
//= port up in wire
//= port count out wire 3:0
module counter (clk, up, count);
  input clk, up;
  output [3:0] count;
  reg [3:0] count;
  always @(posedge clk) if (up) count <= count + 1;
endmodule
