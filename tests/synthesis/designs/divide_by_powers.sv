// SPDX-License-Identifier: GPL-3.0-or-later
module top (input [7:0] a, input signed [7:0] s, output [7:0] q, r, output signed [7:0] sq, sr);
  assign q = a / 8, r = a % 8, sq = s / 4, sr = s % 4;
endmodule
