//= top m
//= caution not-plannable
//= port clk in logic
module m (input logic clk, input somewhere_t x);
endmodule
