//= ask beta
//= top beta
//= port b in wire
module alpha (input a);
endmodule
module beta (input b);
endmodule
