#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Writes the made-up parts and boards of Kite Peg. Everything here is invented.

    make_world.py [--check]     writes (or compares with) the files beside it, reproducible to the byte
"""
import json, os

from made_up import spread, write_or_check

HERE = os.path.dirname(os.path.abspath(__file__))
SINGLE = ["LVCMOS 3.3 V", "LVTTL 3.3 V", "LVCMOS 2.5 V", "LVCMOS 1.8 V", "LVCMOS 1.5 V", "LVCMOS 1.2 V"]


def ordering():
    means = lambda rows: [{"code": c, "means": m} for c, m in rows]
    return [
        {"name": "series", "values": means([("SKR", "Skerry series")])},
        {"name": "size", "values": means([("11", "11 thousand logic cells"), ("23", "23 thousand logic cells"),
                                          ("44L", "44 thousand logic cells, one lane block")])},
        {"literal": "-"},
        {"name": "package", "values": means([("Q144", "quad flat, 144 pins"), ("B256", "ball grid, 16 by 16"),
                                             ("B529", "ball grid, 23 by 23")])},
        {"literal": "-"},
        {"name": "speed", "values": means([("L", "slowest of three"), ("M", "middle of three"), ("H", "fastest of three")])},
        {"name": "range", "values": means([("N", "0 to 85 degrees"), ("W", "-40 to 100 degrees")])},
    ]


MEMORY = ["SSTL 2.5 V class I", "SSTL 2.5 V class II", "SSTL 1.8 V class I", "SSTL 1.8 V class II", "SSTL 1.5 V", "HSTL 1.5 V class I", "HSTL 1.5 V class II", "HSTL 1.8 V class I",
          "HSTL 1.8 V class II", "SSTL 1.8 V differential", "SSTL 1.5 V differential", "HSTL 1.5 V differential"]
FAST = ["LVDS 2.5 V", "PCI 3.3 V", "I2C 3.3 V", "I2C 2.5 V", "I2C 1.8 V", "sub-LVDS 1.8 V", "mini-LVDS 2.5 V", "LVPECL 3.3 V input", "LVDS 2.5 V by resistors"]
SPEEDS = {"L": 1.18, "M": 1.0, "H": 0.86}


def banks(names, memory=""):
    """General banks carry LVDS, memory banks the standards with a reference; each has its limits."""
    return [{"name": n, "supply": f"VIO_{n}", "volts": [1.2, 1.5, 1.8, 2.5, 3.3], "standards": SINGLE + (MEMORY if n in memory else FAST),
             "type": "memory" if n in memory else "general", "slews": ["slow", "fast"], "rise_ns": [2.4, 0.9], "termination_ohm": [40, 60] if n in memory else [100],
             "pin_ma": 16, "pair_ma": 60, "bank_ma": 200, "input_max_volts": 0.3, "switching_limit": 8, "delay_steps": 23, "delay_step_ns": 0.092} for n in names]


MEMORY_BLOCK_BITS = 512 * 18  # of SK_MEMORY, data/cells/skerry.lib


def fabric(columns, rows, memory, multiply, base):
    """The lowest site of the outer memory columns holds the configuration logic in place of a memory block."""
    return {"columns": columns, "rows": rows, "cells_per_site": 8,
            "special": [{"kind": "memory", "columns": memory, "without": [[memory[0], 0], [memory[-1], 0]]}, {"kind": "multiply", "columns": multiply}],
            "base_ns": base, "per_column_ns": 0.021, "per_row_ns": 0.017, "clock_ns": 0.62, "clock_skew_ns": 0.08,
            "speeds": [{"code": c, "factor": f} for c, f in SPEEDS.items()], "corner_factors": {"fast": 0.64, "typical": 0.83}}


def memory_bits(made):
    special = made["special"][0]
    return (len(special["columns"]) * made["rows"] - len(special["without"])) * MEMORY_BLOCK_BITS


def region_name(row, column, up):
    """Rows from below, columns from the left."""
    return {1: ["low"], 2: ["low", "high"], 3: ["low", "middle", "high"]}[up][row] + ("-west", "-east")[column]


def regions(columns, rows, across, up):
    """Equal rectangles from the lower left."""
    return [{"name": region_name(r, c, up), "left": c * columns // across, "bottom": r * rows // up, "right": (c + 1) * columns // across - 1, "top": (r + 1) * rows // up - 1}
            for r in range(up) for c in range(across)]


def modes(mode0, mode1):
    straps = lambda a, b: [{"pin": mode0, "level": a}, {"pin": mode1, "level": b}]
    return [{"name": "serial flash", "straps": straps(0, 0), "drives": ["FLASH_SELECT", "FLASH_CLOCK", "FLASH_DATA0"], "start_clock": "internal"},
            {"name": "byte stream", "straps": straps(1, 0), "drives": ["READY"], "start_clock": "external"},
            {"name": "cable only", "straps": straps(1, 1), "drives": [], "start_clock": "jtag"}]


def give_jobs(pins, bank):
    """The last user pins of a bank have a second job while the part is configured."""
    free = [p for p in pins if p["kind"] == "io" and p["bank"] == bank and "strobe_group" not in p]
    for pin, job in zip(reversed(free), ["FLASH_SELECT", "FLASH_CLOCK", "FLASH_DATA0", "FLASH_DATA1", "READY"]):
        pin["job"] = job


def give_references(pins, names):
    """One user pin in the middle of each bank is its VREF when a standard needs one."""
    for bank in names:
        free = [p for p in pins if p["kind"] == "io" and p["bank"] == bank and "strobe" not in p and "strobe_group" not in p and "job" not in p]
        free[len(free) // 2].update(reference=True, function=f"VREF_{bank}")


def give_supply_pairs(pins, place):
    """Each user pin loads the nearest supply pin of its bank, counted as the pair it makes with the ground beside it."""
    for pin in pins:
        if pin["kind"] not in ("io", "clock"):
            continue
        supplies = [p for p in pins if p["kind"] == "bank_supply" and p["bank"] == pin["bank"]]
        pin["supply_pair"] = min(supplies, key=lambda p: (place(p, pin), pins.index(p)))["name"]


def give_clocks(pins, pll_of_bank, region_of):
    """The true pin of a clock pair reaches the whole part and the PLL of its side; the complement only its region."""
    for pin in pins:
        if pin["kind"] in ("io", "clock"):
            pin["region"] = region_of(pin)
        if pin["kind"] == "clock":
            pin["reaches"] = ["part", "regions", pll_of_bank[pin["bank"]]] if pin.get("polarity") == "true" else ["regions"]


def give_strobe_groups(pins, bank, count):
    """Groups of eleven: a strobe pair, a mask and eight bits. Pairs stay whole."""
    free = [p for p in pins if p["kind"] == "io" and p["bank"] == bank]
    pairs = [(p, next(o for o in free if o["name"] == p["pair"])) for p in free if p.get("polarity") == "true" and any(o["name"] == p["pair"] for o in free)]
    at = 0
    for g in range(count):
        name = f"{bank}{'abcdef'[g]}"
        members = pairs[at:at + 6]
        at += 6
        for n, (true, complement) in enumerate(members):
            for pin in (true, complement):
                if n == 5 and pin is complement:
                    continue
                pin["strobe_group"] = name
                if n == 0:
                    pin["strobe"] = True


def pair_balls(pins):
    """User balls beside each other, else one above the other, form a differential pair when bank and kind are the same."""
    at = {(p["row"], p["column"]): p for p in pins}
    for pin in pins:
        if pin["kind"] not in ("io", "clock") or "pair" in pin:
            continue
        for place in ((pin["row"], pin["column"] + 1), (pin["row"] + 1, pin["column"])):
            other = at.get(place)
            if other and "pair" not in other and (other["bank"], other["kind"]) == (pin["bank"], pin["kind"]):
                pin["pair"], pin["polarity"] = other["name"], "true"
                other["pair"], other["polarity"] = pin["name"], "complement"
                break


def pair_up(pins):
    """Neighbouring user pins of one bank form a differential pair: first true, second complement."""
    waiting = {}
    for pin in pins:
        if pin["kind"] not in ("io", "clock"):
            continue
        key = (pin["bank"], pin["kind"])
        if key in waiting:
            first = waiting.pop(key)
            first["pair"], first["polarity"] = pin["name"], "true"
            pin["pair"], pin["polarity"] = first["name"], "complement"
        else:
            waiting[key] = pin


def pll(name, outputs):
    return {"name": name, "input_mhz": [6, 180], "detector_mhz": [6, 90], "vco_mhz": [620, 1540], "output_mhz": [3.2, 380],
            "divide": [1, 16], "multiply": [1, 72], "output_divide": [1, 96], "outputs": outputs}



CONFIG = ["TCK", "TMS", "TDI", "TDO", "SET_DONE", "SET_START_N", "SET_MODE0", "SET_MODE1"]


def quad144():
    pins, config = [], list(CONFIG)
    for side in range(4):
        bank = str(side + 1)
        for k in range(36):
            pin = {"name": str(side * 36 + k + 1), "kind": "io", "bank": bank, "side": side, "slot": k}
            if k in (5, 17, 29):
                pin.update(kind="ground", function="GND", bank="")
            elif k in (6, 30):
                pin.update(kind="bank_supply", function=f"VIO_{bank}")
            elif k == 18:
                pin.update(kind="supply", function="VCC_CORE", bank="")
            elif k in (0, 35):
                pin.update(kind="configuration", function=config.pop(0), bank="")
            elif k in (11, 24) and side in (0, 2):
                name = "W" if side == 0 else "E"
                pin.update(kind="supply" if k == 11 else "ground", function=("VCC_PLL_" if k == 11 else "GND_PLL_") + name, bank="")
            elif k in (15, 16, 19, 20):
                pin["kind"] = "clock"
            pins.append(pin)
    pair_up(pins)
    give_jobs(pins, "4")
    give_references(pins, "1234")
    give_supply_pairs(pins, lambda a, b: abs(a["slot"] - b["slot"]))
    # Sides against the clock from the left: 1 left, 2 bottom, 3 right, 4 top.
    region = {"1": "low-west", "2": "low-west", "3": "low-east", "4": "low-east"}
    give_clocks(pins, {"1": "PLL_W", "2": "PLL_W", "3": "PLL_E", "4": "PLL_E"}, lambda p: region[p["bank"]])
    grid = fabric(48, 31, [12, 35], [24], 0.16)
    return {
        "schema": "kitepeg.part/1", "name": "SKR11-Q144", "made_up": True, "ordering": ordering(), "codes": "SKR11-Q144",
        "idcode": "0x1A2460FF",
        "resources": {"logic_cells": 11904, "registers": 11904, "memory_bits": memory_bits(grid), "clock_networks": 8, "plls": 2, "lanes": 0},
        "package": {"kind": "quad_flat", "pins": 144, "per_side": 36, "body_mm": 20.0},
        "banks": banks("1234"), "plls": [pll("PLL_W", 4), pll("PLL_E", 4)], "regions": regions(48, 31, 2, 1), "modes": modes("109", "144"),
        "fabric": grid, "pins": pins,
    }


def ball256():
    letters, pins, config = "ABCDEFGHJKLMNPRT", [], list(CONFIG)
    setup = {(0, 3), (4, 15), (15, 9), (0, 8), (8, 0), (9, 0), (15, 3), (7, 15)}
    clocks = {(0, 0), (0, 1), (2, 5), (3, 5), (1, 8), (1, 9), (3, 13), (3, 14), (7, 12), (7, 13), (10, 14), (11, 14), (11, 0), (12, 0), (14, 2), (14, 3), (13, 8), (13, 9), (14, 13), (14, 14),
              (6, 12), (6, 13), (6, 1), (6, 2), (8, 2), (8, 3)}
    for r in range(16):
        for c in range(16):
            pin = {"name": f"{letters[r]}{c + 1}", "kind": "io", "row": r, "column": c}
            if 5 <= r <= 10 and 5 <= c <= 10:
                ground = (r + c) % 2 == 1
                pin.update(kind="ground" if ground else "supply", function="GND" if ground else "VCC_CORE", bank="")
                pins.append(pin)
                continue
            bank = ("1" if c < 8 else "2") if r < 5 else ("5" if c < 8 else "4") if r > 10 else ("6" if c < 5 else "3")
            pin["bank"] = bank
            if (r, c) in setup:
                pin.update(kind="configuration", function=config.pop(0), bank="")
            elif (r, c) in clocks:
                pin["kind"] = "clock"
            elif (r * 16 + c) % 11 == 10:
                pin.update(kind="bank_supply", function=f"VIO_{bank}")
            elif (r * 16 + c) % 23 == 11:
                pin.update(kind="ground", function="GND", bank="")
            pins.append(pin)
    pair_balls(pins)
    give_strobe_groups(pins, "5", 2)
    give_strobe_groups(pins, "4", 2)
    give_jobs(pins, "1")
    give_references(pins, "123456")
    give_supply_pairs(pins, lambda a, b: abs(a["row"] - b["row"]) + abs(a["column"] - b["column"]))
    give_clocks(pins, {"1": "PLL_N", "2": "PLL_N", "3": "PLL_E", "4": "PLL_S", "5": "PLL_S", "6": "PLL_W"},
                lambda p: region_name(0 if p["row"] > 10 else 1, 0 if p["column"] < 8 else 1, 2))
    straps = {p["function"]: p["name"] for p in pins if p["kind"] == "configuration"}
    grid = fabric(62, 48, [10, 31, 52], [20, 41], 0.15)
    return {
        "schema": "kitepeg.part/1", "name": "SKR23-B256", "made_up": True, "ordering": ordering(), "codes": "SKR23-B256",
        "idcode": "0x1A2480FF",
        "resources": {"logic_cells": 23808, "registers": 23808, "memory_bits": memory_bits(grid), "clock_networks": 16, "plls": 4, "lanes": 0},
        "package": {"kind": "ball_grid", "rows": 16, "columns": 16, "body_mm": 17.0},
        "banks": banks("123456", memory="45"), "plls": [pll(f"PLL_{k}", 5) for k in "NESW"], "regions": regions(62, 48, 2, 2),
        "modes": modes(straps["SET_MODE0"], straps["SET_MODE1"]), "fabric": grid, "pins": pins,
    }


def edge_balls(rows, bank_of):
    """The last row and column of the grid: user balls in pairs, with grounds between them."""
    last, added = len(rows) - 1, []
    for r, c in [(r, last) for r in range(last)] + [(last, c) for c in range(last + 1)]:
        pin = {"name": f"{rows[r]}{c + 1}", "kind": "io", "row": r, "column": c, "bank": bank_of(r, c)}
        if r < 4 or (r + c) % 3 == 2:
            pin.update(kind="ground", function="GND_LANE" if r < 4 else "GND", bank="")
        added.append(pin)
    pair_balls(added)
    return added


def ball529():
    """23 by 23 balls: eight banks around, core supplies in the middle, one block of eight lanes along the top edge."""
    pins, config = [], list(CONFIG)
    rows = [c for c in "ABCDEFGHJKLMNPRTUVWY"] + ["AA", "AB", "AC"]
    lanes, references = [], []
    lane_balls = iter([(r, c) for c in range(2, 18, 2) for r in (0, 2)])
    spots = {}
    for lane in range(8):
        for way in ("tx", "rx"):
            r, c = next(lane_balls)
            for k, half in enumerate("pn"):
                spots[(r, c + k)] = (lane, way, half)
    clock_spots = {(1, 18): (0, "p"), (1, 19): (0, "n"), (3, 18): (1, "p"), (3, 19): (1, "n")}
    setup = {(4, 0), (4, 21), (21, 0), (21, 21), (10, 0), (11, 0), (10, 21), (11, 21)}
    clocks = {(6, 2), (6, 3), (6, 18), (6, 19), (12, 2), (12, 3), (12, 18), (12, 19), (16, 5), (16, 6), (16, 15), (16, 16), (20, 8), (20, 9), (20, 12), (20, 13)}

    def bank_of(r, c):
        left = c < 11
        return ("1" if left else "2") if r < 8 else ("6" if left else "5") if r > 15 else ("7" if r < 12 else "8") if c < 7 else ("3" if r < 12 else "4")

    for r in range(22):
        for c in range(22):
            pin = {"name": f"{rows[r]}{c + 1}", "kind": "io", "row": r, "column": c}
            if r < 4:
                if (r, c) in spots:
                    lane, way, half = spots[(r, c)]
                    pin.update(kind="lane", function=f"LANE{lane}_{way.upper()}_{half.upper()}", bank="")
                elif (r, c) in clock_spots:
                    n, half = clock_spots[(r, c)]
                    pin.update(kind="lane_clock", function=f"REFCLK{n}_{half.upper()}", bank="")
                else:
                    ground = (r + c) % 3 != 0
                    pin.update(kind="ground" if ground else "supply", function="GND_LANE" if ground else "VCC_LANE", bank="")
                pins.append(pin)
                continue
            if 8 <= r <= 15 and 7 <= c <= 14:
                ground = (r + c) % 2 == 1
                pin.update(kind="ground" if ground else "supply", function="GND" if ground else "VCC_CORE", bank="")
                pins.append(pin)
                continue
            pin["bank"] = bank = bank_of(r, c)
            if (r, c) in setup:
                pin.update(kind="configuration", function=config.pop(0), bank="")
            elif (r, c) in clocks:
                pin["kind"] = "clock"
            elif (r * 22 + c) % 10 == 9:
                pin.update(kind="bank_supply", function=f"VIO_{bank}")
            elif (r * 22 + c) % 13 == 6:
                pin.update(kind="ground", function="GND", bank="")
            pins.append(pin)
    pair_balls(pins)
    give_strobe_groups(pins, "5", 3)
    give_strobe_groups(pins, "6", 3)
    give_jobs(pins, "7")
    give_references(pins, "12345678")
    # Behind all others, so that nothing that was given away before goes to another ball.
    pins += edge_balls(rows, bank_of)
    give_supply_pairs(pins, lambda a, b: abs(a["row"] - b["row"]) + abs(a["column"] - b["column"]))
    give_clocks(pins, {"1": "PLL_NW", "2": "PLL_NE", "3": "PLL_NE", "4": "PLL_SE", "5": "PLL_SE", "6": "PLL_SW", "7": "PLL_NW", "8": "PLL_SW"},
                lambda p: region_name(0 if p["row"] > 14 else 1 if p["row"] > 8 else 2, 0 if p["column"] < 11 else 1, 3))
    named = {p["function"]: p["name"] for p in pins if p.get("function")}
    for n in range(8):
        lanes.append({"name": f"lane{n}", "gbps": [0.6, 5.4], "tx": [named[f"LANE{n}_TX_P"], named[f"LANE{n}_TX_N"]], "rx": [named[f"LANE{n}_RX_P"], named[f"LANE{n}_RX_N"]],
                      "clocks": ["refclk0", "refclk1"] if 2 <= n <= 5 else ["refclk0"] if n < 2 else ["refclk1"]})
    for n in range(2):
        references.append({"name": f"refclk{n}", "pins": [named[f"REFCLK{n}_P"], named[f"REFCLK{n}_N"]], "mhz": [60, 400]})
    lane_names = lambda first, last: [f"lane{n}" for n in range(first, last + 1)]
    raw = ["raw 8b/10b", "optical 1.25 G", "optical 5 G"]
    block = {"name": "block0", "crossings": 12, "clocks": references, "lanes": lanes, "engines": [
        {"name": "serial_a", "protocols": raw, "lanes": lane_names(0, 3), "widths": [1, 2], "capacity": 2},
        {"name": "serial_b", "protocols": raw, "lanes": lane_names(4, 7), "widths": [1, 2, 4], "splits": [[4], [2, 2], [2, 1, 1], [1, 1, 1, 1]]},
        {"name": "host", "protocols": ["host link 2.5 G", "host link 5 G"], "lanes": lane_names(2, 7), "widths": [1, 2, 4], "align": 2, "splits": [[4], [2], [1]],
         "crossings_per_lane": {"host link 5 G": 2}}]}
    grid = fabric(78, 72, [12, 38, 64], [25, 51], 0.14)
    return {
        "schema": "kitepeg.part/1", "name": "SKR44L-B529", "made_up": True, "ordering": ordering(), "codes": "SKR44L-B529",
        "idcode": "0x1A24C0FF",
        "resources": {"logic_cells": 44928, "registers": 44928, "memory_bits": memory_bits(grid), "clock_networks": 24, "plls": 4, "lanes": 8},
        "package": {"kind": "ball_grid", "rows": 23, "columns": 23, "body_mm": 24.0},
        "banks": banks("12345678", memory="56"), "plls": [pll(f"PLL_{k}", 6) for k in ("NW", "NE", "SW", "SE")], "regions": regions(78, 72, 2, 3),
        "modes": modes(named["SET_MODE0"], named["SET_MODE1"]), "lane_blocks": [block], "fabric": grid, "pins": pins,
    }


def tussock():
    low = lambda name, order: {"name": name, "direction": "reads", "active": "low", "standard": "LVCMOS 3.3 V", "order": order, "current_ma": 3.5, "forward_volts": 1.9}
    gives = lambda name, order, active="high": {"name": name, "direction": "drives", "active": active, "standard": "LVCMOS 3.3 V", "order": order}
    both = lambda name, order: {"name": name, "direction": "both", "active": "high", "standard": "LVCMOS 2.5 V", "order": order}
    parts = [
        {"ref": "U1", "name": "fpga", "kind": "fpga", "label": "SKR11", "x": 34, "y": 24, "w": 20, "h": 20, "terminals": []},
        {"ref": "Y1", "name": "osc", "kind": "oscillator", "label": "20 MHz", "x": 17, "y": 6, "w": 9, "h": 6, "terminals": [gives("osc_20", 0)]},
        {"ref": "J3", "name": "vane", "kind": "vane", "label": "wind vane", "x": 3, "y": 18, "w": 11, "h": 26,
         "terminals": [gives(f"gray{i}", 4 - i) for i in range(5)]},
        {"ref": "D1", "name": "rose", "kind": "lamp", "label": "compass rose", "x": 34, "y": 50, "w": 32, "h": 8,
         "terminals": [low(f"rose{i}", i) for i in range(8)]},
        {"ref": "S1", "name": "hold", "kind": "key", "label": "hold", "x": 4, "y": 49, "w": 9, "h": 8, "terminals": [gives("hold", 0, "low")]},
        {"ref": "S2", "name": "zero", "kind": "key", "label": "zero", "x": 17, "y": 49, "w": 9, "h": 8, "terminals": [gives("zero", 0, "low")]},
        {"ref": "LS1", "name": "sounder", "kind": "sounder", "label": "sounder", "x": 66, "y": 5, "w": 11, "h": 11,
         "terminals": [{"name": "tone", "direction": "reads", "active": "high", "standard": "LVCMOS 3.3 V", "order": 0}]},
        {"ref": "J2", "name": "header", "kind": "header", "header_kind": "eight", "label": "header", "x": 67, "y": 22, "w": 10, "h": 24,
         "terminals": [both(f"raw{i}", i) for i in range(8)]},
        {"ref": "J4", "name": "serial", "kind": "serial", "label": "serial link", "x": 44, "y": 4, "w": 14, "h": 8,
         "terminals": [gives("txd_host", 0), {"name": "rxd_host", "direction": "reads", "active": "high", "standard": "LVCMOS 3.3 V", "order": 1}]},
    ]
    nets = []

    def net(pin, terminal, mm, **more):
        nets.append({"pin": str(pin), "terminal": terminal, "trace_mm": mm, **more})

    net(16, "Y1.osc_20", 27.5, series_ohm=33)
    for i, pin in enumerate((22, 23, 26, 27, 28)):
        net(pin, f"J3.gray{i}", 24.0 + 1.5 * i)
    net(33, "S1.hold", 38.0, pull="up", pull_ohm=4700)
    net(34, "S2.zero", 29.5, pull="up", pull_ohm=4700)
    for i, pin in enumerate((46, 47, 49, 50, 58, 59, 61, 62)):
        net(pin, f"D1.rose{i}", 18.0 + 2.0 * abs(i - 4), series_ohm=390)
    for i, pin in enumerate((81, 82, 83, 85, 86, 87, 94, 95)):
        net(pin, f"J2.raw{i}", 16.0 + 0.8 * i)
    net(112, "LS1.tone", 31.0, series_ohm=100)
    net(122, "J4.txd_host", 26.0)
    net(123, "J4.rxd_host", 26.5)
    return {
        "schema": "kitepeg.board/1", "name": "Tussock", "made_up": True, "revision": "A", "part": "SKR11-Q144-MN", "fpga": "U1",
        "width_mm": 80, "height_mm": 60, "parts": parts, "nets": nets,
        "rails": [{"bank": "1", "volts": 3.3}, {"bank": "2", "volts": 3.3}, {"bank": "3", "volts": 2.5}, {"bank": "4", "volts": 3.3}],
        "straps": [{"pin": "109", "level": 0}, {"pin": "144", "level": 0}], "mode": "serial flash",
        "stack": {"kind": "microstrip", "relative_permittivity": 4.3, "height_mm": 0.2, "width_mm": 0.25, "thickness_mm": 0.035},
        "oscillators": [{"terminal": "Y1.osc_20", "mhz": 20.0, "ppm": 50, "duty_percent": [45, 55]}],
        "notes": ["Jumper P1 on 3.3 V.", "Vane plug: red wire at the arrow.", "The sounder sits between signal and ground, never on a supply."],
    }


class Wiring:
    """Gives each terminal a pin of a bank, in the order of the pins, and keeps what was given."""

    def __init__(self, part):
        self.part, self.taken, self.nets, self.parts = part, set(), [], []

    def free(self, bank, want):
        for p in self.part["pins"]:
            if p["kind"] in ("io", "clock") and p["bank"] == bank and p["name"] not in self.taken and "job" not in p and want(p):
                return p
        raise SystemExit(f"bank {bank} is full")

    def wire(self, pin, terminal, low=18.0, high=55.0, **more):
        self.taken.add(pin["name"])
        self.nets.append({"pin": pin["name"], "terminal": terminal, "trace_mm": round(spread(terminal, low, high), 1), **more})

    def one(self, bank, terminal, kind="io", **more):
        plain = lambda p: p["kind"] == kind and not p.get("reference") and "strobe_group" not in p
        try:
            pin = self.free(bank, plain)
        except SystemExit:
            pin = self.free(bank, lambda p: "strobe_group" not in p or bank not in "45")
        self.wire(pin, terminal, **more)

    def pair(self, bank, true, complement, want=lambda p: True, kind=("io",), **more):
        pin = self.free(bank, lambda p: p["kind"] in kind and p.get("polarity") == "true" and not p.get("reference") and want(p)
                        and not any(o["name"] == p["pair"] and o.get("reference") for o in self.part["pins"]))
        other = next(o for o in self.part["pins"] if o["name"] == pin["pair"])
        self.wire(pin, true, **more)
        self.wire(other, complement, **more)
        # Both wires of a pair are drawn to one length.
        self.nets[-1]["trace_mm"] = self.nets[-2]["trace_mm"]

    def in_group(self, group, terminal, **more):
        pin = next(p for p in self.part["pins"] if p.get("strobe_group") == group and p["name"] not in self.taken)
        self.wire(pin, terminal, **more)

    def add(self, ref, name, kind, label, x, y, w, h, terminals, **more):
        self.parts.append({"ref": ref, "name": name, "kind": kind, **more, "label": label, "x": x, "y": y, "w": w, "h": h, "terminals": terminals})


def terminal(name, direction, standard, order=0, active="high", **more):
    return {"name": name, "direction": direction, "active": active, "standard": standard, "order": order, **more}


V33, V25, SSTL, DSSTL, LVDS = "LVCMOS 3.3 V", "LVCMOS 2.5 V", "SSTL 1.5 V", "SSTL 1.5 V differential", "LVDS 2.5 V"


def saltmarsh():
    w = Wiring(ball256())
    w.add("U1", "fpga", "fpga", "SKR23", 56, 40, 24, 24, [])
    w.add("Y1", "osc", "oscillator", "25 MHz", 40, 33, 12, 8, [terminal("osc_25", "drives", V33)])
    w.one("1", "Y1.osc_25", kind="clock", series_ohm=33)
    w.add("S5", "reset", "key", "reset", 4, 84, 9, 8, [terminal("rst_n", "drives", V33, 0, "low")])
    w.one("1", "S5.rst_n", pull="up", pull_ohm=10000)
    # Ethernet PHY; data sheet numbers of its receiver and driver with internal delay: RGMII 2.0, from memory.
    reads = {"clock": "txc", "setup_ns": 1.0, "hold_ns": 1.0}
    drives = {"clock": "rxc", "out_min_ns": 1.2, "out_max_ns": 2.8}
    phy = [terminal("txc", "reads", V25, 0, clock_delay_ns=2.0)] + [terminal(f"txd{i}", "reads", V25, 1 + i, **reads) for i in range(4)] + [terminal("tx_ctl", "reads", V25, 5, **reads)]
    phy += [terminal("rxc", "drives", V25, 6, clock_mhz=125)] + [terminal(f"rxd{i}", "drives", V25, 7 + i, **drives) for i in range(4)] + [terminal("rx_ctl", "drives", V25, 11, **drives)]
    phy += [terminal("mdc", "reads", V25, 12), terminal("mdio", "both", V25, 13), terminal("phy_rst_n", "reads", V25, 14, "low", must="drive")]
    w.add("U2", "rgmii", "ethernet", "Ethernet PHY", 100, 34, 16, 16, phy)
    w.one("3", "U2.rxc", kind="clock", series_ohm=22, low=30, high=34)
    for t in phy:
        if t["name"] != "rxc":
            pull = {"pull": "up", "pull_ohm": 1500} if t["name"] == "mdio" else {"pull": "down", "pull_ohm": 10000} if t["name"] == "phy_rst_n" else {}
            w.one("3", "U2." + t["name"], low=30, high=34, **({"series_ohm": 22} if t["name"][:2] in ("tx", "rx") else {}), **pull)
    # Memory: two bytes, each with its strobe pair and mask.
    mem = []
    for byte in range(2):
        mem += [terminal(f"dq{8 * byte + i}", "both", SSTL, 11 * byte + i) for i in range(8)]
        mem += [terminal(f"dm{byte}", "reads", SSTL, 11 * byte + 8), terminal(f"dqs_p{byte}", "both", DSSTL, 11 * byte + 9), terminal(f"dqs_n{byte}", "both", DSSTL, 11 * byte + 10)]
        w.pair("5", f"U3.dqs_p{byte}", f"U3.dqs_n{byte}", lambda p, byte=byte: p.get("strobe") and p.get("strobe_group") == f"5{'ab'[byte]}", low=24, high=25)
        for i in range(8):
            w.in_group(f"5{'ab'[byte]}", f"U3.dq{8 * byte + i}", low=23.5, high=25.5)
        w.in_group(f"5{'ab'[byte]}", f"U3.dm{byte}", low=23.5, high=25.5)
    w.pair("4", "U3.ck_p", "U3.ck_n", low=27, high=28)
    mem += [terminal("ck_p", "reads", DSSTL, 22), terminal("ck_n", "reads", DSSTL, 23)]
    names = [f"a{i}" for i in range(14)] + [f"ba{i}" for i in range(3)] + ["ras_n", "cas_n", "we_n", "cke", "cs_n", "odt", "mem_rst_n"]
    for k, name in enumerate(names):
        mem.append(terminal(name, "reads", SSTL, 24 + k, "low" if name.endswith("_n") else "high", **({"must": "low"} if name in ("cke", "mem_rst_n") else {})))
        pull = {"pull": "down", "pull_ohm": 4700} if name in ("cke", "mem_rst_n") else {}
        w.wire(w.free("4", lambda p: not p.get("reference")), f"U3.{name}", low=25, high=29, **pull)
    w.add("U3", "ddr", "memory", "memory 16 bit", 56, 74, 24, 12, mem)
    # Converter with forwarded clock: its data change around the middle between the edges, a quarter of 6.667 ns behind each.
    late = {"clock": "clk_out_p", "out_min_ns": 1.37, "out_max_ns": 1.97}
    adc = [terminal("clk_out_p", "drives", LVDS, 0, clock_mhz=150), terminal("clk_out_n", "drives", LVDS, 1, clock_mhz=150), terminal("frame_p", "drives", LVDS, 2, **late), terminal("frame_n", "drives", LVDS, 3, **late)]
    w.pair("6", "U4.clk_out_p", "U4.clk_out_n", kind=("clock",), low=40, high=41)
    w.pair("6", "U4.frame_p", "U4.frame_n", low=40, high=41)
    for i in range(4):
        adc += [terminal(f"d_p{i}", "drives", LVDS, 4 + 2 * i, **late), terminal(f"d_n{i}", "drives", LVDS, 5 + 2 * i, **late)]
        w.pair("6", f"U4.d_p{i}", f"U4.d_n{i}", low=40, high=41)
    for k, (name, direction, active) in enumerate((("sck", "reads", "high"), ("sdi", "reads", "high"), ("cs_n", "reads", "low"), ("sleep", "reads", "high"))):
        adc.append(terminal(name, direction, V25, 12 + k, active, **({"must": "high"} if name == "cs_n" else {})))
        w.one("6", f"U4.{name}", **({"pull": "up", "pull_ohm": 10000} if name == "cs_n" else {}))
    w.add("U4", "adc", "converter", "converter", 20, 42, 16, 14, adc)
    load = [("sck", "reads", "high"), ("mosi", "reads", "high"), ("miso", "drives", "high"), ("cs_n", "reads", "low"), ("drdy_n", "drives", "low")]
    w.add("U5", "load", "converter", "load cell", 4, 22, 12, 10, [terminal(n, d, V33, k, a) for k, (n, d, a) in enumerate(load)])
    for n, _, _ in load:
        w.one("1", f"U5.{n}", **({"pull": "up", "pull_ohm": 10000} if n == "cs_n" else {}))
    winch = [("pwm", "reads", "high"), ("dir", "reads", "high"), ("brake_n", "reads", "low"), ("fault_n", "drives", "low")]
    w.add("U6", "winch", "driver", "winch driver", 4, 4, 14, 10, [terminal(n, d, V33, k, a, **({"must": "low"} if n == "brake_n" else {})) for k, (n, d, a) in enumerate(winch)])
    for n, _, _ in winch:
        w.one("1", f"U6.{n}", **({"pull": "down", "pull_ohm": 10000} if n in ("pwm", "brake_n") else {"pull": "up", "pull_ohm": 4700} if n == "fault_n" else {}))
    w.add("J3", "enc", "encoder", "winch encoder", 22, 4, 14, 10, [terminal(f"enc_{c}", "drives", V25, k) for k, c in enumerate("abz")])
    for c in "abz":
        w.one("3", f"J3.enc_{c}")
    w.add("U7", "gps", "receiver", "satellite time", 42, 4, 14, 10, [terminal("pps", "drives", V25, 0), terminal("gps_tx", "drives", V25, 1), terminal("gps_rx", "reads", V25, 2)])
    for n in ("pps", "gps_tx", "gps_rx"):
        w.one("6", f"U7.{n}")
    w.add("J4", "i2c", "bus", "sensor bus", 62, 4, 14, 10, [terminal("scl", "both", V25, 0, open_drain=True), terminal("sda", "both", V25, 1, open_drain=True)])
    for n in ("scl", "sda"):
        w.one("6", f"J4.{n}", pull="up", pull_ohm=2200, capacitance_pf=120)
    w.add("J7", "host", "serial", "serial link", 82, 4, 14, 10, [terminal("host_tx", "drives", V25, 0), terminal("host_rx", "reads", V25, 1)])
    for n in ("host_tx", "host_rx"):
        w.one("3", f"J7.{n}")
    w.add("LS1", "sounder", "sounder", "sounder", 102, 4, 14, 10, [terminal("tone", "reads", V25, 0, current_ma=6)])
    w.one("3", "LS1.tone", series_ohm=150)
    lamp = {"current_ma": 3.5, "forward_volts": 1.9}
    w.add("D1", "lamps", "lamp", "lamps", 20, 84, 30, 8, [terminal(f"lamp{i}", "reads", V33, i, **lamp) for i in range(8)])
    w.add("SW1", "rockers", "rocker", "rockers", 56, 90, 30, 8, [terminal(f"rocker{i}", "drives", V33, i) for i in range(8)])
    w.add("S1", "keys", "key", "keys", 92, 84, 24, 8, [terminal(f"key{i}", "drives", V33, i, "low") for i in range(4)])
    w.add("DS1", "display", "display", "four digits", 90, 58, 26, 12, [terminal(f"seg{i}", "reads", V33, i, "low", **lamp) for i in range(8)] + [terminal(f"dig{i}", "reads", V33, 8 + i, "low") for i in range(4)])
    for i in range(8):
        w.one("2", f"D1.lamp{i}", series_ohm=390)
    for i in range(8):
        w.one("2", f"SW1.rocker{i}", pull="down", pull_ohm=10000)
    for i in range(4):
        w.one("2", f"S1.key{i}", pull="up", pull_ohm=10000)
    for i in range(8):
        w.one("1", f"DS1.seg{i}", series_ohm=390)
    for i in range(4):
        w.one("1", f"DS1.dig{i}", series_ohm=100)
    for header, x in (("J5", 4), ("J6", 108)):
        w.add(header, f"header_{'a' if header == 'J5' else 'b'}", "header", f"header {'A' if header == 'J5' else 'B'}", x, 60 if header == "J5" else 18, 10, 20 if header == "J5" else 14, [terminal(f"{'a' if header == 'J5' else 'b'}{i}", "both", V33, i) for i in range(8)], header_kind="eight")
        for i in range(8):
            w.one("2" if header == "J5" or i < 4 else "1", f"{header}.{'a' if header == 'J5' else 'b'}{i}")
    straps = {p["function"]: p["name"] for p in w.part["pins"] if p["kind"] == "configuration"}
    return {
        "schema": "kitepeg.board/1", "name": "Saltmarsh", "made_up": True, "revision": "C", "part": "SKR23-B256-MN", "fpga": "U1", "width_mm": 120, "height_mm": 100, "parts": w.parts, "nets": w.nets,
        "rails": [{"bank": b, "volts": v} for b, v in (("1", 3.3), ("2", 3.3), ("3", 2.5), ("4", 1.5), ("5", 1.5), ("6", 2.5))],
        "oscillators": [{"terminal": "Y1.osc_25", "mhz": 25.0, "ppm": 25, "duty_percent": [45, 55]}],
        "straps": [{"pin": straps["SET_MODE0"], "level": 0}, {"pin": straps["SET_MODE1"], "level": 0}], "mode": "serial flash",
        "stack": {"kind": "stripline", "relative_permittivity": 4.1, "height_mm": 0.4, "width_mm": 0.14, "thickness_mm": 0.018},
        "notes": ["Winch brake lever on hold before the 24 V supply is switched on.", "Header A and B carry 3.3 V only.", "The load cell cable must be plugged before power; it has no hot-plug protection."],
    }


def headland():
    w = Wiring(ball529())
    w.add("U1", "fpga", "fpga", "SKR44L", 50, 34, 26, 26, [])
    w.add("Y1", "osc", "oscillator", "50 MHz", 34, 30, 9, 6, [terminal("osc_50", "drives", V33)])
    w.one("1", "Y1.osc_50", kind="clock", series_ohm=33)
    w.add("Y2", "lane_osc", "oscillator", "125 MHz", 54, 8, 9, 6, [terminal("ref0_p", "drives", LVDS, 0), terminal("ref0_n", "drives", LVDS, 1)])
    w.add("Y3", "host_osc", "oscillator", "100 MHz", 70, 8, 9, 6, [terminal("ref1_p", "drives", LVDS, 0), terminal("ref1_n", "drives", LVDS, 1)])
    named = {p["function"]: p for p in w.part["pins"] if p.get("function")}
    for k, ref in enumerate(("Y2", "Y3")):
        for half in "pn":
            w.wire(named[f"REFCLK{k}_{half.upper()}"], f"{ref}.ref{k}_{half}", low=20, high=21)
    lane = lambda ref, name, n, order: ([terminal(f"{name}_tx_{h}", "reads", "", order + k) for k, h in enumerate("pn")] + [terminal(f"{name}_rx_{h}", "drives", "", order + 2 + k) for k, h in enumerate("pn")])
    for cage in range(2):
        ref = f"J{cage + 1}"
        side = [("present_n", "drives", "low"), ("fault", "drives", "high"), ("loss", "drives", "high"), ("off", "reads", "high"), ("sda", "both", "high"), ("scl", "both", "high")]
        w.add(ref, f"cage{cage}", "optical", f"optical cage {cage + 1}", 4, 6 + 24 * cage, 22, 16, lane(ref, f"cage{cage}", cage, 0) + [terminal(n, d, V33, 4 + k, a, **({"open_drain": True} if n in ("sda", "scl") else {})) for k, (n, d, a) in enumerate(side)])
        for h in "pn":
            w.wire(named[f"LANE{cage}_TX_{h.upper()}"], f"{ref}.cage{cage}_tx_{h}", low=44, high=45)
            w.wire(named[f"LANE{cage}_RX_{h.upper()}"], f"{ref}.cage{cage}_rx_{h}", low=44, high=45)
        for n, d, _ in side:
            w.one("1", f"{ref}.{n}", pull="up", pull_ohm=10000 if n == "off" else 4700, **({"capacitance_pf": 60} if n in ("sda", "scl") else {}))
    host = [t for n in range(4) for t in lane("J3", f"host{n}", n + 2, 4 * n)]
    host += [terminal("wake_n", "both", V33, 16, "low", open_drain=True), terminal("host_rst_n", "drives", V33, 17, "low")]
    w.add("J3", "host", "edge", "four-lane host link", 30, 78, 60, 9, host)
    for n in range(4):
        for h in "pn":
            w.wire(named[f"LANE{n + 2}_TX_{h.upper()}"], f"J3.host{n}_tx_{h}", low=60, high=61)
            w.wire(named[f"LANE{n + 2}_RX_{h.upper()}"], f"J3.host{n}_rx_{h}", low=60, high=61)
    for n in ("wake_n", "host_rst_n"):
        w.one("2", f"J3.{n}", pull="up", pull_ohm=10000)
    lamp = {"current_ma": 3.5, "forward_volts": 1.9}
    w.add("D1", "lamps", "lamp", "lamps", 92, 6, 22, 8, [terminal(f"lamp{i}", "reads", V33, i, "low", **lamp) for i in range(8)])
    w.add("SW1", "rockers", "rocker", "rockers", 92, 20, 22, 8, [terminal(f"rocker{i}", "drives", V33, i) for i in range(4)])
    w.add("J4", "header", "header", "header", 104, 36, 10, 22, [terminal(f"h{i}", "both", V33, i) for i in range(8)], header_kind="eight")
    for i in range(8):
        w.one("2", f"D1.lamp{i}", series_ohm=390)
    for i in range(4):
        w.one("2", f"SW1.rocker{i}", pull="down", pull_ohm=10000)
    for i in range(8):
        w.one("2", f"J4.h{i}")
    return {
        "schema": "kitepeg.board/1", "name": "Headland", "made_up": True, "revision": "B", "part": "SKR44L-B529-HW", "fpga": "U1", "width_mm": 120, "height_mm": 90, "parts": w.parts, "nets": w.nets,
        "rails": [{"bank": b, "volts": v} for b, v in (("1", 3.3), ("2", 3.3), ("3", 2.5), ("4", 2.5), ("5", 1.5), ("6", 1.5), ("7", 3.3), ("8", 2.5))],
        "oscillators": [{"terminal": "Y1.osc_50", "mhz": 50.0, "ppm": 50, "duty_percent": [45, 55]}, {"terminal": "Y2.ref0_p", "mhz": 125.0, "ppm": 50, "duty_percent": [48, 52]}, {"terminal": "Y3.ref1_p", "mhz": 100.0, "ppm": 100, "duty_percent": [48, 52]}],
        "straps": [{"pin": named["SET_MODE0"]["name"], "level": 0}, {"pin": named["SET_MODE1"]["name"], "level": 0}], "mode": "serial flash",
        "stack": {"kind": "stripline", "relative_permittivity": 3.7, "height_mm": 0.4, "width_mm": 0.14, "thickness_mm": 0.018},
        "notes": ["Optical modules out of their cages at first power.", "The host link needs its reference clock before the part is loaded."],
    }


def module(name, label, kind, direction, active, prefix, **more):
    """Eight terminals of one kind on a plug; fits every header of kind 'eight' by position."""
    terminals = [terminal(f"{prefix}{i}", direction, V33, i, active, **more) for i in range(8)]
    return {"schema": "kitepeg.module/1", "name": name, "made_up": True, "header_kind": "eight",
            "parts": [{"ref": "M1", "name": prefix, "kind": kind, "label": label, "terminals": terminals}],
            "wires": [{"header": str(i), "terminal": f"M1.{prefix}{i}"} for i in range(8)]}


def dump(value, indent=0, width=150):
    """JSON with short things on one line: a pin or a net is a line, so that a diff shows only what changed."""
    flat = json.dumps(value, ensure_ascii=False)
    if not isinstance(value, (dict, list)) or len(flat) + indent <= width and not (isinstance(value, dict) and indent == 0):
        return flat
    pad = " " * (indent + 2)
    if isinstance(value, dict):
        body = ",\n".join(f"{pad}{json.dumps(k)}: {dump(v, indent + 2, width)}" for k, v in value.items())
        return "{\n" + body + "\n" + " " * indent + "}"
    return "[\n" + ",\n".join(pad + dump(v, indent + 2, width) for v in value) + "\n" + " " * indent + "]"


def main():
    files = {"parts/skr11-q144.part.json": quad144(), "parts/skr23-b256.part.json": ball256(), "parts/skr44l-b529.part.json": ball529(),
             "boards/tussock.board.json": tussock(), "boards/saltmarsh.board.json": saltmarsh(), "boards/headland.board.json": headland(),
             "modules/lampbar.module.json": module("lampbar", "lamp bar", "lamp", "reads", "high", "bar", current_ma=3.5, forward_volts=1.9),
             "modules/rockerbar.module.json": module("rockerbar", "rocker bar", "rocker", "drives", "high", "rock")}
    write_or_check(HERE, {name: dump(value) + "\n" for name, value in files.items()}, "make_world.py")


if __name__ == "__main__":
    main()
