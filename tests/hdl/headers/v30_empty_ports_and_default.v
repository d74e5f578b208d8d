//= top m
//= port a in wire
//= port n out reg 3:0
module m (input a, output reg [3:0] n = 4'd5);
endmodule
