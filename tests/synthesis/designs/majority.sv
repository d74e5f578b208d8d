// SPDX-License-Identifier: GPL-3.0-or-later
module top (input [4:0] a, output y);
  assign y = (a[0] + a[1] + a[2] + a[3] + a[4]) > 3'd2;
endmodule
