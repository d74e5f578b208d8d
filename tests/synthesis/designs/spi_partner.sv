// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, sck, cs_n, mosi, input [7:0] answer, output miso, output reg [7:0] got, output reg strobe);
  reg [2:0] k;
  reg [1:0] edge_of;
  reg [7:0] in, out;
  assign miso = out[7];
  always @(posedge clk or negedge rst_n)
    if (!rst_n) begin k <= 0; in <= 0; out <= 0; got <= 0; strobe <= 0; edge_of <= 0; end
    else begin
      edge_of <= {edge_of[0], sck};
      strobe <= 0;
      if (cs_n) begin k <= 0; out <= answer; end
      else if (edge_of == 2'b01) begin
        in <= {in[6:0], mosi};
        k <= k + 1;
        if (k == 7) begin got <= {in[6:0], mosi}; strobe <= 1; end
      end else if (edge_of == 2'b10) out <= {out[6:0], 1'b0};
    end
endmodule
