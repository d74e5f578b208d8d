// SPDX-License-Identifier: GPL-3.0-or-later
module top (input [7:0] ask, output reg [2:0] at, output reg any);
  always @* begin
    any = 1'b1;
    casez (ask)
      8'b1???????: at = 7;
      8'b01??????: at = 6;
      8'b001?????: at = 5;
      8'b0001????: at = 4;
      8'b00001???: at = 3;
      8'b000001??: at = 2;
      8'b0000001?: at = 1;
      8'b00000001: at = 0;
      default: begin at = 0; any = 1'b0; end
    endcase
  end
endmodule
