// SPDX-License-Identifier: GPL-3.0-or-later
module stage #(parameter W = 8, ADD = 1) (input clk, rst_n, input [W-1:0] d, output reg [W-1:0] q);
  always @(posedge clk or negedge rst_n) if (!rst_n) q <= 0; else q <= d + ADD;
endmodule
module top (input clk, rst_n, input [7:0] d, output [7:0] q);
  wire [7:0] link [0:4];
  assign link[0] = d;
  genvar i;
  generate for (i = 0; i < 4; i = i + 1) begin : s
    stage #(.ADD(i * 3 + 1)) one (.clk(clk), .rst_n(rst_n), .d(link[i]), .q(link[i + 1]));
  end endgenerate
  assign q = link[4];
endmodule
