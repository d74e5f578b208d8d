`timescale 1ns / 1ps
module half (input [1:0] i, output o); (* keep *) SK_TABLE_2 #(.TABLE(4'h6)) k (.A0(i[0]), .A1(i[1]), .Y(o)); endmodule
module top (a, b, y);
  input a, b;
  output [1:0] y;
  wire \odd.name , t;
  assign t = \odd.name ;
  half h (.i({a, b}), .o(\odd.name ));
  INV n (t, y[0]);
  INV m (.A(1'b0), .Y(y[1]));
endmodule
