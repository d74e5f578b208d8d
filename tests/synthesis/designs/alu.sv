// SPDX-License-Identifier: GPL-3.0-or-later
module top (input [7:0] a, b, input [2:0] op, output reg [7:0] y, output zero);
  always @* case (op)
    3'd0: y = a + b;
    3'd1: y = a - b;
    3'd2: y = a & b;
    3'd3: y = a | b;
    3'd4: y = a ^ b;
    3'd5: y = a << b[2:0];
    3'd6: y = a >> b[2:0];
    default: y = $signed(a) < $signed(b);
  endcase
  assign zero = y == 0;
endmodule
