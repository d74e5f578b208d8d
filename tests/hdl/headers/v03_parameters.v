//= top fifo
//= port din in wire 15:0
//= port level out wire 5:0
module fifo #(parameter WIDTH = 16, parameter DEPTH = 32, parameter AW = $clog2(DEPTH)) (
  input  [WIDTH-1:0] din,
  output [AW:0]      level
);
endmodule
