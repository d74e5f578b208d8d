// SPDX-License-Identifier: GPL-3.0-or-later
module top (input signed [7:0] a, b, output reg signed [7:0] y);
  reg signed [8:0] s;
  always @* begin
    s = a + b;
    if (s > 127) y = 127;
    else if (s < -128) y = -128;
    else y = s[7:0];
  end
endmodule
