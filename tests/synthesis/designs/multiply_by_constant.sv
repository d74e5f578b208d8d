// SPDX-License-Identifier: GPL-3.0-or-later
module top (input [7:0] a, output [15:0] ten, output [15:0] minus, output [15:0] hundred);
  assign ten = a * 10, minus = -a * 16'd3, hundred = a * 8'd100;
endmodule
