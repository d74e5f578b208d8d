// SPDX-License-Identifier: GPL-3.0-or-later
module top (input [5:0] a, b, output [6:0] y);
  function [5:0] least(input [5:0] p, q);
    least = p < q ? p : q;
  endfunction
  function [5:0] most(input [5:0] p, q);
    most = ~least(~p, ~q);
  endfunction
  assign y = most(a, b) + least(a, b ^ 6'h15);
endmodule
