//= top m
//= port sda inout wire
//= port dq inout tri 15:0
module m (inout sda, inout tri [15:0] dq);
endmodule
