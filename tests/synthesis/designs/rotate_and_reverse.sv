// SPDX-License-Identifier: GPL-3.0-or-later
module top (input [7:0] a, output reg [7:0] back, output [7:0] turned);
  integer i;
  always @* for (i = 0; i < 8; i = i + 1) back[i] = a[7 - i];
  assign turned = {a[2:0], a[7:3]};
endmodule
