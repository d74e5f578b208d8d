// SPDX-License-Identifier: GPL-3.0-or-later
module sum #(parameter N = 8) (input [N-1:0] bits, output [$clog2(N + 1)-1:0] y);
  generate if (N == 1) begin : leaf
    assign y = bits;
  end else begin : pair
    localparam A = N / 2, B = N - A;
    wire [$clog2(A + 1)-1:0] ya;
    wire [$clog2(B + 1)-1:0] yb;
    sum_leaf #(A) a (bits[A-1:0], ya);
    sum_leaf #(B) b (bits[N-1:A], yb);
    assign y = ya + yb;
  end endgenerate
endmodule
module sum_leaf #(parameter N = 4) (input [N-1:0] bits, output reg [$clog2(N + 1)-1:0] y);
  integer i;
  always @* begin y = 0; for (i = 0; i < N; i = i + 1) y = y + bits[i]; end
endmodule
module top (input [8:0] bits, output [3:0] y);
  sum #(9) s (bits, y);
endmodule
