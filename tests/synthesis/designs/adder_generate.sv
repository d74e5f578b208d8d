// SPDX-License-Identifier: GPL-3.0-or-later
module full (input a, b, c, output s, y);
  assign s = a ^ b ^ c, y = (a & b) | (c & (a | b));
endmodule
module top #(parameter N = 6) (input [N-1:0] a, b, output [N:0] s);
  wire [N:0] carry;
  assign carry[0] = 1'b0;
  genvar i;
  generate for (i = 0; i < N; i = i + 1) begin : bit_of
    full f (.a(a[i]), .b(b[i]), .c(carry[i]), .s(s[i]), .y(carry[i + 1]));
  end endgenerate
  assign s[N] = carry[N];
endmodule
