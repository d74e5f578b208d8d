// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, we, input [1:0] wa, ra, rb, input [4:0] d, output [4:0] a, b);
  reg [4:0] file [0:3];
  integer k;
  always @(posedge clk or negedge rst_n)
    if (!rst_n) for (k = 0; k < 4; k = k + 1) file[k] <= 0;
    else if (we) file[wa] <= d;
  assign a = file[ra], b = ra == rb ? 5'd0 : file[rb];
endmodule
