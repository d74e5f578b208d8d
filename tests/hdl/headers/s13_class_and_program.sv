//= top m
//= port clk in logic
class packet; rand bit [7:0] data; function new(); endfunction endclass
program test (input logic clk); initial begin end endprogram
module m (input logic clk);
endmodule
