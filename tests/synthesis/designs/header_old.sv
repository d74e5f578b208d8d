// SPDX-License-Identifier: GPL-3.0-or-later
module top (clk, rst_n, d, q, parity);
  parameter W = 6;
  input clk, rst_n;
  input [W-1:0] d;
  output [W-1:0] q;
  output parity;
  reg [W-1:0] q;
  wire parity;
  always @(posedge clk or negedge rst_n)
    if (~rst_n) q <= {W{1'b0}};
    else q <= d;
  assign parity = ^q;
endmodule
