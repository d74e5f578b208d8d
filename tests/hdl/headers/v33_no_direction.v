//= error 3 has no direction

module m (a, b);
  input a;
endmodule
