//= top m
//= port addr in logic 9:0
//= port one in logic 0:0
module m #(parameter DEPTH = 1000, localparam A = $clog2(DEPTH), localparam B = $clog2(1) + 1) (input logic [A-1:0] addr, input logic [B-1:0] one);
endmodule
