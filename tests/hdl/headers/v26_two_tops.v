//= error 0 Several modules could be the top: alpha and beta
module alpha (input a);
endmodule
module beta (input b);
endmodule
