// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, output reg half, output reg third, output reg slow);
  reg [1:0] three;
  always @(posedge clk or negedge rst_n) if (!rst_n) half <= 0; else half <= ~half;
  always @(posedge clk or negedge rst_n)
    if (!rst_n) begin three <= 0; third <= 0; end
    else begin three <= three == 2 ? 0 : three + 1; third <= three == 2; end
  always @(posedge half or negedge rst_n) if (!rst_n) slow <= 0; else slow <= ~slow;
endmodule
