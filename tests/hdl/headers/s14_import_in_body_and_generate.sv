//= top outer
//= port clk in logic
//= port q out logic 3:0
module leaf (input logic c, output logic q);
endmodule
module outer (input logic clk, output logic [3:0] q);
  for (genvar i = 0; i < 4; i++) begin : each
    leaf u (.c(clk), .q(q[i]));
  end
endmodule
