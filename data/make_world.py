#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Writes the made-up parts and boards of Kite Peg. Everything here is invented.

    make_world.py [--check]     writes (or compares with) the files beside it, reproducible to the byte
"""
import json, os, sys

HERE = os.path.dirname(os.path.abspath(__file__))
SINGLE = ["LVCMOS 3.3 V", "LVTTL 3.3 V", "LVCMOS 2.5 V", "LVCMOS 1.8 V", "LVCMOS 1.5 V", "LVCMOS 1.2 V"]


def ordering():
    means = lambda rows: [{"code": c, "means": m} for c, m in rows]
    return [
        {"name": "series", "values": means([("SKR", "Skerry series")])},
        {"name": "size", "values": means([("12", "12 thousand logic cells"), ("24", "24 thousand logic cells"),
                                          ("45T", "45 thousand logic cells, one transceiver tile")])},
        {"literal": "-"},
        {"name": "package", "values": means([("Q144", "quad flat, 144 pins"), ("B256", "ball grid, 16 by 16"),
                                             ("B484", "ball grid, 22 by 22")])},
        {"literal": "-"},
        {"name": "speed", "values": means([("1", "slowest of three"), ("2", "middle of three"), ("3", "fastest of three")])},
        {"name": "range", "values": means([("C", "0 to 85 degrees"), ("I", "-40 to 100 degrees")])},
    ]


def banks(names):
    return [{"name": n, "supply": f"VCCO_{n}", "volts": [1.2, 1.5, 1.8, 2.5, 3.3], "standards": SINGLE} for n in names]


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


PLL = lambda n: {"name": n, "input_mhz": [5, 200], "detector_mhz": [5, 100], "vco_mhz": [400, 1000], "output_mhz": [3, 400]}
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
                pin.update(kind="bank_supply", function=f"VCCO_{bank}")
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
    return {
        "schema": "kitepeg.part/1", "name": "SKR12-Q144", "made_up": True, "ordering": ordering(), "codes": "SKR12-Q144",
        "idcode": "0x1A246093",
        "resources": {"logic_cells": 11904, "registers": 11904, "memory_bits": 516096, "clock_networks": 8, "plls": 2, "lanes": 0},
        "package": {"kind": "quad_flat", "pins": 144, "per_side": 36, "body_mm": 20.0},
        "banks": banks("1234"), "plls": [PLL("PLL_W"), PLL("PLL_E")], "pins": pins,
    }


def ball256():
    letters, pins, config = "ABCDEFGHJKLMNPRT", [], list(CONFIG)
    setup = {(0, 3), (4, 15), (15, 9), (0, 8), (8, 0), (9, 0), (15, 3), (7, 15)}
    clocks = {(0, 0), (0, 1), (2, 5), (3, 5), (1, 8), (1, 9), (3, 13), (3, 14), (7, 12), (7, 13), (10, 14), (11, 14), (11, 0), (12, 0), (14, 2), (14, 3), (13, 8), (13, 9), (14, 13), (14, 14)}
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
                pin.update(kind="bank_supply", function=f"VCCO_{bank}")
            elif (r * 16 + c) % 23 == 11:
                pin.update(kind="ground", function="GND", bank="")
            pins.append(pin)
    pair_up(pins)
    return {
        "schema": "kitepeg.part/1", "name": "SKR24-B256", "made_up": True, "ordering": ordering(), "codes": "SKR24-B256",
        "idcode": "0x1A2480D3",
        "resources": {"logic_cells": 23808, "registers": 23808, "memory_bits": 1032192, "clock_networks": 16, "plls": 4, "lanes": 0},
        "package": {"kind": "ball_grid", "rows": 16, "columns": 16, "body_mm": 17.0},
        "banks": banks("123456"), "plls": [PLL(f"PLL_{k}") for k in "NESW"], "pins": pins,
    }


def tussock():
    low = lambda name, order: {"name": name, "direction": "reads", "active": "low", "standard": "LVCMOS 3.3 V", "order": order}
    gives = lambda name, order, active="high": {"name": name, "direction": "drives", "active": active, "standard": "LVCMOS 3.3 V", "order": order}
    both = lambda name, order: {"name": name, "direction": "both", "active": "high", "standard": "LVCMOS 2.5 V", "order": order}
    parts = [
        {"ref": "U1", "name": "fpga", "kind": "fpga", "label": "SKR12", "x": 34, "y": 24, "w": 20, "h": 20, "terminals": []},
        {"ref": "Y1", "name": "osc", "kind": "oscillator", "label": "20 MHz", "x": 17, "y": 6, "w": 9, "h": 6, "terminals": [gives("osc_20", 0)]},
        {"ref": "J3", "name": "vane", "kind": "vane", "label": "wind vane", "x": 3, "y": 18, "w": 11, "h": 26,
         "terminals": [gives(f"gray{i}", 4 - i) for i in range(5)]},
        {"ref": "D1", "name": "rose", "kind": "lamp", "label": "compass rose", "x": 34, "y": 50, "w": 32, "h": 8,
         "terminals": [low(f"rose{i}", i) for i in range(8)]},
        {"ref": "S1", "name": "hold", "kind": "key", "label": "hold", "x": 4, "y": 49, "w": 9, "h": 8, "terminals": [gives("hold", 0, "low")]},
        {"ref": "S2", "name": "zero", "kind": "key", "label": "zero", "x": 17, "y": 49, "w": 9, "h": 8, "terminals": [gives("zero", 0, "low")]},
        {"ref": "LS1", "name": "sounder", "kind": "sounder", "label": "sounder", "x": 66, "y": 5, "w": 11, "h": 11,
         "terminals": [{"name": "tone", "direction": "reads", "active": "high", "standard": "LVCMOS 3.3 V", "order": 0}]},
        {"ref": "J2", "name": "header", "kind": "header", "label": "header", "x": 67, "y": 22, "w": 10, "h": 24,
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
        "schema": "kitepeg.board/1", "name": "Tussock", "made_up": True, "revision": "A", "part": "SKR12-Q144-2C", "fpga": "U1",
        "width_mm": 80, "height_mm": 60, "parts": parts, "nets": nets,
        "rails": [{"bank": "1", "volts": 3.3}, {"bank": "2", "volts": 3.3}, {"bank": "3", "volts": 2.5}, {"bank": "4", "volts": 3.3}],
        "oscillators": [{"terminal": "Y1.osc_20", "mhz": 20.0, "ppm": 50, "duty_percent": [45, 55]}],
        "notes": ["Jumper P1 on 3.3 V.", "Vane plug: red wire at the arrow.", "The sounder sits between signal and ground, never on a supply."],
    }


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
    files = {"parts/skr12-q144.part.json": quad144(), "parts/skr24-b256.part.json": ball256(), "boards/tussock.board.json": tussock()}
    wrong = 0
    for name, value in files.items():
        text, path = dump(value) + "\n", os.path.join(HERE, name)
        if "--check" in sys.argv:
            if not os.path.exists(path) or open(path, encoding="utf-8").read() != text:
                print(f"{name} differs from what make_world.py writes")
                wrong = 1
        else:
            with open(path, "w", encoding="utf-8") as out:
                out.write(text)
    sys.exit(wrong)


if __name__ == "__main__":
    main()
