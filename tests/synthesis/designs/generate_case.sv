// SPDX-License-Identifier: GPL-3.0-or-later
module part #(parameter KIND = 0, W = 4) (input [W-1:0] a, b, output [W-1:0] y);
  generate case (KIND)
    0: assign y = a + b;
    1: begin : minus assign y = a - b; end
    default: assign y = a ^ b;
  endcase endgenerate
endmodule
module top (input [3:0] a, b, output [3:0] x, y, z);
  part #(0) p0 (a, b, x);
  part #(.KIND(1)) p1 (.a(a), .b(b), .y(y));
  part #(.KIND(7), .W(4)) p2 (.y(z), .a(a), .b(b));
endmodule
