//= top m
//= port lanes in logic 31:0
//= port cube out logic 23:0
module m (input logic [3:0][7:0] lanes, output logic [1:0][2:0][3:0] cube);
endmodule
