//= top m
//= caution include
//= port a in wire
`include "nowhere.vh"
module m (input a);
endmodule
