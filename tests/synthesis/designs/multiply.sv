// SPDX-License-Identifier: GPL-3.0-or-later
module top (input [5:0] a, b, output [11:0] y, input signed [4:0] s, t, output signed [9:0] z);
  assign y = a * b, z = s * t;
endmodule
