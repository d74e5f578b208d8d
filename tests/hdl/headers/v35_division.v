//= error 2 divides by zero
module m #(parameter Z = 0) (input [8/Z:0] a);
endmodule
