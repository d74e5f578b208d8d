//= error 3 uses a macro that no given file defines
module m (
  input [`WIDTH-1:0] a, input b
);
endmodule
