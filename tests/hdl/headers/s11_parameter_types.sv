//= param N=5
//= top m
//= port a in logic 4:0
//= port t in logic 8:0
module m #(parameter int unsigned N = 8, parameter logic [3:0] MODE = 4'h2, parameter type T = logic [8:0]) (input logic [N-1:0] a, input T t);
endmodule
