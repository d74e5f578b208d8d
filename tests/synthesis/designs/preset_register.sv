// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, d, output reg a, output reg b, output reg [2:0] c);
  always @(posedge clk or negedge rst_n) if (!rst_n) a <= 1'b1; else a <= d;
  always @(negedge clk or negedge rst_n) if (!rst_n) b <= 1'b1; else if (d) b <= ~b;
  always @(posedge clk or negedge rst_n) if (!rst_n) c <= 3'b101; else c <= c + d;
endmodule
