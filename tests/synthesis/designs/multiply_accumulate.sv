// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, clear, input signed [4:0] a, b, output reg signed [11:0] total);
  reg signed [9:0] product;
  always @(posedge clk or negedge rst_n)
    if (!rst_n) begin product <= 0; total <= 0; end
    else begin
      product <= a * b;
      total <= clear ? 12'sd0 : total + product;
    end
endmodule
