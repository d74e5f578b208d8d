# SPDX-License-Identifier: GPL-3.0-or-later
"""What the demo composers share: a small structural netlist, its Verilog, the made-up cell library and made-up delays.

All numbers are invented; all output depends on the input only, so that it is the same to the byte on every machine.
"""
import os, sys

ROOT = os.path.dirname(os.path.dirname(os.path.abspath(__file__)))
sys.path.insert(0, os.path.join(ROOT, "data"))
from made_up import spread, write_or_check  # noqa: E402,F401  (handed on to the composers)


class Netlist:
    """Cells as (type, name, pins by name, truth table, parameters by name or None); wires in the order they were made."""

    def __init__(self, clock="clk"):
        self.cells, self.wires, self.clock = [], [], clock

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
        self.add(f"SK_TABLE_{n}", "u_" + name, pins, f"{1 << n}'h{table:x}")
        return name

    def reg(self, name, data, enable=None, clock=None, falling=False):
        pins = {"D": data, "CK": clock or self.clock}
        if enable:
            pins["E"] = enable
        pins["Q"] = self.wire(name)
        self.add("SK_REGISTER_FALL" if falling else "SK_REGISTER_ENABLE" if enable else "SK_REGISTER", name + "_reg", pins)
        return name


def verilog(n, head):
    """`head`: the lines of the module's header, up to and with its port declarations."""
    out = list(head) + [""]
    for at in range(0, len(n.wires), 8):
        out.append("  wire " + ", ".join(n.wires[at:at + 8]) + ";")
    out.append("")
    for kind, name, pins, table in n.cells:
        param = f" #(.TABLE({table}))" if isinstance(table, str) else f" #({', '.join(f'.{k}({v})' for k, v in table.items())})" if table else ""
        out.append(f"  {kind}{param} {name} (" + ", ".join(f".{p}({w})" for p, w in pins.items()) + ");")
    return "\n".join(out + ["endmodule", ""])


# cell: intrinsic delay ns, ns per pF of load, input capacitance pF
TIMES = {"SK_TABLE_1": (0.210, 2.0), "SK_TABLE_2": (0.240, 2.0), "SK_TABLE_3": (0.270, 2.1), "SK_TABLE_4": (0.300, 2.2),
         "SK_PAD_INPUT": (0.850, 1.0), "SK_PAD_OUTPUT": (2.300, 0.06), "SK_CLOCK_ROOT": (0.620, 0.2), "SK_REGISTER": (0.280, 2.0), "SK_REGISTER_ENABLE": (0.280, 2.0), "SK_REGISTER_FALL": (0.280, 2.0),
         "SK_SUM": (0.260, 1.6), "SK_DIFFERENCE": (0.260, 1.6), "SK_LATCH": (0.290, 2.0), "SK_MEMORY": (1.150, 1.2),
         "SK_PAD_TWO_WAY": (2.400, 0.06), "SK_PAIR_INPUT": (0.900, 1.0), "SK_PAIR_OUTPUT": (1.700, 0.06), "SK_PLL": (0.350, 0.2)}


# Registers by what they have: enable, clear, preset, the falling edge.
REGISTERS = ["_".join(word for word in ("SK_REGISTER", edge, enable, kind) if word)
             for edge in ("", "FALL") for kind in ("", "CLEAR", "PRESET") for enable in ("", "ENABLE")]
TIMES.update({cell: (0.280, 2.0) for cell in REGISTERS})


def table(name, base, slope, scale=1.0):
    rows = []
    for slew in (0.02, 0.2, 0.8):
        rows.append('"' + ", ".join(f"{scale * (base + slope * load + 0.18 * slew):.4f}" for load in (0.002, 0.02, 0.1)) + '"')
    return f"        {name} (grid3) {{ values ({', '.join(rows)}); }}"


def arc(cell, related, kind, sense, own=None):
    base, slope = TIMES[cell]
    base = own or base
    out = ["      timing () {", f'        related_pin : "{related}";', f"        timing_type : {kind};"]
    if sense:
        out.append(f"        timing_sense : {sense};")
    out += [table("cell_rise", base, slope), table("cell_fall", base, slope, 1.04),
            table("rise_transition", 0.05, 1.6), table("fall_transition", 0.05, 1.5), "      }"]
    return out


def check(kind, rise, fall, clock="CK"):
    return ["      timing () {", f'        related_pin : "{clock}";', f"        timing_type : {kind};",
            f'        rise_constraint (scalar) {{ values ("{rise:.3f}"); }}', f'        fall_constraint (scalar) {{ values ("{fall:.3f}"); }}', "      }"]


