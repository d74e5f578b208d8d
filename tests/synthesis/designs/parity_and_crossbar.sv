// SPDX-License-Identifier: GPL-3.0-or-later
module top (input [7:0] a, input [5:0] s, output [3:0] y, output odd);
  assign y = {a[s[5:3]], a[s[2:0]], a[s[4:2]], a[s[3:1]]}, odd = ^a;
endmodule
