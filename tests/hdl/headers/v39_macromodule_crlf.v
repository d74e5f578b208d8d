//= top m
//= port a in wire
macromodule m (input a);
endmodule
