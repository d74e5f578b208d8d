# SPDX-License-Identifier: GPL-3.0-or-later
"""Blocks the design `profiler` is made of. Buses are lists of wire names, lowest bit first. Registers start at 0."""


class Blocks:
    def __init__(self, netlist):
        self.n, self.serial = netlist, 0

    # Small things -------------------------------------------------------------------------------------------------------

    def name(self, stem):
        self.serial += 1
        return f"{stem}_t{self.serial}"

    def gate(self, inputs, function, stem="g"):
        return self.n.look(self.name(stem), inputs, function)

    def both(self, wires, stem="and"):
        """All of many: a tree of four-input cells."""
        while len(wires) > 1:
            wires = [wires[i] if len(wires[i:i + 4]) == 1 else self.gate(wires[i:i + 4], lambda *v: all(v), stem) for i in range(0, len(wires), 4)]
        return wires[0]

    def any(self, wires, stem="or"):
        while len(wires) > 1:
            wires = [wires[i] if len(wires[i:i + 4]) == 1 else self.gate(wires[i:i + 4], lambda *v: any(v), stem) for i in range(0, len(wires), 4)]
        return wires[0]

    def odd(self, wires, stem="xor", turned=False):
        """Parity of many; turned: its complement."""
        while len(wires) > 4:
            wires = [wires[i] if len(wires[i:i + 4]) == 1 else self.gate(wires[i:i + 4], lambda *v: sum(v) & 1, stem) for i in range(0, len(wires), 4)]
        return self.gate(wires, lambda *v: (sum(v) & 1) ^ turned, stem)

    def inv(self, wire):
        return self.gate([wire], lambda a: not a, "not")

    def pick(self, select, yes, no):
        return self.gate([select, yes, no], lambda s, a, b: a if s else b, "mux")

    def pick_one(self, select, items):
        """items[select], by a tree of two-to-one cells."""
        for bit in select:
            items = [self.pick(bit, items[i + 1], items[i]) if i + 1 < len(items) else items[i] for i in range(0, len(items), 2)]
        return items[0]

    def regs(self, stem, data, clock, enable=None, falling=False):
        return [self.n.reg(f"{stem}_{i}", d, enable, clock, falling) for i, d in enumerate(data)]

    def steady(self, stem, wire, clock, depth=2):
        """Registers against metastability."""
        for k in range(depth):
            wire = self.n.reg(f"{stem}_s{k + 1}", wire, None, clock)
        return wire

    def equals(self, bus, value):
        return self.both([self.gate(bus[i:i + 4], lambda *v, want=(value >> i): all(v[k] == (want >> k) & 1 for k in range(len(v))), "eq") for i in range(0, len(bus), 4)])

    # Arithmetic ---------------------------------------------------------------------------------------------------------

    def counter(self, stem, bits, clock, enable=None, clear=None):
        """Counts up while `enable`; `clear` puts it to 0. Carries look ahead over groups of three."""
        q = [f"{stem}_{i}" for i in range(bits)]
        carry = enable
        for low in range(0, bits, 3):
            group = q[low:low + 3]
            base = [carry] if carry else []
            for k, bit in enumerate(group):
                step = self.gate(base + group[:k] + [bit], lambda *v: v[-1] ^ all(v[:-1]), stem + "_n")
                self.n.reg(bit, self.gate([step, clear], lambda s, c: s and not c, stem + "_c") if clear else step, None, clock)
            if low + 3 < bits:
                carry = self.gate(base + group, lambda *v: all(v), stem + "_y")
        return q

    def add(self, a, b, stem="sum", carry=None):
        """Ripple sum of two buses; as many bits as the wider one."""
        out = []
        for i in range(max(len(a), len(b))):
            have = [x[i] for x in (a, b) if i < len(x)] + ([carry] if carry else [])
            out.append(self.gate(have, lambda *v: sum(v) & 1, stem) if len(have) > 1 else have[0])
            carry = self.gate(have, lambda *v: sum(v) >= 2, stem + "_y") if len(have) > 1 else None
        return out

    def total(self, stem, data, bits, clock, enable, clear):
        """Adds `data` up while `enable`, starts again with `clear`. Six bits at a time: a carry goes on with the next word."""
        q = [f"{stem}_{i}" for i in range(bits)]
        carry = None
        for low in range(0, bits, 6):
            mine = q[low:low + 6]
            summed = self.add(mine + [self.gate([mine[0]], lambda a: 0, "zero")], data[low:low + 6], stem + "_a", carry)
            for i, wire in enumerate(mine):
                self.n.reg(wire, self.gate([summed[i], clear], lambda s, c: s and not c, stem + "_d"), enable, clock)
            carry = self.n.reg(f"{stem}_over{low}", self.gate([summed[6], clear], lambda s, c: s and not c, stem + "_d"), enable, clock)
        return q

    # CRC-32 (IEEE 802.3): x32 + x26 + x23 + x22 + x16 + x12 + x11 + x10 + x8 + x7 + x5 + x4 + x2 + x + 1, reflected -------

    def crc32(self, stem, data, clock, run):
        """Eight bits a clock while `run`, back to the start without. The state is kept turned over, so that it starts at 0 = all ones, and what it holds is the
        value with its final complement: 0xCBF43926 after "123456789"."""
        def step(state, byte):
            for k in range(8):
                out = (state ^ (byte >> k)) & 1
                state = (state >> 1) ^ (0xEDB88320 if out else 0)
            return state
        q = [f"{stem}_{i}" for i in range(32)]
        constant = step(0xFFFFFFFF, 0) ^ 0xFFFFFFFF
        for i in range(32):
            terms = [q[k] for k in range(32) if (step(1 << k, 0) >> i) & 1] + [data[k] for k in range(8) if (step(0, 1 << k) >> i) & 1]
            turned = bool((constant >> i) & 1)
            value = self.odd(terms, stem + "_x", turned)
            self.n.reg(q[i], self.gate([value, run], lambda v, r: v and r, stem + "_d"), None, clock)
        return q

    # Crossing clocks ----------------------------------------------------------------------------------------------------

    def gray_pointer(self, stem, bits, clock, enable):
        """A binary counter and, registered beside it, its Gray code for the other side."""
        binary = self.counter(stem, bits, clock, enable)
        step = [self.gate([binary[i], binary[i + 1]], lambda a, b: a ^ b, stem + "_g") if i + 1 < bits else binary[i] for i in range(bits)]
        return binary, self.regs(stem + "_gray", step, clock)

    def fifo(self, stem, data, write, write_clock, read, read_clock):
        """Sixteen words; pointers cross as Gray code through two registers. Gives (word read, something is there)."""
        wp, wgray = self.gray_pointer(stem + "_wp", 5, write_clock, write)
        rp, rgray = self.gray_pointer(stem + "_rp", 5, read_clock, read)
        seen = [self.steady(f"{stem}_seen{i}", g, read_clock) for i, g in enumerate(wgray)]
        mine = [self.gate([rp[i], rp[i + 1]], lambda a, b: a ^ b) if i < 4 else rp[i] for i in range(5)]
        filled = self.any([self.gate([a, b], lambda x, y: x ^ y) for a, b in zip(seen, mine)])
        rows = []
        for row in range(16):
            here = self.gate([self.equals(wp[:4], row), write], lambda a, b: a and b, stem + "_we")
            rows.append([self.n.reg(f"{stem}_m{row}_{i}", d, here, write_clock) for i, d in enumerate(data)])
        word = [self.pick_one(rp[:4], [rows[row][i] for row in range(16)]) for i in range(len(data))]
        # The other side's room, for the writer.
        room = [self.steady(f"{stem}_room{i}", g, write_clock) for i, g in enumerate(rgray)]
        self.n.reg(f"{stem}_full", self.both([self.gate([a, b], lambda x, y, t=(k >= 3): (x ^ y) == t) for k, (a, b) in enumerate(zip(room, wgray))]), None, write_clock)
        return self.regs(stem + "_out", word, read_clock, read), self.n.reg(f"{stem}_some", filled, None, read_clock)

    # Interfaces ---------------------------------------------------------------------------------------------------------

    def debounce(self, stem, wire, clock, tick):
        """Two registers, then taken over when four looks in a row agree."""
        now = self.steady(stem, wire, clock)
        looks = [now]
        for k in range(3):
            looks.append(self.n.reg(f"{stem}_look{k}", looks[-1], tick, clock))
        state = f"{stem}_state"
        self.n.reg(state, self.gate(looks[1:] + [state], lambda a, b, c, s: 1 if a and b and c else 0 if not (a or b or c) else s, stem + "_vote"), tick, clock)
        return state

    def serial_in(self, stem, wire, clock, tick16):
        """Start bit, eight data bits, sampled in the middle of each; gives (byte, strobe)."""
        line = self.steady(stem, wire, clock, 3)
        busy, phase = f"{stem}_busy", f"{stem}_phase"
        idle = self.gate([busy, line], lambda b, l: not b and l, stem + "_idle")
        count = self.counter(phase, 8, clock, tick16, self.gate([busy, line], lambda b, l: not b, stem + "_hold"))
        middle = self.both([self.equals(count[:4], 8), tick16])
        done = self.both([self.equals(count[4:], 9), middle])
        self.n.reg(busy, self.gate([busy, line, done], lambda b, l, d: (b or not l) and not d, stem + "_go"), None, clock)
        shift = [f"{stem}_d{i}" for i in range(8)]
        for i in range(8):
            self.n.reg(shift[i], shift[i + 1] if i < 7 else line, middle, clock)
        self.n.reg(f"{stem}_wasidle", idle, None, clock)
        return shift, self.n.reg(f"{stem}_strobe", done, None, clock)

    def serial_out(self, stem, data, load, clock, tick):
        """Shifts ten bits out at each tick; the line rests high."""
        state = [f"{stem}_o{i}" for i in range(10)]
        frame = [None] + list(data) + [None]
        for i in range(10):
            after = state[i + 1] if i < 9 else None
            new = frame[i]
            # Kept turned over, so that zeros at the start mean a line at rest.
            if new is None:
                d = self.gate([load, after, tick, state[i]], lambda l, a, t, s, start=(i == 0): start if l else (a if t else s), stem + "_f") if after else self.gate([load, tick, state[i]], lambda l, t, s: 0 if l or t else s, stem + "_f")
            else:
                kept = self.pick(tick, after, state[i])
                d = self.gate([load, new, kept], lambda l, n, k: (not n) if l else k, stem + "_f")
            self.n.reg(state[i], d, None, clock)
        return self.gate([state[0]], lambda s: not s, stem + "_line")

    def spi(self, stem, clock, tick, send, miso):
        """A free-running 24-bit exchange: gives (clock, out, select, what came in)."""
        count = self.counter(stem + "_count", 6, clock, tick)
        select = self.n.reg(stem + "_sel", self.gate(count[4:6], lambda a, b: a and b, stem + "_s"), None, clock)
        shift = [f"{stem}_sh{i}" for i in range(24)]
        edge = self.gate([tick, count[0]], lambda t, c: t and c, stem + "_e")
        came = self.steady(stem + "_in", miso, clock)
        for i in range(24):
            source = shift[i - 1] if i else came
            self.n.reg(shift[i], self.pick(select, send[i % len(send)], source), edge, clock)
        return self.n.reg(stem + "_sckq", count[0], None, clock), shift[23], select, shift

    def double_out(self, stem, high, low, clock):
        """One wire at both edges: `high` while the clock is high, `low` while it is low. Structural, so that it simulates."""
        up = self.n.reg(stem + "_up", high, None, clock)
        down = self.n.reg(stem + "_dn", low, None, clock, True)
        return self.gate([clock, up, down], lambda c, u, d: u if c else d, stem + "_ddr")

    def double_in(self, stem, wire, clock):
        """What stood on a wire at the rising and at the falling edge, both given after the next rising edge."""
        up = self.n.reg(stem + "_up", wire, None, clock)
        down = self.n.reg(stem + "_dn", wire, None, clock, True)
        return self.n.reg(stem + "_up2", up, None, clock), self.n.reg(stem + "_dn2", down, None, clock)
