// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, en, input [7:0] d, output [31:0] crc);
  reg [31:0] state;
  function [31:0] step(input [31:0] from, input [7:0] byte_in);
    integer k;
    begin
      step = from;
      for (k = 0; k < 8; k = k + 1)
        step = (step >> 1) ^ ((step[0] ^ byte_in[k]) ? 32'hEDB88320 : 32'h0);
    end
  endfunction
  always @(posedge clk or negedge rst_n)
    if (!rst_n) state <= 32'hffffffff;
    else if (en) state <= step(state, d);
  assign crc = ~state;
endmodule
