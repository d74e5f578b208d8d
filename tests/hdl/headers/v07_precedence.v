//= top m
//= port a in wire 13:0
//= port b in wire 6:0
//= port c in wire 15:0
//= port d in wire 3:0
//= port e in wire 5:2
module m (input [2+3*4-1:0] a, input [1<<2|2:0] b, input [2**4-1:0] c, input [7>>1&3:0] d, input [10%6+1:20/10] e);
endmodule
