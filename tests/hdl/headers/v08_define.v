//= top m
//= port bus in wire 23:0
`define BYTE 8
`define WIDE (3*`BYTE)
module m (input [`WIDE-1:0] bus);
endmodule
