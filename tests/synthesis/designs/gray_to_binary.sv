// SPDX-License-Identifier: GPL-3.0-or-later
module top (input [6:0] g, output [6:0] b);
  genvar i;
  assign b[6] = g[6];
  generate for (i = 5; i >= 0; i = i - 1) begin : x assign b[i] = b[i + 1] ^ g[i]; end endgenerate
endmodule
