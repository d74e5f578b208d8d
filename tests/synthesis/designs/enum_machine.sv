// SPDX-License-Identifier: GPL-3.0-or-later
module top (input logic clk, rst_n, input logic go, stop, output logic busy, done, output logic [3:0] ticks);
  typedef enum logic [1:0] {IDLE, RUN, WAIT = 2'd3} state_t;
  state_t state, next;
  always_comb begin
    next = state;
    case (state)
      IDLE: if (go) next = RUN;
      RUN: if (stop || ticks == 9) next = WAIT;
      WAIT: if (!go) next = IDLE;
      default: next = IDLE;
    endcase
  end
  always_ff @(posedge clk or negedge rst_n)
    if (!rst_n) begin state <= IDLE; ticks <= '0; end
    else begin
      state <= next;
      ticks <= state == RUN ? ticks + 1'b1 : '0;
    end
  assign busy = state == RUN, done = state == WAIT;
endmodule
