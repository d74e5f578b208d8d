#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Composes the demo design `vane`: netlist (structural Verilog), cell library (Liberty) and delays (SDF). All invented.

    make_vane.py [--check]      writes (or compares with) the files, reproducible to the byte

The design: five Gray-coded vane lines are synchronised twice, turned into binary by an XOR chain, held while the key
`hold` is down, measured from where the key `zero` was last pressed, and shown on eight lamps (active low). A 15-bit
counter divides 20 MHz to the tone (20e6 / 2**15 = 610.35 Hz). The raw vane lines also go straight to a header.
"""
import os, sys

from compose import ROOT, Netlist, liberty, sdf, verilog, write_or_check



def build():
    n = Netlist()
    for w in ("osc_i", "clk"):
        n.wire(w)
    n.add("SK_PAD_INPUT", "pad_osc_20", {"PAD": "osc_20", "Y": "osc_i"})
    n.add("SK_CLOCK_ROOT", "root_clk", {"A": "osc_i", "Y": "clk"})
    # tone: a 15-bit counter with look-ahead over groups of three bits
    q = [f"count{i}" for i in range(15)]
    carry = None
    for group in range(5):
        low = q[3 * group:3 * group + 3]
        base = [carry] if carry else []
        for k, bit in enumerate(low):
            inputs = base + low[:k] + [bit]
            n.reg(bit, n.look(f"next{3 * group + k}", inputs, lambda *v: v[-1] ^ (all(v[:-1]))))
        if group < 4:
            carry = n.look(f"carry{group}", base + low, lambda *v: all(v))
    tick_d = n.reg("tick_d", q[14])
    tick = n.look("tick", [q[14], tick_d], lambda now, before: now and not before)
    # keys: two registers against metastability, a third that looks only at every tick, against bounce
    for key in ("hold", "zero"):
        n.add("SK_PAD_INPUT", f"pad_{key}_n", {"PAD": f"{key}_n", "Y": n.wire(f"{key}_i")})
        n.reg(f"{key}_steady", n.reg(f"{key}_s2", n.reg(f"{key}_s1", f"{key}_i")), enable=tick)
    # vane: pads, straight to the header, and synchronised
    for i in range(5):
        n.add("SK_PAD_INPUT", f"pad_gray{i}", {"PAD": f"gray[{i}]", "Y": n.wire(f"gray_i{i}")})
        n.add("SK_PAD_OUTPUT", f"pad_raw{i}", {"A": f"gray_i{i}", "PAD": f"raw[{i}]"})
        n.reg(f"gray_s2_{i}", n.reg(f"gray_s1_{i}", f"gray_i{i}"))
    # Gray to binary: b[4] = g[4], b[i] = b[i+1] xor g[i]
    binary = {4: "gray_s2_4"}
    for i in (3, 2, 1, 0):
        binary[i] = n.look(f"bin{i}", [binary[i + 1], f"gray_s2_{i}"], lambda a, b: a ^ b)
    place = [n.reg(f"place{i}", binary[i], enable="hold_steady") for i in range(5)]
    grab = n.look("grab", ["zero_steady"], lambda a: not a)
    origin = [n.reg(f"origin{i}", place[i], enable=grab) for i in range(5)]
    # direction = place - origin, borrow by borrow; the lamp is the upper three bits
    borrow = n.look("borrow0", [place[0], origin[0]], lambda p, o: (not p) and o)
    turn = []
    for i in range(1, 5):
        if i >= 2:
            turn.append(n.look(f"turn{i}", [place[i], origin[i], borrow], lambda p, o, b: p ^ o ^ b))
        if i < 4:
            borrow = n.look(f"borrow{i}", [place[i], origin[i], borrow], lambda p, o, b: (not p and o) or (p == o and b))
    for lamp in range(8):
        dark = n.look(f"dark{lamp}", turn, lambda a, b, c, lamp=lamp: a + 2 * b + 4 * c != lamp)
        n.add("SK_PAD_OUTPUT", f"pad_rose{lamp}", {"A": n.reg(f"lamp{lamp}", dark), "PAD": f"rose_n[{lamp}]"})
    n.add("SK_PAD_OUTPUT", "pad_tone", {"A": n.reg("tone_q", q[14]), "PAD": "tone"})
    return n


HEAD = ["// SPDX-License-Identifier: GPL-3.0-or-later", "// vane: wind vane to compass rose, made by demo/make_vane.py", "`timescale 1ns / 1ps", "",
        "module vane (osc_20, gray, hold_n, zero_n, rose_n, raw, tone);", "  input osc_20;", "  input [4:0] gray;", "  input hold_n, zero_n;",
        "  output [7:0] rose_n;", "  output [4:0] raw;", "  output tone;"]


def closed():
    """The goal state of the project beside it: the lamp on its own pin, the clock as the oscillator says, a delay for the sounder."""
    here = os.path.join(ROOT, "demo/vane")
    read = lambda name: open(os.path.join(here, name), encoding="utf-8").read()
    swap = lambda text, a, b: text.replace(a, b) if a in text else sys.exit(f"'{a}' is not there any more")
    project = read("vane.kpeg")
    for a, b in (('"rose_n[5]", "pin": "34"', '"rose_n[5]", "pin": "59"'), ("clocks.sdc", "closed-clocks.sdc"), ("ports.sdc", "closed-ports.sdc"), ('"name": "vane"', '"name": "vane-closed"')):
        project = swap(project, a, b)
    sounder = "\n# the sounder hears an edge or not: half a period is plenty\nset_output_delay -clock osc_20 -max 10.0 [get_ports tone]\nset_output_delay -clock osc_20 -min 0.0 [get_ports tone]\n"
    return {"demo/vane/vane-closed.kpeg": project, "demo/vane/closed-clocks.sdc": swap(read("clocks.sdc"), "-period 40", "-period 50"), "demo/vane/closed-ports.sdc": read("ports.sdc") + sounder}


def main():
    n = build()
    files = {"demo/vane/vane.v": verilog(n, HEAD), "demo/vane/vane.sdf": sdf(n, "vane", "make_vane.py"), "data/cells/skerry.lib": liberty(), **closed()}
    if "--check" not in sys.argv:
        print(f"{len(n.cells)} cells")
    write_or_check(ROOT, files, "make_vane.py")


if __name__ == "__main__":
    main()
