// SPDX-License-Identifier: GPL-3.0-or-later
module top (input [5:0] a, output reg [2:0] ones, output reg [7:0] filled);
  integer k;
  always @* begin
    ones = 0;
    k = 0;
    repeat (6) begin
      ones = ones + a[k];
      k = k + 1;
    end
    filled = 8'd0;
    for (int j = 0; j < 8; j++) begin
      logic t;
      t = a[j % 6] ^ (j > 5);
      filled[j] = t;
    end
  end
endmodule
