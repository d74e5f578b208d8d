// SPDX-License-Identifier: GPL-3.0-or-later
// vane: wind vane to compass rose. The source that the netlist beside it stands for: cycle for cycle the same.
`timescale 1ns / 1ps

module vane (
    input  wire       osc_20,
    input  wire [4:0] gray,     // position of the vane, Gray code
    input  wire       hold_n,   // down: the lamps keep what they show
    input  wire       zero_n,   // down: where the vane stands now is north
    output wire [7:0] rose_n,   // lamps, lit while low
    output wire [4:0] raw,
    output wire       tone
);
  // 20 MHz / 2^15 = 610.35 Hz
  reg [14:0] count = 0;
  reg        tick_d = 0;
  always @(posedge osc_20) begin
    count  <= count + 15'd1;
    tick_d <= count[14];
  end
  wire tick = count[14] & ~tick_d;

  // Two registers against metastability; a third that looks only at every tick, against bounce.
  reg [1:0] hold_s = 0, zero_s = 0;
  reg       hold_steady = 0, zero_steady = 0;
  reg [4:0] gray_s1 = 0, gray_s2 = 0;
  always @(posedge osc_20) begin
    hold_s  <= {hold_s[0], hold_n};
    zero_s  <= {zero_s[0], zero_n};
    gray_s1 <= gray;
    gray_s2 <= gray_s1;
    if (tick) begin
      hold_steady <= hold_s[1];
      zero_steady <= zero_s[1];
    end
  end

  // Gray to binary
  wire [4:0] place_now;
  assign place_now[4] = gray_s2[4];
  genvar i;
  generate
    for (i = 3; i >= 0; i = i - 1) begin : to_binary
      assign place_now[i] = place_now[i + 1] ^ gray_s2[i];
    end
  endgenerate

  reg [4:0] place = 0, origin = 0;
  always @(posedge osc_20) begin
    if (hold_steady) place <= place_now;
    if (!zero_steady) origin <= place;
  end

  // The lamp is the upper three bits of where the vane points, from where it was zeroed.
  wire [4:0] turn = place - origin;
  reg  [7:0] lamp = 0;
  reg        tone_q = 0;
  always @(posedge osc_20) begin
    lamp   <= ~(8'd1 << turn[4:2]);
    tone_q <= count[14];
  end

  assign rose_n = lamp;
  assign raw    = gray;
  assign tone   = tone_q;
endmodule
