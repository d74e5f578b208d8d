#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Composes the demo design `linkwatch` on the board Headland: netlist, delays and a project that is closed. All invented.

    make_linkwatch.py [--check]      writes (or compares with) the files, reproducible to the byte

It watches two optical cages and a host link: counts losses, keeps lasers off after a fault, reads the cages over their sensor
buses, shows what it saw on lamps, and hands eight bits to a header. The lanes themselves belong to the lane block, not to ports.
"""
import json, os, sys

from compose import ROOT, Netlist, sdf, verilog, write_or_check
from make_profiler import dump
from profiler_blocks import Blocks

V33 = "LVCMOS 3.3 V"
CAGES = [("present_n", "input", "present_n"), ("fault", "input", "fault"), ("loss", "input", "loss"), ("off", "output", "off"), ("sda", "inout", "sda"), ("scl", "inout", "scl")]
PORTS = [("osc_50", "input", None, "Y1.osc_50"), ("host_rst_n", "input", None, "J3.host_rst_n"), ("wake_n", "inout", None, "J3.wake_n")]
PORTS += [(f"cage{c}_{name}", direction, None, f"J{c + 1}.{terminal}") for c in range(2) for name, direction, terminal in CAGES]
PORTS += [("rocker", "input", 3, "SW1.rocker{}"), ("lamp_n", "output", 7, "D1.lamp{}"), ("head", "inout", 7, "J4.h{}")]


def bits():
    for name, direction, left, terminal in PORTS:
        for i in [None] if left is None else range(left, -1, -1):
            yield name if i is None else f"{name}[{i}]", direction, terminal if i is None else terminal.format(i)


def build():
    n = Netlist("sys")
    b = Blocks(n)

    def stem_of(port):
        return port.replace("[", "_").replace("]", "")

    def pad_in(port):
        n.add("SK_PAD_INPUT", "pad_" + stem_of(port), {"PAD": port, "Y": n.wire(stem_of(port) + "_i")})
        return stem_of(port) + "_i"

    def pad_out(port, wire):
        n.add("SK_PAD_OUTPUT", "pad_" + stem_of(port), {"A": wire, "PAD": port})

    def pad_two(port, wire, enable):
        n.add("SK_PAD_TWO_WAY", "pad_" + stem_of(port), {"A": wire, "E": enable, "PAD": port, "Y": n.wire(stem_of(port) + "_i")})
        return stem_of(port) + "_i"

    n.add("SK_PLL", "pll", {"CKI": pad_in("osc_50"), "CK0": n.wire("sys_p")}, {"DIVIDE": 1, "MULTIPLY": 20, "DIVIDE0": 10})
    n.add("SK_CLOCK_ROOT", "root_sys", {"A": "sys_p", "Y": n.wire("sys")})
    run = b.steady("run", pad_in("host_rst_n"), "sys")
    hold = b.inv(run)
    zero = b.gate([run], lambda r: 0, "zero")
    scale = b.counter("scale", 24, "sys")
    slow = n.reg("slow", b.both(scale[:16]), None, "sys")
    tick = n.reg("tick", b.both(scale[:9]), None, "sys")
    shown = []
    for c in range(2):
        here = b.inv(b.steady(f"here{c}", pad_in(f"cage{c}_present_n"), "sys"))
        bad = b.debounce(f"bad{c}", pad_in(f"cage{c}_fault"), "sys", tick)
        dark = b.debounce(f"dark{c}", pad_in(f"cage{c}_loss"), "sys", tick)
        before = n.reg(f"dark{c}_d", dark, None, "sys")
        count = b.counter(f"losses{c}", 8, "sys", b.gate([dark, before, here], lambda now, was, h: now and not was and h), hold)
        kept = f"kept{c}"
        n.reg(kept, b.gate([bad, kept, run], lambda f, k, r: (f or k) and r, kept + "_n"), None, "sys")
        pad_out(f"cage{c}_off", n.reg(f"off{c}_q", b.gate([kept, here], lambda k, h: k or not h), None, "sys"))
        low = [n.reg(f"bus{c}_{line}_low", b.both([scale[k], here, tick]), None, "sys") for line, k in (("sda", 13), ("scl", 11))]
        data, clock = (pad_two(f"cage{c}_{line}", zero, low[k]) for k, line in enumerate(("sda", "scl")))
        seen = b.regs(f"heard{c}", [b.steady(f"data{c}", data, "sys")] + [f"heard{c}_{i}" for i in range(7)], "sys", b.steady(f"clock{c}", clock, "sys"))
        shown.append([here, bad, dark, kept] + count + seen[:4])
    rockers = [b.debounce(f"rocker{i}", pad_in(f"rocker[{i}]"), "sys", slow) for i in range(4)]
    wake = pad_two("wake_n", zero, n.reg("wake_low", b.gate([shown[0][2], shown[1][2], rockers[3]], lambda x, y, r: (x or y) and r), None, "sys"))
    awake = b.steady("awake", wake, "sys")
    for i in range(8):
        page = b.pick_one(rockers[:2], [shown[0][i], shown[1][i], shown[0][8 + i], shown[1][8 + i]])
        pad_out(f"lamp_n[{i}]", n.reg(f"lamp_q{i}", b.gate([page, awake], lambda p, a: not (p and a)), None, "sys"))
        back = pad_two(f"head[{i}]", n.reg(f"head_q{i}", page, None, "sys"), n.reg(f"head_e{i}", rockers[2], None, "sys"))
        n.reg(f"head_in{i}", b.steady(f"head{i}", back, "sys"), None, "sys")
    return n


def head():
    return ["// SPDX-License-Identifier: GPL-3.0-or-later", "// linkwatch: a watch on two optical cages and a host link, made by demo/make_linkwatch.py", "`timescale 1ns / 1ps", "",
            "module linkwatch (" + ", ".join(p[0] for p in PORTS) + ");"] + [f"  {d} {'' if left is None else f'[{left}:0] '}{name};" for name, d, left, _ in PORTS]


SDC = """# linkwatch on Headland
create_clock -name osc_50 -period 20 [get_ports osc_50]
create_generated_clock -name sys -source [get_pins pll/CKI] -multiply_by 2 [get_pins pll/CK0]
set_clock_uncertainty -setup 0.120 [get_clocks sys]
set_clock_uncertainty -hold 0.040 [get_clocks sys]
# all of the outside is slow or comes by hand: sampled, no promise
set_false_path -from [get_ports {host_rst_n wake_n cage?_present_n cage?_fault cage?_loss cage?_sda cage?_scl rocker[*] head[*]}]
set_false_path -to [get_ports {wake_n cage?_off cage?_sda cage?_scl lamp_n[*] head[*]}]
"""


def project():
    nets = {x["terminal"]: x["pin"] for x in json.load(open(os.path.join(ROOT, "data/boards/headland.board.json"), encoding="utf-8"))["nets"]}
    way = {"input": "in", "output": "out", "inout": "inout"}
    return {"schema": "kitepeg.project/1", "name": "linkwatch", "part": "SKR44L-B529-HW", "board": "headland", "top": "linkwatch", "netlists": ["linkwatch.v"], "libraries": ["skerry.lib"], "delays": "linkwatch.sdf",
            "constraints": [{"path": "linkwatch.sdc", "planning": True, "analysis": True, "handoff": True, "receives": True}],
            "pegs": [{"port": bit, "pin": nets[terminal], "state": "pegged", "origin": "by name"} for bit, _, terminal in bits()],
            "attributes": [{"port": bit, "standard": V33, "standard_origin": "from the board"} for bit, _, _ in bits()], "waivers": [],
            "ports": [f"{way[d]} {p}" + ("" if left is None else f"[{left}:0]") for p, d, left, _ in PORTS]}


def main():
    n = build()
    if "--check" not in sys.argv:
        print(f"{len(n.cells)} cells")
    write_or_check(os.path.join(ROOT, "demo/linkwatch"), {"linkwatch.v": verilog(n, head()), "linkwatch.sdf": sdf(n, "linkwatch", "make_linkwatch.py"), "linkwatch.sdc": SDC, "linkwatch.kpeg": dump(project())}, "make_linkwatch.py")


if __name__ == "__main__":
    main()
