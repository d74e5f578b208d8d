//= top m
//= port a in wire 0:7
//= port b in wire 3:-4
//= port c in wire -1:-1
module m (input [0:7] a, input [3:-4] b, input [-1:-1] c);
endmodule
