// SPDX-License-Identifier: GPL-3.0-or-later
module top (input [31:0] a, b, output all, any, odd, same, output [31:0] masked);
  assign all = &a, any = |(a & b), odd = ^(a ^ b), same = a == b, masked = a & ~b;
endmodule
