//= top m
//= port a in wire 7:0
//= port b in wire 15:0
//= port s out reg 16:0
module m (input signed [7:0] a, input wire signed [15:0] b, output reg signed [16:0] s);
endmodule
