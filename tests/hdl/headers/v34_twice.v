//= error 2 is there twice
module m (input a, output b, input a);
endmodule
