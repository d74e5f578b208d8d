// SPDX-License-Identifier: GPL-3.0-or-later
module top #(parameter DIV = 3) (input clk, rst_n, send, input [7:0] d, output reg line, output busy);
  reg [9:0] shift;
  reg [3:0] left;
  reg [$clog2(DIV)-1:0] tick;
  assign busy = left != 0;
  always @(posedge clk or negedge rst_n)
    if (!rst_n) begin shift <= '1; left <= 0; tick <= 0; line <= 1; end
    else begin
      line <= busy ? shift[0] : 1'b1;
      if (!busy) begin
        if (send) begin shift <= {1'b1, d, 1'b0}; left <= 10; tick <= 0; end
      end else if (tick == DIV - 1) begin
        tick <= 0; left <= left - 1; shift <= {1'b1, shift[9:1]};
      end else tick <= tick + 1;
    end
endmodule
