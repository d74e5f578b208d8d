// SPDX-License-Identifier: GPL-3.0-or-later
module inner (input [3:0] a, input b, output [3:0] y, output z);
  assign y = a ^ {4{b}}, z = &a;
endmodule
module top (input [3:0] a, input b, output [3:0] y, output z, output [3:0] y2);
  wire unused;
  inner one (.*);
  inner two (.a, .b(~b), .y(y2), .z(unused));
endmodule
