// SPDX-License-Identifier: GPL-3.0-or-later
module top #(parameter N = 3) (input clk, rst_n, key_n, output reg pressed, output edge_seen);
  reg [1:0] sync = 2'b11;
  reg [N-1:0] count = 0;
  reg last = 0;
  always @(posedge clk) begin
    sync <= {sync[0], key_n};
    last <= pressed;
    if (!rst_n) begin pressed <= 0; count <= 0; end
    else if (sync[1] == pressed) begin
      count <= count + 1;
      if (&count) pressed <= ~sync[1];
    end else count <= 0;
  end
  assign edge_seen = pressed & ~last;
endmodule
