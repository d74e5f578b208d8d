//= top m
//= port a in logic
//= port b in logic 3:0
//= port c out logic
module m (input var logic a, logic [3:0] b, output var logic c);
endmodule
