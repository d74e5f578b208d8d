//= top m
//= port a in wire
//= port y out wire
module m (a, y);
  input a;
  output y;
  function [3:0] f;
    input [3:0] x;
    input y2;
    f = x + y2;
  endfunction
  task t; input [7:0] z; output w; begin end endtask
endmodule
