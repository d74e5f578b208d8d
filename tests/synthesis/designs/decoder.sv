// SPDX-License-Identifier: GPL-3.0-or-later
module top (input [3:0] a, input en, output [15:0] y);
  assign y = en ? 16'd1 << a : 16'd0;
endmodule
