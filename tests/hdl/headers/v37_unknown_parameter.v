//= param NOPE=4
//= error 3 has no parameter 'NOPE'; it has WIDTH
module m #(parameter WIDTH = 8) (input [WIDTH-1:0] a);
endmodule
