//= top m
//= port a in int 31:0
//= port b in byte 7:0
//= port c out shortint 15:0
//= port d out bit 2:0
//= port e in longint 63:0
module m (input int a, input byte unsigned b, output shortint c, output bit [2:0] d, input longint e);
endmodule
