//= top m
//= port m2 in wire 31:0
module m (input [3:0][7:0] m2);
endmodule