def pin(name, direction, body=(), **attributes):
    out = [f"    pin ({name}) {{", f"      direction : {direction};"]
    out += [f"      {k} : {v};" for k, v in attributes.items()]
    return out + list(body) + ["    }"]


def bus(name, direction, bits, body=(), **attributes):
    out = [f"    bus ({name}) {{", f"      bus_type : bits{bits};", f"      direction : {direction};"]
    out += [f"      {k} : {v};" for k, v in attributes.items()]
    return out + list(body) + ["    }"]


def memory():
    """512 words of 18 bits, written at the clock, read by looking through."""
    out = ["  cell (SK_MEMORY) {", '    part_resource : "memory";', "    memory () {", "      type : ram;", "      address_width : 9;", "      word_width : 18;", "    }"]
    checks = check("setup_rising", 0.250, 0.260) + check("hold_rising", 0.080, 0.075)
    out += bus("WA", "input", 9, checks, capacitance=0.005) + bus("RA", "input", 9, capacitance=0.005)
    out += bus("WD", "input", 18, ["      memory_write () {", '        address : "WA";', '        clocked_on : "CK";', '        enable : "WE";', "      }"] + checks, capacitance=0.005)
    out += pin("WE", "input", checks, capacitance=0.005) + pin("CK", "input", capacitance=0.004, clock="true")
    read = arc("SK_MEMORY", None, "combinational", "non_unate")
    read[1] = '        related_bus_pins : "RA";'
    out += bus("RD", "output", 18, ["      memory_read () {", '        address : "RA";', "      }"] + read)
    return out + ["  }"]


