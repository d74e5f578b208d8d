// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, en, output [4:0] gray);
  reg [4:0] binary;
  always @(posedge clk or negedge rst_n) if (!rst_n) binary <= 0; else if (en) binary <= binary + 1;
  assign gray = binary ^ (binary >> 1);
endmodule
