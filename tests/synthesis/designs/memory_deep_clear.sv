// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, we, input [5:0] a, input [15:0] d, output [15:0] y);
  reg [15:0] mem [0:63];
  reg [63:0] valid;
  always @(posedge clk) if (we) mem[a] <= d;
  always @(posedge clk or negedge rst_n) if (!rst_n) valid <= 0; else if (we) valid[a] <= 1;
  assign y = valid[a] ? mem[a] : 16'd0;
endmodule