def liberty():
    out = ["/* SPDX-License-Identifier: GPL-3.0-or-later */", "/* Cells of the made-up Skerry series, speed M. Invented numbers. */", "library (skerry_m) {",
           '  time_unit : "1ns";', "  capacitive_load_unit (1, pf);", '  voltage_unit : "1V";', "  nom_voltage : 1.1;",
           "  /* the parameter that carries the truth table of a look-up cell; bit i is the output for inputs A0 + 2 A1 + 4 A2 + 8 A3 = i */",
           '  define (truth_table_parameter, cell, string);', "  /* what of the part a cell takes beside logic */", '  define (part_resource, cell, string);', "  /* of a PLL: the parameters with its dividers before the detector, in the loop and behind the oscillator */",
           '  define (pll_divide_parameter, cell, string);', '  define (pll_multiply_parameter, cell, string);', '  define (pll_divide_parameter, pin, string);', "  /* of a register: the parameter with its state after configuration, and that state where the parameter is not given */",
           '  define (initial_value_parameter, cell, string);', '  define (initial_value, cell, string);',
           *[line for n in (9, 18) for line in (f"  type (bits{n}) {{", "    base_type : array;", "    data_type : bit;", f"    bit_width : {n};", f"    bit_from : {n - 1};", "    bit_to : 0;", "    downto : true;", "  }")], "  lu_table_template (grid3) {", "    variable_1 : input_net_transition;",
           "    variable_2 : total_output_net_capacitance;", '    index_1 ("0.02, 0.2, 0.8");', '    index_2 ("0.002, 0.02, 0.1");', "  }"]
    for k in (1, 2, 3, 4):
        cell = f"SK_TABLE_{k}"
        out += [f"  cell ({cell}) {{", '    truth_table_parameter : "TABLE";']
        for i in range(k):
            out += pin(f"A{i}", "input", capacitance=0.004)
        body = sum((arc(cell, f"A{i}", "combinational", "non_unate") for i in range(k)), [])
        out += pin("Y", "output", body) + ["  }"]
    # One bit of a sum, or of a difference: its carry goes straight to the next one.
    for cell, b in (("SK_SUM", "B"), ("SK_DIFFERENCE", "!B")):
        out += [f"  cell ({cell}) {{"]
        for name, load in (("A", 0.004), ("B", 0.004), ("CI", 0.002)):
            out += pin(name, "input", capacitance=load)
        through = lambda to: sum((arc(cell, i, "combinational", "non_unate" if to == "S" or (b == "!B" and i == "B") else "positive_unate", 0.055 if i == "CI" and to == "CO" else None) for i in ("A", "B", "CI")), [])
        out += pin("S", "output", through("S"), function=f'"A ^ {b} ^ CI"')
        out += pin("CO", "output", through("CO"), function=f'"(A * {b}) + (CI * (A + {b}))"') + ["  }"]
    for cell in REGISTERS:
        words = cell.split("_")
        enable, edge = "ENABLE" in words, "falling" if "FALL" in words else "rising"
        out += [f"  cell ({cell}) {{", '    initial_value_parameter : "START";', '    initial_value : "0";', "    ff (state, state_n) {", f'      clocked_on : "{"!CK" if edge == "falling" else "CK"}";',
                f'      next_state : "{"(E * D) + (!E * state)" if enable else "D"}";']
        out += ['      clear : "CLR";'] if "CLEAR" in words else ['      preset : "PRE";'] if "PRESET" in words else []
        out += ["    }"] + pin("D", "input", check(f"setup_{edge}", 0.120, 0.130) + check(f"hold_{edge}", 0.040, 0.035), capacitance=0.003)
        if enable:
            out += pin("E", "input", check(f"setup_{edge}", 0.180, 0.190) + check(f"hold_{edge}", 0.030, 0.030), capacitance=0.003)
        to_q = arc(cell, "CK", f"{edge}_edge", None)
        for name, kind, sense in (("CLR", "clear", "negative_unate"), ("PRE", "preset", "positive_unate")):
            if kind.upper() in words:
                out += pin(name, "input", check(f"recovery_{edge}", 0.210, 0.210) + check(f"removal_{edge}", 0.090, 0.090), capacitance=0.003)
                to_q += arc(cell, name, kind, sense)
        out += pin("CK", "input", capacitance=0.002, clock="true")
        out += pin("Q", "output", to_q, function='"state"') + ["  }"]
    out += ["  cell (SK_LATCH) {", '    initial_value_parameter : "START";', '    initial_value : "0";', "    latch (state, state_n) {", '      enable : "G";', '      data_in : "D";', "    }"]
    out += pin("D", "input", check("setup_falling", 0.120, 0.130, "G") + check("hold_falling", 0.040, 0.035, "G"), capacitance=0.003) + pin("G", "input", capacitance=0.002, clock="true")
    out += pin("Q", "output", arc("SK_LATCH", "G", "rising_edge", None) + arc("SK_LATCH", "D", "combinational", "positive_unate"), function='"state"') + ["  }"]
    out += memory()
    for cell, a, y in (("SK_PAD_INPUT", "PAD", "Y"), ("SK_PAD_OUTPUT", "A", "PAD"), ("SK_CLOCK_ROOT", "A", "Y")):
        out += [f"  cell ({cell}) {{", f'    part_resource : "{"clock_network" if cell == "SK_CLOCK_ROOT" else "pad"}";']
        out += pin(a, "input", capacitance=0.006 if a == "A" else 5.0, **({"is_pad": "true"} if a == "PAD" else {}))
        out += pin(y, "output", arc(cell, a, "combinational", "positive_unate"), function=f'"{a}"', **({"is_pad": "true"} if y == "PAD" else {})) + ["  }"]
    # A pad in both directions: driven while E is high, and read back.
    out += ["  cell (SK_PAD_TWO_WAY) {", '    part_resource : "pad";'] + pin("A", "input", capacitance=0.006) + pin("E", "input", capacitance=0.006)
    out += pin("PAD", "inout", arc("SK_PAD_TWO_WAY", "A", "combinational", "positive_unate") + arc("SK_PAD_TWO_WAY", "E", "combinational", "positive_unate"), function='"A * E"', three_state='"!E"', capacitance=5.0, is_pad="true")
    out += pin("Y", "output", arc("SK_PAD_INPUT", "PAD", "combinational", "positive_unate"), function='"PAD"') + ["  }"]
    # Differential pads: two wires outside, one inside. The complement carries the same edge the other way round.
    out += ["  cell (SK_PAIR_INPUT) {", '    part_resource : "pad";'] + pin("P", "input", capacitance=3.0, is_pad="true") + pin("N", "input", capacitance=3.0, is_pad="true")
    out += pin("Y", "output", arc("SK_PAIR_INPUT", "P", "combinational", "positive_unate"), function='"P"') + ["  }"]
    out += ["  cell (SK_PAIR_OUTPUT) {", '    part_resource : "pad";'] + pin("A", "input", capacitance=0.006)
    out += pin("P", "output", arc("SK_PAIR_OUTPUT", "A", "combinational", "positive_unate"), function='"A"', is_pad="true")
    out += pin("N", "output", arc("SK_PAIR_OUTPUT", "A", "combinational", "negative_unate"), function='"!A"', is_pad="true") + ["  }"]
    # A PLL: what its outputs do is said by generated clocks in the constraints; the simulation lets them follow the input.
    # It has as many outputs as the largest part gives it; how many a part has is said there.
    out += ["  cell (SK_PLL) {", '    part_resource : "pll";', '    pll_divide_parameter : "DIVIDE";', '    pll_multiply_parameter : "MULTIPLY";'] + pin("CKI", "input", capacitance=0.006)
    for k in range(6):
        out += pin(f"CK{k}", "output", arc("SK_PLL", "CKI", "combinational", "positive_unate"), function='"CKI"', pll_divide_parameter=f'"DIVIDE{k}"')
    return "\n".join(out + ["  }", "}", ""])


