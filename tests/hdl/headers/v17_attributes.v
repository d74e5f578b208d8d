//= top m
//= port clk in wire
//= port q out reg 3:0
(* keep_hierarchy = "yes" *)
module m ((* clock *) input clk, (* mark, io = "fast" *) output reg [3:0] q);
  (* full_case *) always @(posedge clk) case (q) 4'd0: q <= 1; endcase
endmodule
