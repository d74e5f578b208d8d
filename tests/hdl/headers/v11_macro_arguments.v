//= top m
//= port tx out wire 3:0
//= port rx in wire 3:0
`define LANES(n, dir) dir [n-1:0]
module m (`LANES(4, output) tx, `LANES((2+2), input) rx);
endmodule
