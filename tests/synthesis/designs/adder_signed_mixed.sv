// SPDX-License-Identifier: GPL-3.0-or-later
module top (input signed [5:0] a, input [3:0] b, output signed [8:0] s, output signed [8:0] t);
  assign s = a + $signed(b);
  assign t = a - $signed({1'b0, b});
endmodule
