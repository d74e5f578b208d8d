// SPDX-License-Identifier: GPL-3.0-or-later
`define WIDTH 5
`define MAX(a, b) ((a) > (b) ? (a) : (b))
`ifdef NOT_THERE
  this is not read
`else
module top (input [`WIDTH-1:0] a, b, output [`WIDTH-1:0] y);
  assign y = `MAX(a, b);
endmodule
`endif
