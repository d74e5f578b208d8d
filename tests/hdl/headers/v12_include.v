//= top m
//= port a in wire 9:0
`include "widths.vh"
module m (input [`TEN-1:0] a);
endmodule
