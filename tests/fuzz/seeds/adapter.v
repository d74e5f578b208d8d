module top (input A1, output Y1, output Z);
  wire inside_y_1;
  wire inside_y_0;
  assign Y1 = ~inside_y_1;
  assign Z = 1'b1;
  core wrapped (
    .a(A1),
    .y({inside_y_1, inside_y_0})
  );
endmodule
