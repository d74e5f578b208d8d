// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, en, input d, output reg [15:0] crc);
  wire back = crc[15] ^ d;
  always @(posedge clk or negedge rst_n)
    if (!rst_n) crc <= 16'hffff;
    else if (en) crc <= {crc[14:12], crc[11] ^ back, crc[10:5], crc[4] ^ back, crc[3:0], back};
endmodule
