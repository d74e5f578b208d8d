#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Composes the demo design `vane`: netlist (structural Verilog), cell library (Liberty) and delays (SDF). All invented.

    make_vane.py [--check]      writes (or compares with) the files, reproducible to the byte

The design: five Gray-coded vane lines are synchronised twice, turned into binary by an XOR chain, held while the key
`hold` is down, measured from where the key `zero` was last pressed, and shown on eight lamps (active low). A 15-bit
counter divides 20 MHz to the tone (20e6 / 2**15 = 610.35 Hz). The raw vane lines also go straight to a header.
"""
import os, sys

HERE = os.path.dirname(os.path.abspath(__file__))
ROOT = os.path.dirname(HERE)


class Netlist:
    def __init__(self):
        self.cells, self.wires = [], []

    def wire(self, name):
        self.wires.append(name)
        return name

    def add(self, kind, name, pins, table=None):
        self.cells.append((kind, name, pins, table))
        return pins

    def look(self, name, inputs, function):
        """A look-up cell: bit i of the table is the output when the inputs, first input lowest, spell i."""
        n = len(inputs)
        table = sum(1 << i for i in range(1 << n) if function(*[(i >> k) & 1 for k in range(n)]))
        pins = {f"A{k}": w for k, w in enumerate(inputs)}
        pins["Y"] = self.wire(name)
        self.add(f"SK_LOOK{n}", "u_" + name, pins, f"{1 << n}'h{table:x}")
        return name

    def reg(self, name, data, enable=None):
        pins = {"D": data, "CK": "clk"}
        if enable:
            pins["E"] = enable
        pins["Q"] = self.wire(name)
        self.add("SK_REG_E" if enable else "SK_REG", name + "_reg", pins)
        return name


def build():
    n = Netlist()
    for w in ("osc_i", "clk"):
        n.wire(w)
    n.add("SK_PAD_IN", "pad_osc_20", {"PAD": "osc_20", "Y": "osc_i"})
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
        n.add("SK_PAD_IN", f"pad_{key}_n", {"PAD": f"{key}_n", "Y": n.wire(f"{key}_i")})
        n.reg(f"{key}_steady", n.reg(f"{key}_s2", n.reg(f"{key}_s1", f"{key}_i")), enable=tick)
    # vane: pads, straight to the header, and synchronised
    for i in range(5):
        n.add("SK_PAD_IN", f"pad_gray{i}", {"PAD": f"gray[{i}]", "Y": n.wire(f"gray_i{i}")})
        n.add("SK_PAD_OUT", f"pad_raw{i}", {"A": f"gray_i{i}", "PAD": f"raw[{i}]"})
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
        n.add("SK_PAD_OUT", f"pad_rose{lamp}", {"A": n.reg(f"lamp{lamp}", dark), "PAD": f"rose_n[{lamp}]"})
    n.add("SK_PAD_OUT", "pad_tone", {"A": n.reg("tone_q", q[14]), "PAD": "tone"})
    return n


def verilog(n):
    out = ["// SPDX-License-Identifier: GPL-3.0-or-later", "// vane: wind vane to compass rose, made by demo/make_vane.py", "`timescale 1ns / 1ps", "",
           "module vane (osc_20, gray, hold_n, zero_n, rose_n, raw, tone);", "  input osc_20;", "  input [4:0] gray;", "  input hold_n, zero_n;",
           "  output [7:0] rose_n;", "  output [4:0] raw;", "  output tone;", ""]
    for at in range(0, len(n.wires), 8):
        out.append("  wire " + ", ".join(n.wires[at:at + 8]) + ";")
    out.append("")
    for kind, name, pins, table in n.cells:
        param = f" #(.TABLE({table}))" if table else ""
        out.append(f"  {kind}{param} {name} (" + ", ".join(f".{p}({w})" for p, w in pins.items()) + ");")
    return "\n".join(out + ["endmodule", ""])


# cell: intrinsic delay ns, ns per pF of load, input capacitance pF
TIMES = {"SK_LOOK1": (0.210, 2.0), "SK_LOOK2": (0.240, 2.0), "SK_LOOK3": (0.270, 2.1), "SK_LOOK4": (0.300, 2.2),
         "SK_PAD_IN": (0.850, 1.0), "SK_PAD_OUT": (2.300, 0.06), "SK_CLOCK_ROOT": (0.620, 0.2), "SK_REG": (0.280, 2.0), "SK_REG_E": (0.280, 2.0)}


def table(name, base, slope, scale=1.0):
    rows = []
    for slew in (0.02, 0.2, 0.8):
        rows.append('"' + ", ".join(f"{scale * (base + slope * load + 0.18 * slew):.4f}" for load in (0.002, 0.02, 0.1)) + '"')
    return f"        {name} (grid3) {{ values ({', '.join(rows)}); }}"


def arc(cell, related, kind, sense):
    base, slope = TIMES[cell]
    out = ["      timing () {", f'        related_pin : "{related}";', f"        timing_type : {kind};"]
    if sense:
        out.append(f"        timing_sense : {sense};")
    out += [table("cell_rise", base, slope), table("cell_fall", base, slope, 1.04),
            table("rise_transition", 0.05, 1.6), table("fall_transition", 0.05, 1.5), "      }"]
    return out


def check(kind, rise, fall):
    return ["      timing () {", '        related_pin : "CK";', f"        timing_type : {kind};",
            f'        rise_constraint (scalar) {{ values ("{rise:.3f}"); }}', f'        fall_constraint (scalar) {{ values ("{fall:.3f}"); }}', "      }"]


def pin(name, direction, body=(), **attributes):
    out = [f"    pin ({name}) {{", f"      direction : {direction};"]
    out += [f"      {k} : {v};" for k, v in attributes.items()]
    return out + list(body) + ["    }"]


def liberty():
    out = ["/* SPDX-License-Identifier: GPL-3.0-or-later */", "/* Cells of the made-up Skerry series, speed 2. Invented numbers. */", "library (skerry_2) {",
           '  time_unit : "1ns";', "  capacitive_load_unit (1, pf);", '  voltage_unit : "1V";', "  nom_voltage : 1.1;",
           "  /* the parameter that carries the truth table of a look-up cell; bit i is the output for inputs A0 + 2 A1 + 4 A2 + 8 A3 = i */",
           '  define (truth_table_parameter, cell, string);', "  lu_table_template (grid3) {", "    variable_1 : input_net_transition;",
           "    variable_2 : total_output_net_capacitance;", '    index_1 ("0.02, 0.2, 0.8");', '    index_2 ("0.002, 0.02, 0.1");', "  }"]
    for k in (1, 2, 3, 4):
        cell = f"SK_LOOK{k}"
        out += [f"  cell ({cell}) {{", '    truth_table_parameter : "TABLE";']
        for i in range(k):
            out += pin(f"A{i}", "input", capacitance=0.004)
        body = sum((arc(cell, f"A{i}", "combinational", "non_unate") for i in range(k)), [])
        out += pin("Y", "output", body) + ["  }"]
    for cell in ("SK_REG", "SK_REG_E"):
        enable = cell.endswith("_E")
        out += [f"  cell ({cell}) {{", "    ff (state, state_n) {", '      clocked_on : "CK";',
                f'      next_state : "{"(E * D) + (!E * state)" if enable else "D"}";', "    }"]
        out += pin("D", "input", check("setup_rising", 0.120, 0.130) + check("hold_rising", 0.040, 0.035), capacitance=0.003)
        if enable:
            out += pin("E", "input", check("setup_rising", 0.180, 0.190) + check("hold_rising", 0.030, 0.030), capacitance=0.003)
        out += pin("CK", "input", capacitance=0.002, clock="true")
        out += pin("Q", "output", arc(cell, "CK", "rising_edge", None), function='"state"') + ["  }"]
    for cell, a, y in (("SK_PAD_IN", "PAD", "Y"), ("SK_PAD_OUT", "A", "PAD"), ("SK_CLOCK_ROOT", "A", "Y")):
        out += [f"  cell ({cell}) {{"] + pin(a, "input", capacitance=0.006 if a == "A" else 5.0)
        out += pin(y, "output", arc(cell, a, "combinational", "positive_unate"), function=f'"{a}"') + ["  }"]
    return "\n".join(out + ["}", ""])


def spread(text, low, high):
    """A number between low and high that depends on the text only (an FNV-1a hash): the same on every machine."""
    h = 0xCBF29CE484222325
    for byte in text.encode():
        h = ((h ^ byte) * 0x100000001B3) & 0xFFFFFFFFFFFFFFFF
    return low + (high - low) * ((h >> 20) % 10000) / 9999.0


def triple(typ):
    return f"({0.82 * typ:.3f}:{typ:.3f}:{1.16 * typ:.3f})"


def sdf(n):
    out = ["(DELAYFILE", '  (SDFVERSION "3.0")', '  (DESIGN "vane")', '  (PROGRAM "make_vane.py")', "  (DIVIDER /)", "  (TIMESCALE 1ns)"]
    drivers = {}
    for kind, name, pins, _ in n.cells:
        for p in ("Y", "Q"):
            if p in pins:
                drivers[pins[p]] = f"{name}/{p}"
    out += ['  (CELL (CELLTYPE "vane") (INSTANCE )', "    (DELAY (ABSOLUTE"]
    for kind, name, pins, _ in n.cells:
        for p, w in pins.items():
            if p in ("Y", "Q", "PAD"):
                continue
            wire = spread(w + name + p, 0.05, 0.07) if w == "clk" else spread(w + name + p, 0.22, 0.95)
            out.append(f"      (INTERCONNECT {drivers[w]} {name}/{p} {triple(wire)})")
    out.append("    ))\n  )")
    for kind, name, pins, _ in n.cells:
        base = TIMES[kind][0] * spread(name, 0.97, 1.05)
        target = next(p for p in ("Y", "Q", "PAD") if p in pins and not (p == "PAD" and kind == "SK_PAD_IN"))
        sources = ["(posedge CK)"] if "CK" in pins else [p for p in pins if p != target]
        out += [f'  (CELL (CELLTYPE "{kind}") (INSTANCE {name})', "    (DELAY (ABSOLUTE"]
        out += [f"      (IOPATH {s} {target} {triple(base)} {triple(1.04 * base)})" for s in sources]
        out.append("    ))")
        if "CK" in pins:
            out.append("    (TIMINGCHECK")
            out += [f"      (SETUPHOLD {p} (posedge CK) ({0.13 if p == 'D' else 0.19:.3f}) ({0.04 if p == 'D' else 0.03:.3f}))" for p in ("D", "E") if p in pins]
            out.append("    )")
        out.append("  )")
    return "\n".join(out + [")", ""])


def main():
    n = build()
    files = {"demo/vane/vane.v": verilog(n), "demo/vane/vane.sdf": sdf(n), "data/cells/skerry.lib": liberty()}
    wrong = 0
    for name, text in files.items():
        path = os.path.join(ROOT, name)
        if "--check" in sys.argv:
            if not os.path.exists(path) or open(path, encoding="utf-8").read() != text:
                print(f"{name} differs from what make_vane.py writes")
                wrong = 1
        else:
            with open(path, "w", encoding="utf-8") as out:
                out.write(text)
    if "--check" not in sys.argv:
        print(f"{len(n.cells)} cells")
    sys.exit(wrong)


if __name__ == "__main__":
    main()
