// SPDX-License-Identifier: GPL-3.0-or-later
module top (input signed [7:0] a, input [2:0] n, output signed [7:0] y, output [7:0] z, output signed [11:0] w);
  assign y = a >>> n, z = a >> n, w = a <<< 2;
endmodule
