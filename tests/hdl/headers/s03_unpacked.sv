//= top m
//= caution not-plannable
//= port clk in logic
//= port y out logic
module m (input logic clk, input logic [7:0] mem [0:3], output logic y);
endmodule
