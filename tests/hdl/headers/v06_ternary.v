//= top m
//= port a in wire 31:0
//= port b in wire 7:0
module m #(parameter WIDE = 1) (input [WIDE ? 31 : 15 : 0] a, input [((WIDE == 0) ? 15 : 7):0] b);
endmodule
