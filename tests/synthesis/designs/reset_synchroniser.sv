// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, output ready, output reg [3:0] q);
  reg [1:0] s;
  always @(posedge clk or negedge rst_n) if (!rst_n) s <= 2'b00; else s <= {s[0], 1'b1};
  assign ready = s[1];
  always @(posedge clk or negedge ready) if (!ready) q <= 0; else q <= q + 1;
endmodule
