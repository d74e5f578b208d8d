// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, sda, scl, output reg start, stop, bit_in, bit_valid);
  reg [2:0] a, b;
  wire sda_now = (a[0] & a[1]) | (a[1] & a[2]) | (a[0] & a[2]);
  wire scl_now = (b[0] & b[1]) | (b[1] & b[2]) | (b[0] & b[2]);
  reg sda_was, scl_was;
  always @(posedge clk or negedge rst_n)
    if (!rst_n) begin a <= 7; b <= 7; sda_was <= 1; scl_was <= 1; start <= 0; stop <= 0; bit_in <= 0; bit_valid <= 0; end
    else begin
      a <= {a[1:0], sda}; b <= {b[1:0], scl};
      sda_was <= sda_now; scl_was <= scl_now;
      start <= scl_now & sda_was & ~sda_now;
      stop <= scl_now & ~sda_was & sda_now;
      bit_valid <= scl_now & ~scl_was;
      if (scl_now & ~scl_was) bit_in <= sda_now;
    end
endmodule
