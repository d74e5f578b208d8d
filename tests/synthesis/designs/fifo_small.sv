// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, push, pop, input [3:0] d, output [3:0] q, output empty, full);
  reg [3:0] mem [0:3];
  reg [2:0] wp, rp;
  assign empty = wp == rp, full = wp == (rp ^ 3'b100);
  assign q = empty ? 4'd0 : mem[rp[1:0]];
  always @(posedge clk or negedge rst_n)
    if (!rst_n) begin wp <= 0; rp <= 0; end
    else begin
      if (push && !full) begin mem[wp[1:0]] <= d; wp <= wp + 1; end
      if (pop && !empty) rp <= rp + 1;
    end
endmodule
