// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, input [1:0] coin, output reg give, output reg [2:0] back);
  reg [3:0] sum;
  wire [3:0] now = sum + (coin == 1 ? 4'd1 : coin == 2 ? 4'd2 : coin == 3 ? 4'd5 : 4'd0);
  always @(posedge clk or negedge rst_n)
    if (!rst_n) begin sum <= 0; give <= 0; back <= 0; end
    else if (now >= 6) begin give <= 1; back <= now - 6; sum <= 0; end
    else begin give <= 0; back <= 0; sum <= now; end
endmodule
