// SPDX-License-Identifier: GPL-3.0-or-later
module top (input [2:0] a, b, c, d, output [11:0] y);
  wire [2:0] p = a < b ? a : b, q = a < b ? b : a, r = c < d ? c : d, s = c < d ? d : c;
  wire [2:0] l = p < r ? p : r, m = p < r ? r : p, n = q < s ? q : s, h = q < s ? s : q;
  assign y = {h, m < n ? n : m, m < n ? m : n, l};
endmodule
