// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, input en, output reg [3:0] ones, tens, output carry);
  assign carry = en && ones == 9 && tens == 9;
  always @(posedge clk or negedge rst_n)
    if (!rst_n) {tens, ones} <= 0;
    else if (en) begin
      if (ones == 9) begin
        ones <= 0;
        tens <= tens == 9 ? 4'd0 : tens + 4'd1;
      end else ones <= ones + 1;
    end
endmodule
