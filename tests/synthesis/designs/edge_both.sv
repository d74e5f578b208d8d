// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, d, output reg up, down, output q);
  always @(posedge clk or negedge rst_n) if (!rst_n) up <= 0; else up <= d ^ down;
  always @(negedge clk or negedge rst_n) if (!rst_n) down <= 0; else down <= d ^ up;
  assign q = up ^ down;
endmodule
