//= top m
//= port clk in logic
//= port d in logic 7:0
//= port q out logic 7:0
module m (input logic clk, input logic [7:0] d, output logic [7:0] q);
endmodule : m
