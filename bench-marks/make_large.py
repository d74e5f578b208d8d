#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Writes a made-up part with about 2,000 balls, a board around it and a design with about 1,500 ports, for benchmarks and
for looking at the window when it is full. Nothing of it is committed.

    make_large.py FOLDER [SIDE] [PORTS] [CELLS]     SIDE balls on a side (45), PORTS bits (1500), CELLS of logic behind them (0: only the
                                                    ports are known); writes FOLDER/large.kpeg and all it names
"""
import os, sys

sys.path.insert(0, os.path.join(os.path.dirname(os.path.abspath(__file__)), "..", "data"))
sys.argv, ARGUMENTS = sys.argv[:1], sys.argv[1:]  # make_world looks for --check
from make_world import (CONFIG, V33, banks, dump, fabric, give_strobe_groups, give_clocks, give_jobs, give_references,
                        give_supply_pairs, memory_bits, modes, ordering, pair_balls, pll, region_name, regions, terminal)
from made_up import spread

LETTERS = "ABCDEFGHJKLMNPRTUVWY"  # without those that look like digits (from memory, common on ball grids)
SUBJECTS = ["uplink_receive_word", "downlink_transmit_word", "sounding_antenna_gate_select", "acoustic_echo_sample", "panel_lamp_n", "winch_load_cell_reading",
            "sensor_mast_bus", "mirror_position_request"]


def row_name(r):
    return (LETTERS[r // len(LETTERS) - 1] if r >= len(LETTERS) else "") + LETTERS[r % len(LETTERS)]


def large_part(side):
    pins, config, middle = [], list(CONFIG), side // 2
    names = [str(i + 1) for i in range(12)]
    for r in range(side):
        for c in range(side):
            pin = {"name": f"{row_name(r)}{c + 1}", "kind": "io", "row": r, "column": c}
            if abs(r - middle) <= side // 9 and abs(c - middle) <= side // 9:
                if r == middle and c == middle:
                    continue  # one place without a ball
                ground = (r + c) % 2 == 1
                pins.append({**pin, "kind": "ground" if ground else "supply", "function": "GND" if ground else "VCC_CORE", "bank": ""})
                continue
            # Twelve banks: four quarters of three strips each.
            quarter = (0 if c < middle else 1) if r < middle else (3 if c < middle else 2)
            strip = min(2, (r if quarter < 2 else side - 1 - r) * 6 // side)
            pin["bank"] = bank = names[quarter * 3 + strip]
            k = r * side + c
            if r == 0 and 6 <= c < 6 + len(CONFIG):
                pin.update(kind="configuration", function=config[c - 6], bank="")
            elif k % 53 in (7, 8) and c + 1 < side:
                pin["kind"] = "clock"
            elif k % 19 == 10:
                pin.update(kind="bank_supply", function=f"VIO_{bank}")
            elif k % 17 == 11:
                pin.update(kind="ground", function="GND", bank="")
            pins.append(pin)
    for bank in names:  # of a small package some would have none
        mine = [p for p in pins if p.get("bank") == bank]
        if not any(p["kind"] == "bank_supply" for p in mine):
            mine[len(mine) // 2].update(kind="bank_supply", function=f"VIO_{bank}")
    pair_balls(pins)
    for bank in ("5", "8", "11"):
        give_strobe_groups(pins, bank, 4)
    give_jobs(pins, "1")
    give_references(pins, names)
    give_supply_pairs(pins, lambda a, b: abs(a["row"] - b["row"]) + abs(a["column"] - b["column"]))
    give_clocks(pins, {n: f"PLL_{'NESW'[i // 3]}" for i, n in enumerate(names)}, lambda p: region_name(0 if p["row"] > middle else 1, 0 if p["column"] < middle else 1, 2))
    straps = {p["function"]: p["name"] for p in pins if p["kind"] == "configuration"}
    order = ordering()
    code = f"B{side * side}"
    order[1]["values"].append({"code": "400", "means": "400 thousand logic cells"})
    order[3]["values"].append({"code": code, "means": f"ball grid, {side} by {side}"})
    grid = fabric(200, 160, [30, 100, 170], [60, 140], 0.2)
    return {"schema": "kitepeg.part/1", "name": f"SKR400-{code}", "made_up": True, "ordering": order, "codes": f"SKR400-{code}", "idcode": "0x1A4000D3",
            "resources": {"logic_cells": 400000, "registers": 400000, "memory_bits": memory_bits(grid), "clock_networks": 32, "plls": 4, "lanes": 0},
            "package": {"kind": "ball_grid", "rows": side, "columns": side, "body_mm": side * 1.0 + 1},
            "banks": banks(names, memory=("5", "8", "11")), "plls": [pll(f"PLL_{k}", 5) for k in "NESW"], "regions": regions(200, 160, 2, 2),
            "modes": modes(straps["SET_MODE0"], straps["SET_MODE1"]), "fabric": grid, "pins": pins}


def netlist(buses, cells):
    """Registers behind all ports, and between them layers of four-input cells, with one clock that enters by the first input bit."""
    inputs = [f"{name}[{b}]" for name, way, width in buses if way == "input" for b in range(width)]
    outputs = [f"{name}[{b}]" for name, way, width in buses if way == "output" for b in range(width)]
    clock, inputs = inputs[0], inputs[1:]
    lines = [f"module large({', '.join(name for name, _, _ in buses)});"]
    lines += [f"  {way} [{width - 1}:0] {name};" for name, way, width in buses]
    body, wires = [], ["clk_pad", "clk"]
    body += [f"  SK_PAD_INPUT p_clk (.PAD({clock}), .Y(clk_pad));", "  SK_CLOCK_ROOT root (.A(clk_pad), .Y(clk));"]
    nets, made = [], 0
    for i, port in enumerate(inputs):
        wires += [f"in{i}", f"q{i}"]
        body += [f"  SK_PAD_INPUT p_in{i} (.PAD({port}), .Y(in{i}));", f"  SK_REGISTER r_in{i} (.D(in{i}), .CK(clk), .Q(q{i}));"]
        nets.append(f"q{i}")
        made += 2
    state = 1
    while made < cells:
        fresh = []
        for k in range(len(inputs)):
            at = nets
            for layer in range(4):
                picks = []
                for _ in range(4):
                    state = (state * 1103515245 + 12345) % 2 ** 31
                    picks.append(at[(k + state // 65536 % 40) % len(at)])
                name = f"n{made}"
                wires.append(name)
                body.append(f"  SK_TABLE_4 #(.TABLE(16'h{state % 65536:04X})) u{made} (.A0({picks[0]}), .A1({picks[1]}), .A2({picks[2]}), .A3({picks[3]}), .Y({name}));")
                made += 1
                at = at[-39:] + [name]
            wires.append(f"s{made}")
            body.append(f"  SK_REGISTER r{made} (.D({name}), .CK(clk), .Q(s{made}));")
            fresh.append(f"s{made}")
            made += 1
        nets = fresh
    for i, port in enumerate(outputs):
        wires.append(f"o{i}")
        body += [f"  SK_REGISTER r_out{i} (.D({nets[i % len(nets)]}), .CK(clk), .Q(o{i}));", f"  SK_PAD_OUTPUT p_out{i} (.A(o{i}), .PAD({port}));"]
    lines += ["  wire " + ", ".join(wires[i:i + 12]) + ";" for i in range(0, len(wires), 12)]
    constraints = [f"create_clock -name main -period 12 [get_ports {{{clock}}}]",
                   "set_input_delay -clock main -max 3 [get_ports {" + " ".join(inputs) + "}]",
                   "set_input_delay -clock main -min 1 [get_ports {" + " ".join(inputs) + "}]",
                   "set_output_delay -clock main -max 2 [all_outputs]", "set_output_delay -clock main -min 0 [all_outputs]"]
    return "\n".join(lines + body + ["endmodule"]), "\n".join(constraints)


def main():
    if not 1 <= len(ARGUMENTS) <= 4 or ARGUMENTS[0].startswith("-"):
        sys.exit(__doc__)
    folder = ARGUMENTS[0]
    side, wanted = int(ARGUMENTS[1]) if len(ARGUMENTS) > 1 else 45, int(ARGUMENTS[2]) if len(ARGUMENTS) > 2 else 1500
    part = large_part(side)
    user = [p for p in part["pins"] if p["kind"] in ("io", "clock") and "job" not in p and not p.get("reference")]
    wanted = min(wanted, len(user) - 8)
    buses, left, at = [], wanted, 0
    while left > 0:
        width = min(left, 8 + int(spread(f"bus{at}", 0, 40)))
        buses.append((f"{SUBJECTS[at % len(SUBJECTS)]}_{at // len(SUBJECTS)}", "input" if at % 2 == 0 else "output", width))
        left, at = left - width, at + 1
    parts = [{"ref": "U1", "name": "fpga", "kind": "fpga", "label": "SKR400", "x": 120, "y": 90, "w": 46, "h": 46, "terminals": []}]
    nets, pegs, attributes, pin_at = [], [], [], iter(user)
    for i, (name, way, width) in enumerate(buses):
        ref = f"J{i + 1}"
        parts.append({"ref": ref, "name": name, "kind": "header", "header_kind": "wide", "label": f"plug {i + 1}", "x": 6 + 24 * (i % 12), "y": 4 + 38 * (i // 12), "w": 20, "h": 8,
                      "terminals": [terminal(f"{name}_{b}", "drives" if way == "input" else "reads", V33, b) for b in range(width)]})
        for b in range(width):
            pin, port = next(pin_at)["name"], f"{name}[{b}]"
            nets.append({"pin": pin, "terminal": f"{ref}.{name}_{b}", "trace_mm": round(spread(port, 20, 70), 1)})
            if spread(port, 0, 1) < 0.04:
                continue  # some are adrift
            pegs.append({"port": port, "pin": pin, "state": "loose" if spread(port, 0, 1) < 0.1 else "pegged", "origin": "by name"})
            attributes.append({"port": port, "standard": V33 if spread(pin, 0, 1) > 0.03 else "LVCMOS 1.8 V", "standard_origin": "from the board" if spread(pin, 0, 1) > 0.03 else "chosen"})
    board = {"schema": "kitepeg.board/1", "name": "large", "revision": "A", "made_up": True, "part": part["name"] + "-MN", "fpga": "U1", "width_mm": 300, "height_mm": 220, "parts": parts, "nets": nets,
             "rails": [{"bank": b["name"], "volts": 3.3} for b in part["banks"]], "oscillators": [], "notes": []}
    header = "module large(\n" + ",\n".join(f"  {way} [{width - 1}:0] {name}" for name, way, width in buses) + "\n);\nendmodule\n"
    project = {"schema": "kitepeg.project/1", "name": "large", "part": part["name"] + "-MN", "board": "large", "top": "large", "sources": ["large.v"], "netlists": [], "libraries": [], "constraints": [],
               "pegs": pegs, "attributes": attributes, "waivers": []}
    files = {}
    cells = int(ARGUMENTS[3]) if len(ARGUMENTS) > 3 else 0
    if cells > 0:
        files["large_net.v"], files["large.sdc"] = netlist(buses, cells)
        project["netlists"], project["libraries"] = ["large_net.v"], ["skerry.lib"]
        project["constraints"] = [{"path": "large.sdc", "planning": True, "analysis": True, "handoff": True, "receives": True}]
    os.makedirs(folder, exist_ok=True)
    for name, text in {**files, "large.part.json": dump(part), "large.board.json": dump(board), "large.v": header, "large.kpeg": dump(project)}.items():
        with open(os.path.join(folder, name), "w", encoding="utf-8") as out:
            out.write(text + "\n")


if __name__ == "__main__":
    main()
