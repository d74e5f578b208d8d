// SPDX-License-Identifier: GPL-3.0-or-later
module top (input [3:0] a, b, input signed [3:0] s, output [4:0] sum, output [3:0] mean, output [7:0] wide, output neg, output [5:0] mixed);
  assign sum = a + b;
  assign mean = (a + b) >> 1;
  assign wide = {a + b} + 8'd0;
  assign neg = s < 0;
  assign mixed = s + a;
endmodule
