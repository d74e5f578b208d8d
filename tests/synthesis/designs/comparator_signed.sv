// SPDX-License-Identifier: GPL-3.0-or-later
module top (input signed [6:0] a, b, output lt, le, gt, ge, eq, input [6:0] u, v, output ult, uge);
  assign lt = a < b, le = a <= b, gt = a > b, ge = a >= b, eq = a == b;
  assign ult = u < v, uge = u >= v;
endmodule
