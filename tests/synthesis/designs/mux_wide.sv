// SPDX-License-Identifier: GPL-3.0-or-later
module top (input [63:0] d, input [2:0] at, output [7:0] y);
  wire [7:0] words [0:7];
  genvar i;
  generate for (i = 0; i < 8; i = i + 1) begin : w assign words[i] = d[8 * i +: 8]; end endgenerate
  assign y = words[at];
endmodule
