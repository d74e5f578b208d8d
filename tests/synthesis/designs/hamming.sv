// SPDX-License-Identifier: GPL-3.0-or-later
module top (input [3:0] d, input [6:0] got, output [6:0] code, output reg [3:0] fixed);
  assign code = {d[3], d[2], d[1], d[1] ^ d[2] ^ d[3], d[0], d[0] ^ d[2] ^ d[3], d[0] ^ d[1] ^ d[3]};
  wire [2:0] s = {got[3] ^ got[4] ^ got[5] ^ got[6], got[1] ^ got[2] ^ got[5] ^ got[6], got[0] ^ got[2] ^ got[4] ^ got[6]};
  reg [6:0] right;
  always @* begin
    right = got;
    if (s != 0) right[s - 3'd1] = ~right[s - 3'd1];
    fixed = {right[6], right[5], right[4], right[2]};
  end
endmodule
