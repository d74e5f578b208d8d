//= top m
//= port a in wire 15:0
//= port b in wire 7:0
//= port c in wire 3:0
//= port d in wire 999:0
module m (input [8'h0F:0] a, input ['d7:0] b, input [4'b00_11:0] c, input [1_000-1:0] d);
endmodule
