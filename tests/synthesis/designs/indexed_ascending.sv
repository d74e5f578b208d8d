// SPDX-License-Identifier: GPL-3.0-or-later
module top (input [0:7] a, input [2:0] n, output y, output [0:3] part, output [3:0] up);
  assign y = a[n];
  assign part = a[2:5];
  assign up = a[{n[1:0]} +: 4];
endmodule
