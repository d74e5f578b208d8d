//= top m
//= port a in wire 11:0
//= port y out wire 0:2
module m (a, y);
  parameter N = 3, M = N * 4;
  localparam LAST = N - 1;
  input [M-1:0] a;
  output [0:LAST] y;
endmodule
