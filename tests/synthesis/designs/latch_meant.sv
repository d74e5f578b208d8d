// SPDX-License-Identifier: GPL-3.0-or-later
module top (input logic g, input logic [2:0] d, output logic [2:0] q);
  always_latch if (g) q = d;
endmodule
