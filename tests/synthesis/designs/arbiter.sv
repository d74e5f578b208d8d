// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, input [3:0] ask, output reg [3:0] grant);
  reg [1:0] last;
  integer k;
  reg found;
  reg [1:0] at;
  always @(posedge clk or negedge rst_n)
    if (!rst_n) begin grant <= 0; last <= 0; end
    else begin
      found = 0;
      grant <= 0;
      for (k = 1; k <= 4; k = k + 1) begin
        at = last + k;
        if (!found && ask[at]) begin
          found = 1;
          grant[at] <= 1;
          last <= at;
        end
      end
    end
endmodule
