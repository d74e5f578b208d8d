// SPDX-License-Identifier: GPL-3.0-or-later
module digit #(parameter TOP = 9) (input clk, rst_n, step, output reg [3:0] d, output over);
  assign over = step && d == TOP;
  always @(posedge clk or negedge rst_n) if (!rst_n) d <= 0; else if (step) d <= over ? 0 : d + 1;
endmodule
module top (input clk, rst_n, run, output [11:0] shown);
  wire a, b, c;
  digit d0 (clk, rst_n, run, shown[3:0], a);
  digit #(5) d1 (clk, rst_n, a, shown[7:4], b);
  digit d2 (clk, rst_n, b, shown[11:8], c);
endmodule
