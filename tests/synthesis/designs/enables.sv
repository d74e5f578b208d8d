// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, input [2:0] en, input [7:0] d, output reg [7:0] a, b, c);
  always @(posedge clk or negedge rst_n)
    if (!rst_n) begin a <= 8'h5a; b <= 0; end
    else begin
      if (en[0]) a <= d;
      if (en[1]) if (en[2]) b <= a + d;
    end
  always @(posedge clk) if (en == 3'b101) c <= {c[6:0], d[0]};
endmodule