def triple(typ):
    return f"({0.82 * typ:.3f}:{typ:.3f}:{1.16 * typ:.3f})"


OUTPUTS = {"SK_PLL": tuple(f"CK{k}" for k in range(6)), "SK_PAIR_OUTPUT": ("P", "N"), "SK_PAD_OUTPUT": ("PAD",), "SK_PAD_TWO_WAY": ("PAD", "Y")}
OUTSIDE = {"SK_PAD_INPUT": ("PAD",), "SK_PAD_TWO_WAY": ("PAD",), "SK_PAIR_INPUT": ("P", "N")}


def arcs_of(kind, pins):
    """Pairs of (source, target) that an IOPATH is written for."""
    if kind == "SK_PAD_TWO_WAY":
        return [("A", "PAD"), ("E", "PAD"), ("PAD", "Y")]
    if kind == "SK_PAIR_INPUT":
        return [("P", "Y")]
    if "Q" in pins:
        return [("(negedge CK)" if kind == "SK_REGISTER_FALL" else "(posedge CK)", "Q")]
    outs = [p for p in OUTPUTS.get(kind, ("Y",)) if p in pins]
    return [(s, t) for t in outs for s in pins if s not in outs]


def sdf(n, design, program, wire_ns=None):
    """Delays for every cell and wire. `wire_ns(driver, sink, net)` gives a wire's typical delay, or None for the usual spread."""
    out = ["(DELAYFILE", '  (SDFVERSION "3.0")', f'  (DESIGN "{design}")', f'  (PROGRAM "{program}")', "  (DIVIDER /)", "  (TIMESCALE 1ns)"]
    drivers = {}
    for kind, name, pins, _ in n.cells:
        for p in ("Q",) if "Q" in pins else OUTPUTS.get(kind, ("Y",)):
            if p in pins and not (p in ("PAD", "P", "N")):
                drivers[pins[p]] = f"{name}/{p}"
    clocks = {pins["CK"] for _, _, pins, _ in n.cells if "CK" in pins}
    out += [f'  (CELL (CELLTYPE "{design}") (INSTANCE )', "    (DELAY (ABSOLUTE"]
    for kind, name, pins, _ in n.cells:
        for p, w in pins.items():
            if p == "Q" or p in OUTPUTS.get(kind, ("Y",)) or p in OUTSIDE.get(kind, ()):
                continue
            wire = wire_ns(drivers[w], f"{name}/{p}", w) if wire_ns else None
            if wire is None:
                wire = spread(w + name + p, 0.05, 0.07) if w in clocks else spread(w + name + p, 0.22, 0.95)
            out.append(f"      (INTERCONNECT {drivers[w]} {name}/{p} {triple(wire)})")
    out.append("    ))\n  )")
    for kind, name, pins, _ in n.cells:
        base = TIMES[kind][0] * spread(name, 0.97, 1.05)
        out += [f'  (CELL (CELLTYPE "{kind}") (INSTANCE {name})', "    (DELAY (ABSOLUTE"]
        for s, t in arcs_of(kind, pins):
            b = TIMES["SK_PAD_INPUT"][0] * spread(name, 0.97, 1.05) if kind == "SK_PAD_TWO_WAY" and t == "Y" else base
            out.append(f"      (IOPATH {s} {t} {triple(b)} {triple(1.04 * b)})")
        out.append("    ))")
        if "CK" in pins:
            edge = "negedge" if kind == "SK_REGISTER_FALL" else "posedge"
            out.append("    (TIMINGCHECK")
            out += [f"      (SETUPHOLD {p} ({edge} CK) ({0.13 if p == 'D' else 0.19:.3f}) ({0.04 if p == 'D' else 0.03:.3f}))" for p in ("D", "E") if p in pins]
            out.append("    )")
        out.append("  )")
    return "\n".join(out + [")", ""])
