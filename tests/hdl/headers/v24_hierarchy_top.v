//= top chip
//= port clk in wire
//= port q out wire
module part (input d, output q);
endmodule
module chip (input clk, output q);
  wire data;
  part #(.X(1)) u1 (.d(clk), .q(data));
  part u2 (.d(data), .q(q));
endmodule
