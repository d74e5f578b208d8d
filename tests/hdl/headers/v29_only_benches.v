//= error 0 for simulation only
module tb1; endmodule
module tb2 (); endmodule
