//= top m
//= caution not-plannable
//= caution not-plannable
//= port c in wire
module m (.outer(a), {b1, b2}, c);
  input c;
endmodule
