//= top m
//= caution not-plannable
//= caution not-plannable
//= port clk in logic
interface stream_if (input logic clk);
  logic [7:0] data;
  modport source (output data);
endinterface
module m (input logic clk, stream_if.source out_stream, stream_if in_stream);
endmodule
