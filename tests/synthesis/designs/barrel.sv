// SPDX-License-Identifier: GPL-3.0-or-later
module top (input [15:0] a, input [3:0] n, input left, output [15:0] y);
  wire [31:0] twice = {a, a};
  assign y = left ? twice[(16 - n) +: 16] : twice[n +: 16];
endmodule
