// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, we, input [9:0] wa, ra, input [7:0] d, output [7:0] now, output reg [7:0] q);
  reg [7:0] mem [0:1023];
  reg [9:0] first;
  reg seen;
  // what was never written is not looked at
  always @(posedge clk) begin
    if (we) mem[wa] <= d;
    if (we) first <= wa;
    seen <= we;
    q <= seen ? mem[first] : 8'd0;
  end
  assign now = seen ? mem[first] : ra[7:0];
endmodule
