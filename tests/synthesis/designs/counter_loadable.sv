// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, load, up, en, input [6:0] d, output reg [6:0] q, output full);
  always @(posedge clk)
    if (!rst_n) q <= 0;
    else if (load) q <= d;
    else if (en) q <= up ? q + 1'b1 : q - 1'b1;
  assign full = &q;
endmodule
