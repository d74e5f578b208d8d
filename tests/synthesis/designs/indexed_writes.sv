// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, en, input [3:0] n, input [1:0] p, input d, input [3:0] nib, output reg [15:0] q, output reg [15:0] w);
  always @(posedge clk or negedge rst_n)
    if (!rst_n) begin q <= 0; w <= 0; end
    else if (en) begin
      q[n] <= d;
      w[p * 4 +: 4] <= nib;
    end
endmodule
