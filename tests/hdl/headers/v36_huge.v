//= error 2 more than 65536 bits
module m (input [100000:0] a);
endmodule
