// SPDX-License-Identifier: GPL-3.0-or-later
module top (input [3:0] d, input blank, output [6:0] seg_n);
  function [6:0] shape(input [3:0] v);
    case (v)
      0: shape = 7'b0111111; 1: shape = 7'b0000110; 2: shape = 7'b1011011; 3: shape = 7'b1001111;
      4: shape = 7'b1100110; 5: shape = 7'b1101101; 6: shape = 7'b1111101; 7: shape = 7'b0000111;
      8: shape = 7'b1111111; 9: shape = 7'b1101111;
      default: shape = 7'b1000000;
    endcase
  endfunction
  assign seg_n = blank ? 7'h7f : ~shape(d);
endmodule
