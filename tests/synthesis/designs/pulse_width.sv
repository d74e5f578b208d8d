// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, input [4:0] level, output reg out, output reg [4:0] phase);
  always @(posedge clk or negedge rst_n)
    if (!rst_n) begin phase <= 0; out <= 0; end
    else begin phase <= phase + 5'd1; out <= phase < level; end
endmodule
