//= top m
//= port a in wire 7:0
//= port b out wire
module /* name */ m // head
( // ports, not (this)
  input /* direction */ [ 7 /* left */ : 0 ] a , // a, with commas
  /* output [3:0] gone, */
  output b /* last ) */
) ; // end
endmodule
