//= error 3 is expected
//= error 6 The name of a module is expected
module a (input x; endmodule
module b (input y); endmodule

module 12 (input z); endmodule
