// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, output reg [6:0] q);
  always @(posedge clk or negedge rst_n) if (!rst_n) q <= 7'd1; else q <= {q[5:0], q[6] ^ q[5]};
endmodule
