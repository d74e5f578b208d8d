// SPDX-License-Identifier: GPL-3.0-or-later
module top #(parameter N = 37) (input [2:0] a, output [7:0] y, output [5:0] n, output [4:0] cube);
  localparam B = $clog2(N);
  assign y = 2 ** a, n = B, cube = a[1:0] ** 3;
endmodule
