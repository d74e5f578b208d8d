//= top m
//= port a in logic 11:0
//= port b in logic 23:0
package sizes;
  localparam int WIDTH = 12;
  parameter DOUBLE = WIDTH * 2;
  function automatic int f(int x); return x; endfunction
endpackage
module m import sizes::*; (input logic [WIDTH-1:0] a, input logic [sizes::DOUBLE-1:0] b);
endmodule
