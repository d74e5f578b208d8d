//= top m
//= caution not-plannable
//= caution not-plannable
//= port clk in logic
module m (input logic clk, input real level, output string name);
endmodule
