// SPDX-License-Identifier: GPL-3.0-or-later
module top (input clk, rst_n, a, b, output reg signed [7:0] place);
  reg [1:0] was;
  always @(posedge clk or negedge rst_n)
    if (!rst_n) begin was <= 0; place <= 0; end
    else begin
      was <= {a, b};
      case ({was, a, b})
        4'b0010, 4'b1011, 4'b1101, 4'b0100: place <= place + 1;
        4'b0001, 4'b0111, 4'b1110, 4'b1000: place <= place - 1;
        default: ;
      endcase
    end
endmodule
