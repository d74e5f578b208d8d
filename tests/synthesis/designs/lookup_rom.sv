// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, input [3:0] at, output reg [7:0] q, output [7:0] now);
  reg [7:0] rom [0:15];
  integer i;
  initial for (i = 0; i < 16; i = i + 1) rom[i] = i * i + 7;
  assign now = rom[at];
  always @(posedge clk) q <= rom[at];
endmodule
