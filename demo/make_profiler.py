#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Composes the demo design `profiler` on the board Saltmarsh: netlist, delays, header shells, and two projects. All invented.

    make_profiler.py [--check]      writes (or compares with) the files, reproducible to the byte

The ground station of a tethered-kite wind profiler: four converter channels come in over double-rate pairs and are summed up,
frames with CRC-32 leave and enter over RGMII, a memory controller streams, and a serial link, a load cell, a winch, satellite
time, a sensor bus, keys, lamps and digits stand around it. Five clock domains: system, Ethernet send, Ethernet receive,
converter, memory. `profiler` has planted troubles (see PLANTED below); `profiler-closed` is the goal state.
"""
import json, os, sys

from compose import ROOT, Netlist, sdf, spread, verilog, write_or_check
from profiler_blocks import Blocks


# name, direction, left (None: scalar), terminal by bit, I/O standard, in the order of the header
V33, V25, SSTL, DSSTL, LVDS = "LVCMOS 3.3 V", "LVCMOS 2.5 V", "SSTL 1.5 V", "SSTL 1.5 V differential", "LVDS 2.5 V"
PORTS = [
    ("osc_25", "input", None, "Y1.osc_25", V33), ("rst_n", "input", None, "S5.rst_n", V33),
    ("rgmii_rxc", "input", None, "U2.rxc", V25), ("rgmii_rxd", "input", 3, "U2.rxd{}", V25), ("rgmii_rx_ctl", "input", None, "U2.rx_ctl", V25),
    ("rgmii_txc", "output", None, "U2.txc", V25), ("rgmii_txd", "output", 3, "U2.txd{}", V25), ("rgmii_tx_ctl", "output", None, "U2.tx_ctl", V25),
    ("phy_mdc", "output", None, "U2.mdc", V25), ("phy_mdio", "inout", None, "U2.mdio", V25), ("phy_rst_n", "output", None, "U2.phy_rst_n", V25),
    ("mem_dq", "inout", 15, "U3.dq{}", SSTL), ("mem_dqs_p", "inout", 1, "U3.dqs_p{}", DSSTL), ("mem_dqs_n", "inout", 1, "U3.dqs_n{}", DSSTL), ("mem_dm", "output", 1, "U3.dm{}", SSTL),
    ("mem_ck_p", "output", None, "U3.ck_p", DSSTL), ("mem_ck_n", "output", None, "U3.ck_n", DSSTL), ("mem_a", "output", 13, "U3.a{}", SSTL), ("mem_ba", "output", 2, "U3.ba{}", SSTL),
    ("mem_ras_n", "output", None, "U3.ras_n", SSTL), ("mem_cas_n", "output", None, "U3.cas_n", SSTL), ("mem_we_n", "output", None, "U3.we_n", SSTL), ("mem_cke", "output", None, "U3.cke", SSTL),
    ("mem_cs_n", "output", None, "U3.cs_n", SSTL), ("mem_odt", "output", None, "U3.odt", SSTL), ("mem_rst_n", "output", None, "U3.mem_rst_n", SSTL),
    ("adc_clk_out_p", "input", None, "U4.clk_out_p", LVDS), ("adc_clk_out_n", "input", None, "U4.clk_out_n", LVDS), ("adc_frame_p", "input", None, "U4.frame_p", LVDS), ("adc_frame_n", "input", None, "U4.frame_n", LVDS),
    ("adc_d_p", "input", 3, "U4.d_p{}", LVDS), ("adc_d_n", "input", 3, "U4.d_n{}", LVDS),
    ("adc_sck", "output", None, "U4.sck", V25), ("adc_sdi", "output", None, "U4.sdi", V25), ("adc_cs_n", "output", None, "U4.cs_n", V25), ("adc_sleep", "output", None, "U4.sleep", V25),
    ("load_sck", "output", None, "U5.sck", V33), ("load_mosi", "output", None, "U5.mosi", V33), ("load_miso", "input", None, "U5.miso", V33), ("load_cs_n", "output", None, "U5.cs_n", V33), ("load_drdy_n", "input", None, "U5.drdy_n", V33),
    ("winch_pwm", "output", None, "U6.pwm", V33), ("winch_dir", "output", None, "U6.dir", V33), ("winch_brake_n", "output", None, "U6.brake_n", V33), ("winch_fault_n", "input", None, "U6.fault_n", V33),
    ("enc_a", "input", None, "J3.enc_a", V25), ("enc_b", "input", None, "J3.enc_b", V25), ("enc_z", "input", None, "J3.enc_z", V25),
    ("gps_pps", "input", None, "U7.pps", V25), ("gps_tx", "input", None, "U7.gps_tx", V25), ("gps_rx", "output", None, "U7.gps_rx", V25),
    ("i2c_scl", "inout", None, "J4.scl", V25), ("i2c_sda", "inout", None, "J4.sda", V25), ("host_tx", "input", None, "J7.host_tx", V25), ("host_rx", "output", None, "J7.host_rx", V25), ("tone", "output", None, "LS1.tone", V25),
    ("lamp", "output", 7, "D1.lamp{}", V33), ("rocker", "input", 7, "SW1.rocker{}", V33), ("key_n", "input", 3, "S1.key{}", V33), ("seg_n", "output", 7, "DS1.seg{}", V33), ("dig_n", "output", 3, "DS1.dig{}", V33),
    ("head_a", "inout", 7, "J5.a{}", V33), ("head_b", "inout", 7, "J6.b{}", V33),
]
# What stands in the place of the right thing in `profiler`; each is found by a rule or by the timing.
PLANTED = {"rgmii_txd[1]": "rgmii_txd[2]", "rgmii_txd[2]": "rgmii_txd[1]", "rocker[3]": "lamp[3]", "lamp[3]": "rocker[3]", "tone": None}


def bits():
    for name, direction, left, terminal, standard in PORTS:
        for i in [None] if left is None else range(left, -1, -1):
            yield name if i is None else f"{name}[{i}]", direction, terminal if i is None else terminal.format(i), standard


def build():
    n = Netlist("sys")
    b = Blocks(n)

    def pad_in(port):
        wire = port.replace("[", "_").replace("]", "") + "_i"
        n.add("SK_PAD_INPUT", "pad_" + wire[:-2], {"PAD": port, "Y": n.wire(wire)})
        return wire

    def pad_pair(stem, k=None):
        end = "" if k is None else f"[{k}]"
        wire = f"{stem}_i" if k is None else f"{stem}{k}_i"
        n.add("SK_PAIR_INPUT", "pad_" + wire[:-2], {"P": f"{stem}_p{end}", "N": f"{stem}_n{end}", "Y": n.wire(wire)})
        return wire

    def pad_out(port, wire):
        n.add("SK_PAD_OUTPUT", "pad_" + port.replace("[", "_").replace("]", ""), {"A": wire, "PAD": port})

    def pad_two(port, wire, enable):
        stem = port.replace("[", "_").replace("]", "")
        n.add("SK_PAD_TWO_WAY", "pad_" + stem, {"A": wire, "E": enable, "PAD": port, "Y": n.wire(stem + "_i")})
        return stem + "_i"

    # Clocks: one PLL for system (x4), Ethernet send (x5) and memory (x6); two that come with their data.
    pad_in("osc_25")
    n.add("SK_PLL", "pll", {"CKI": "osc_25_i", "CK0": n.wire("sys_p"), "CK1": n.wire("eth_p"), "CK2": n.wire("mem_p")},
          {"DIVIDE": 1, "MULTIPLY": 60, "DIVIDE0": 15, "DIVIDE1": 12, "DIVIDE2": 10})
    for clock, source in (("sys", "sys_p"), ("eth", "eth_p"), ("mem", "mem_p"), ("rxc", pad_in("rgmii_rxc")), ("adc_clk", pad_pair("adc_clk_out"))):
        n.add("SK_CLOCK_ROOT", "root_" + clock, {"A": source, "Y": n.wire(clock)})
    reset = b.inv(b.steady("rst", pad_in("rst_n"), "sys"))
    # Ticks of the system: a prescaler, and from it a millisecond and the bit times of the serial link.
    scale = b.counter("scale", 16, "sys")
    tick16 = n.reg("tick16", b.equals(scale[:6], 63), None, "sys")
    slow = n.reg("slow", b.equals(scale, 65535), None, "sys")
    bit_tick = n.reg("bit_tick", b.equals(scale[:10], 1023), None, "sys")
    # Converter: four lanes at both edges, twelve bits a frame, summed up in the system.
    frame_up, frame_dn = b.double_in("adc_frame", pad_pair("adc_frame"), "adc_clk")
    words = []
    for lane in range(4):
        up, dn = b.double_in(f"adc_d{lane}", pad_pair("adc_d", lane), "adc_clk")
        shift = [f"adc_w{lane}_{i}" for i in range(12)]
        for i in range(12):
            n.reg(shift[i], (dn, up)[i] if i < 2 else shift[i - 2], None, "adc_clk")
        words.append(shift)
    start = n.reg("adc_start", b.gate([frame_up, frame_dn], lambda u, d: u and not d), None, "adc_clk")
    samples = []
    for lane in range(0, 4, 2):
        kept = b.regs(f"adc_k{lane}", words[lane] + words[lane + 1][:4], "adc_clk", start)
        word, some = b.fifo(f"adc_f{lane}", kept, start, "adc_clk", "sys_take", "sys")
        samples.append((word, some))
    n.look("sys_take", [samples[0][1], samples[1][1]], lambda a, b_: a and b_)
    gate_time = b.counter("gate_time", 12, "sys", "sys_take")
    sum_end = n.reg("sum_end", b.equals(gate_time, 4095), None, "sys")
    totals = [b.total(f"wind{k}", word[:12], 24, "sys", "sys_take", sum_end) for k, (word, _) in enumerate(samples)]
    # The slow comparison of the two sums: it has four clocks, said by a multicycle.
    quarter = n.reg("quarter", b.equals(scale[:2], 3), None, "sys")
    held = [b.regs(f"held{k}", t, "sys", quarter) for k, t in enumerate(totals)]
    shear = b.add(held[0], [b.inv(x) for x in held[1]], "shear")
    shear_q = b.regs("shear_q", shear, "sys", quarter)
    # Ethernet receive: both edges, CRC over the bytes, bytes to the system.
    ctl_up, _ = b.double_in("rx_ctl", pad_in("rgmii_rx_ctl"), "rxc")
    low_high = [b.double_in(f"rx_d{i}", pad_in(f"rgmii_rxd[{i}]"), "rxc") for i in range(4)]
    byte = [u for u, _ in low_high] + [d for _, d in low_high]
    rx_crc = b.crc32("rx_crc", byte, "rxc", ctl_up)
    rx_ok = n.reg("rx_ok", b.equals(rx_crc, 0x2144DF1C), None, "rxc")
    rx_word, rx_some = b.fifo("rx_f", byte + [ctl_up], ctl_up, "rxc", "rx_take", "sys")
    n.look("rx_take", [rx_some, tick16], lambda s, t: s and t)
    good = b.counter("good", 8, "sys", b.steady("rx_ok", rx_ok, "sys"))
    # Ethernet send: sums and time go out in a frame with its CRC.
    tx_source = b.regs("tx_source", [b.pick_one(scale[4:6], [shear_q[i], shear_q[i + 8], shear_q[i + 16], rx_word[i]]) for i in range(8)], "sys")
    tx_word, tx_some = b.fifo("tx_f", tx_source + [quarter], quarter, "sys", "tx_take", "eth")
    n.look("tx_take", [tx_some], lambda s: s)
    tx_crc = b.crc32("tx_crc", tx_word[:8], "eth", tx_some)
    place = b.counter("tx_place", 6, "eth", tx_some)
    tail = b.equals(place[2:], 15)
    out = b.regs("tx_out", [b.pick(tail, b.pick_one(place[:2], [tx_crc[i + 8 * k] for k in range(4)]), tx_word[i]) for i in range(8)], "eth")
    for i in range(4):
        pad_out(f"rgmii_txd[{i}]", b.double_out(f"txd{i}", out[i], out[i + 4], "eth"))
    sending = n.reg("sending", tx_some, None, "eth")
    pad_out("rgmii_tx_ctl", b.double_out("txctl", sending, sending, "eth"))
    one, zero = b.gate([sending], lambda s: 1, "one"), b.gate([sending], lambda s: 0, "zero")
    pad_out("rgmii_txc", b.double_out("txc", one, zero, "eth"))
    mdc = b.counter("mdc", 4, "sys", tick16)
    pad_out("phy_mdc", mdc[3])
    mdio_in = pad_two("phy_mdio", n.reg("mdio_o", shear_q[0], mdc[3], "sys"), n.reg("mdio_e", mdc[2], None, "sys"))
    mdio_seen = b.steady("mdio", mdio_in, "sys")
    pad_out("phy_rst_n", n.reg("phy_run", b.inv(reset), slow, "sys"))
    # Memory: address and refresh counters, data at both edges, strobes back.
    refresh = b.counter("refresh", 11, "mem")
    mem_step = n.reg("mem_step", b.equals(refresh[:3], 7), None, "mem")
    address = b.counter("mem_addr", 24, "mem", mem_step)
    row = n.reg("mem_row", b.equals(refresh[:6], 63), None, "mem")
    for i in range(14):
        pad_out(f"mem_a[{i}]", n.reg(f"mem_a_{i}", b.pick(row, address[10 + i] if 10 + i < 24 else row, address[i]), None, "mem"))
    for i in range(3):
        pad_out(f"mem_ba[{i}]", n.reg(f"mem_ba_{i}", address[7 + i], None, "mem"))
    for k, name in enumerate(("ras_n", "cas_n", "we_n")):
        pad_out(f"mem_{name}", n.reg(f"mem_{name}_q", b.gate([row, mem_step, refresh[k]], lambda r, s, f: not (r or (s and f))), None, "mem"))
    ready = b.steady("mem_ready", "phy_run", "mem")
    for name in ("cke", "odt", "rst_n"):
        pad_out(f"mem_{name}", n.reg(f"mem_{name}_q", ready, None, "mem"))
    pad_out("mem_cs_n", n.reg("mem_cs_q", b.inv(ready), None, "mem"))
    m_one, m_zero = b.gate([ready], lambda s: 1, "one"), b.gate([ready], lambda s: 0, "zero")
    n.add("SK_PAIR_OUTPUT", "pad_mem_ck", {"A": b.double_out("mem_ck", m_one, m_zero, "mem"), "P": "mem_ck_p", "N": "mem_ck_n"})
    writing = n.reg("mem_writing", refresh[4], None, "mem")
    mem_word, mem_some = b.fifo("mem_f", [w for w in samples[0][0]], "sys_take", "sys", "mem_take", "mem")
    n.look("mem_take", [mem_some, mem_step], lambda a, c: a and c)
    came = []
    for i in range(16):
        wire = pad_two(f"mem_dq[{i}]", b.double_out(f"dq{i}", mem_word[i], mem_word[(i + 8) % 16], "mem"), writing)
        came += b.double_in(f"dqi{i}", wire, "mem")
    for k in range(2):
        for half in "pn":
            strobe = pad_two(f"mem_dqs_{half}[{k}]", b.double_out(f"dqs{half}{k}", m_one if half == "p" else m_zero, m_zero if half == "p" else m_one, "mem"), writing)
            came.append(n.reg(f"dqs_seen{half}{k}", strobe, None, "mem"))
        pad_out(f"mem_dm[{k}]", b.double_out(f"dm{k}", b.inv(writing), b.inv(writing), "mem"))
    parity = n.reg("mem_parity", b.odd(came), None, "mem")
    # Load cell, converter control, winch, encoder, satellite time, sensor bus, serial link.
    sck, mosi, select, load = b.spi("load", "sys", tick16, scale[:8], pad_in("load_miso"))
    pad_out("load_sck", sck), pad_out("load_mosi", mosi), pad_out("load_cs_n", select)
    load_new = b.steady("load_drdy", pad_in("load_drdy_n"), "sys")
    weight = b.regs("weight", load, "sys", b.gate([select, load_new], lambda s, d: s and not d))
    sck, sdi, select, _ = b.spi("acfg", "sys", bit_tick, shear_q[:8], mdio_seen)
    pad_out("adc_sck", sck), pad_out("adc_sdi", sdi), pad_out("adc_cs_n", select), pad_out("adc_sleep", n.reg("adc_sleep_q", reset, None, "sys"))
    ea, eb, ez = (b.steady(f"enc_{c}", pad_in(f"enc_{c}"), "sys") for c in "abz")
    ea_d, eb_d = n.reg("enc_a_d", ea, None, "sys"), n.reg("enc_b_d", eb, None, "sys")
    moved = b.gate([ea, ea_d, eb, eb_d], lambda a, ad, c, cd: (a ^ ad) ^ (c ^ cd))
    turns = b.counter("turns", 20, "sys", moved, ez)
    fault = b.steady("fault", pad_in("winch_fault_n"), "sys")
    ramp = b.counter("ramp", 10, "sys")
    more = [b.gate([ramp[i], weight[i + 8]], lambda r, w: r ^ w) for i in range(10)]
    pad_out("winch_pwm", n.reg("pwm_q", b.gate([b.any(more), fault], lambda m, f: m and f), None, "sys"))
    pad_out("winch_dir", n.reg("dir_q", turns[19], None, "sys"))
    pad_out("winch_brake_n", n.reg("brake_q", b.gate([fault, reset], lambda f, r: f and not r), None, "sys"))
    pps = b.steady("pps", pad_in("gps_pps"), "sys")
    pps_d = n.reg("pps_d", pps, None, "sys")
    second = b.gate([pps, pps_d], lambda p, d: p and not d)
    since = b.counter("since", 27, "sys", None, second)
    clock_seconds = b.counter("seconds", 17, "sys", second)
    gps_byte, gps_strobe = b.serial_in("gpsin", pad_in("gps_tx"), "sys", tick16)
    host_byte, host_strobe = b.serial_in("hostin", pad_in("host_tx"), "sys", tick16)
    command = b.regs("command", host_byte, "sys", host_strobe)
    report = [b.pick_one(command[:2], [turns[i], since[i], clock_seconds[i], good[i]]) for i in range(8)]
    pad_out("host_rx", b.serial_out("hostout", report, slow, "sys", bit_tick))
    pad_out("gps_rx", b.serial_out("gpsout", gps_byte, gps_strobe, "sys", bit_tick))
    scl_low, sda_low = n.reg("scl_low", scale[9], None, "sys"), n.reg("sda_low", b.gate([command[7], scale[10]], lambda c, s: c and s), None, "sys")
    s_zero = b.gate([reset], lambda r: 0, "zero")
    scl_i, sda_i = pad_two("i2c_scl", s_zero, scl_low), pad_two("i2c_sda", s_zero, sda_low)
    bus = b.regs("i2c_sh", [b.steady("sda", sda_i, "sys")] + [f"i2c_sh_{i}" for i in range(7)], "sys", b.steady("scl", scl_i, "sys"))
    # The hand: keys and rockers, lamps, digits, tone, headers.
    keys = [b.debounce(f"key{i}", pad_in(f"key_n[{i}]"), "sys", slow) for i in range(4)]
    rockers = [b.debounce(f"rocker{i}", pad_in(f"rocker[{i}]"), "sys", slow) for i in range(8)]
    pages = [turns[:8], shear_q[:8], weight[:8], good, bus, clock_seconds[:8], since[16:24], came[:8]]
    for i in range(8):
        pad_out(f"lamp[{i}]", n.reg(f"lamp_q{i}", b.pick_one(rockers[:3], [p[i] for p in pages]) if i else n.reg("lamp_par", b.steady("parity", parity, "sys"), None, "sys"), None, "sys"))
    digit = [b.pick_one(scale[14:16], [clock_seconds[i], clock_seconds[i + 4], turns[i], turns[i + 4]]) for i in range(4)]
    glyphs = [0x3F, 0x06, 0x5B, 0x4F, 0x66, 0x6D, 0x7D, 0x07, 0x7F, 0x6F, 0x77, 0x7C, 0x39, 0x5E, 0x79, 0x71]
    for i in range(7):
        pad_out(f"seg_n[{i}]", n.reg(f"seg_q{i}", b.gate(digit, lambda *v, i=i: not (glyphs[sum(x << k for k, x in enumerate(v))] >> i) & 1), None, "sys"))
    pad_out("seg_n[7]", n.reg("seg_q7", b.inv(pps), None, "sys"))
    for i in range(4):
        pad_out(f"dig_n[{i}]", n.reg(f"dig_q{i}", b.gate(scale[14:16], lambda a, c, i=i: a + 2 * c != i), None, "sys"))
    pad_out("tone", n.reg("tone_q", b.gate([since[15], keys[0]], lambda t, k: t and not k), None, "sys"))
    for side, page in (("a", keys + rockers[4:8]), ("b", command)):
        for i in range(8):
            wire = pad_two(f"head_{side}[{i}]", n.reg(f"head_{side}_q{i}", page[i], None, "sys"), n.reg(f"head_{side}_e{i}", rockers[3], None, "sys"))
            n.reg(f"head_{side}_in{i}", b.steady(f"head_{side}{i}", wire, "sys"), None, "sys")
    return n


def head():
    out = ["// SPDX-License-Identifier: GPL-3.0-or-later", "// profiler: ground station of a tethered-kite wind profiler, made by demo/make_profiler.py", "`timescale 1ns / 1ps", "",
           "module profiler (" + ", ".join(p[0] for p in PORTS) + ");"]
    return out + [f"  {d} {'' if left is None else f'[{left}:0] '}{name};" for name, d, left, _, _ in PORTS]


def shell_sv():
    ports = [f"  {d:<6} {'wire ' if d == 'inout' else 'logic'} {'' if left is None else f'[{left}:0] '}{name}" for name, d, left, _, _ in PORTS]
    return "\n".join(["// SPDX-License-Identifier: GPL-3.0-or-later", "// The ports of profiler, before there is anything inside: enough to plan the pins.", "module profiler (", ",\n".join(ports), ");", "endmodule : profiler", ""])


def shell_vhdl():
    mode = {"input": "in", "output": "out", "inout": "inout"}
    ports = [f"    {name} : {mode[d]} " + ("std_logic" if left is None else f"std_logic_vector({left} downto 0)") for name, d, left, _, _ in PORTS]
    return "\n".join(["-- SPDX-License-Identifier: GPL-3.0-or-later", "-- The ports of profiler, before there is anything inside: enough to plan the pins.", "library ieee;", "use ieee.std_logic_1164.all;", "",
                      "entity profiler is", "  port (", ";\n".join(ports), "  );", "end entity profiler;", "", "architecture shell of profiler is", "begin", "end architecture shell;", ""])


CLOCKS = """# profiler on Saltmarsh: clocks
create_clock -name osc_25 -period {osc} [get_ports osc_25]
create_clock -name rxc -period 8.0 [get_ports rgmii_rxc]
create_clock -name adc_clk -period 6.667 [get_ports adc_clk_out_p]
# one PLL: 25 MHz x 4, x 5 and x 6
create_generated_clock -name sys -source [get_pins pll/CKI] -multiply_by 4 [get_pins pll/CK0]
create_generated_clock -name eth -source [get_pins pll/CKI] -multiply_by 5 [get_pins pll/CK1]
create_generated_clock -name mem -source [get_pins pll/CKI] -multiply_by 6 [get_pins pll/CK2]
set_clock_uncertainty -setup 0.150 [get_clocks {{sys eth mem rxc adc_clk}}]
set_clock_uncertainty -hold 0.050 [get_clocks {{sys eth mem rxc adc_clk}}]
{groups}"""

GROUPS = """# clocks that come with their data reach the registers through a pad and a root
set_clock_latency 1.4 [get_clocks {rxc adc_clk}]
# they meet only in synchronisers and Gray-coded FIFOs
set_clock_groups -asynchronous -group {sys} -group {eth} -group {mem} -group {rxc} -group {adc_clk} -group {osc_25}
"""

PORT_LINES = """# RGMII: the receiver's clock comes 2 ns late on purpose (internal delay of the PHY)
foreach edge {{"" -clock_fall}} {{
    eval set_input_delay -clock rxc $edge -network_latency_included -max 2.8 -add_delay {{[get_ports {{rgmii_rxd[*] rgmii_rx_ctl}}]}}
    eval set_input_delay -clock rxc $edge -network_latency_included -min 1.2 -add_delay {{[get_ports {{rgmii_rxd[*] rgmii_rx_ctl}}]}}
}}
# the PHY needs 1 ns before its edge, and the forwarded clock leaves 3 ns after ours by the same way: 1 - 3
set_output_delay -clock eth -max {txmax} [get_ports {{rgmii_txd[*] rgmii_tx_ctl}}]
set_output_delay -clock eth -min -1.0 [get_ports {{rgmii_txd[*] rgmii_tx_ctl}}]
# the converter's data change around the middle between two edges
foreach edge {{"" -clock_fall}} {{
    eval set_input_delay -clock adc_clk $edge -network_latency_included -max 1.97 -add_delay {{[get_ports {{adc_d_p[*] adc_frame_p}}]}}
    eval set_input_delay -clock adc_clk $edge -network_latency_included -min 1.37 -add_delay {{[get_ports {{adc_d_p[*] adc_frame_p}}]}}
}}
# memory commands are taken by the next clock
set_output_delay -clock mem -max 0.4 [get_ports {{mem_a[*] mem_ba[*] mem_ras_n mem_cas_n mem_we_n mem_cs_n}}]
set_output_delay -clock mem -min -0.4 [get_ports {{mem_a[*] mem_ba[*] mem_ras_n mem_cas_n mem_we_n mem_cs_n}}]
{slow}"""

SLOW = """# what the hand does, and slow things that are sampled: no promise
set_false_path -from [get_ports {rst_n key_n[*] rocker[*] enc_* gps_pps gps_tx host_tx winch_fault_n load_miso load_drdy_n phy_mdio i2c_* head_*}]
set_false_path -to [get_ports {lamp[*] seg_n[*] dig_n[*] tone winch_* gps_rx host_rx load_* adc_sck adc_sdi adc_cs_n adc_sleep phy_* i2c_* head_*}]
# strobes and data of the memory are trained at start-up, the forwarded clocks are what others are measured by
set_false_path -from [get_ports {mem_dq[*] mem_dqs_p[*] mem_dqs_n[*]}]
set_false_path -to [get_ports {mem_dq[*] mem_dqs_p[*] mem_dqs_n[*] mem_dm[*] mem_ck_p mem_ck_n mem_cke mem_odt mem_rst_n rgmii_txc}]
# what is driven out must not be taken for what comes in
set_false_path -through [get_pins {pad_mem_dq_*/PAD pad_mem_dqs_*/PAD}]
# the comparison of the sums has four clocks
set_multicycle_path 4 -setup -from [get_cells held*_reg] -to [get_cells shear_q*_reg]
set_multicycle_path 3 -hold -from [get_cells held*_reg] -to [get_cells shear_q*_reg]
"""

# Without the groups, the multicycle and some lines; one name is spelt wrongly.
TROUBLED_SLOW = """# what the hand does, and slow things that are sampled: no promise
set_false_path -from [get_ports {rst_n key_n[*] rocker[*] enc_* gps_pps host_tx winch_fault_n load_miso load_drdy_n phy_mdio i2c_* head_*}]
set_false_path -to [get_ports {lamp[*] seg_n[*] dig_n[*] tone winch_* host_rx load_* adc_sck adc_sdi adc_cs_n phy_* i2c_* head_*}]
set_false_path -from [get_ports {mem_dq[*] mem_dqs_p[*] mem_dqs_n[*]}]
set_false_path -to [get_ports {mem_dq[*] mem_dqs_p[*] mem_dqs_n[*] mem_dm[*] mem_ck_p mem_ck_n mem_cke mem_odt mem_rst_n rgmii_txc}]
set_input_delay -clock sys -max 4.0 [get_ports gps_txd]
"""


def ended(bit):
    """The lines that the pads end: pairs that come in, and the data of the memory."""
    return {"termination": "100"} if bit.startswith(("adc_clk_out", "adc_frame", "adc_d_")) else {"termination": "60"} if bit.startswith("mem_dq[") else {}


def project(name, troubled):
    nets = {x["terminal"]: x["pin"] for x in json.load(open(os.path.join(ROOT, "data/boards/saltmarsh.board.json"), encoding="utf-8"))["nets"]}
    where = {bit: nets[terminal] for bit, _, terminal, _ in bits()}
    pegs, attributes = [], []
    for bit, _, _, standard in bits():
        pin = where[bit]
        if troubled and bit in PLANTED:
            pin = where[PLANTED[bit]] if PLANTED[bit] else None
        if pin:
            pegs.append({"port": bit, "pin": pin, "state": "pegged", "origin": "by name"})
        if not (troubled and bit == "enc_z"):
            # One standard that its bank cannot give.
            wrong = troubled and bit == "winch_dir"
            attributes.append({"port": bit, "standard": "LVCMOS 1.8 V" if wrong else standard, "standard_origin": "chosen" if wrong else "from the board", **ended(bit)})
    sdc = [{"path": f"{name}-{kind}.sdc", "planning": True, "analysis": True, "handoff": True, "receives": kind == "ports"} for kind in ("clocks", "ports")]
    value = {"schema": "kitepeg.project/1", "name": name, "part": "SKR23-B256-MN", "board": "saltmarsh", "top": "profiler", "netlists": ["profiler.v"], "libraries": ["skerry.lib"], "delays": "profiler.sdf",
             "constraints": sdc, "pegs": pegs, "attributes": attributes, "waivers": [], "ports": [f"{ {'input': 'in', 'output': 'out', 'inout': 'inout'}[d]} {p}" + ("" if left is None else f"[{left}:0]") for p, d, left, _, _ in PORTS]}
    return value


def dump(value):
    """A peg or an attribute a line, as the program writes them."""
    out = []
    for key, v in value.items():
        if isinstance(v, list) and v and isinstance(v[0], dict):
            out.append(f'  "{key}": [\n' + ",\n".join("    " + json.dumps(x, ensure_ascii=False) for x in v) + "\n  ]")
        elif isinstance(v, list) and len(v) > 8:
            out.append(f'  "{key}": [\n' + ",\n".join("    " + json.dumps(x) for x in v) + "\n  ]")
        else:
            out.append(f'  "{key}": ' + json.dumps(v, ensure_ascii=False))
    return "{\n" + ",\n".join(out) + "\n}\n"


def main():
    n = build()
    near = lambda driver, sink, net: spread(net + sink, 0.08, 0.30)
    clocks = {pins["CK"] for _, _, pins, _ in n.cells if "CK" in pins}
    wire = lambda driver, sink, net: None if net in clocks and sink.endswith("/CK") else near(driver, sink, net)
    files = {"profiler.v": verilog(n, head()), "profiler.sdf": sdf(n, "profiler", "make_profiler.py", wire), "profiler_shell.sv": shell_sv(), "profiler_shell.vhd": shell_vhdl()}
    for name, troubled in (("profiler", True), ("profiler-closed", False)):
        files[f"{name}.kpeg"] = dump(project(name, troubled))
        files[f"{name}-clocks.sdc"] = CLOCKS.format(osc=50 if troubled else 40, groups="" if troubled else GROUPS)
        files[f"{name}-ports.sdc"] = PORT_LINES.format(txmax="1.0" if troubled else "-2.0", slow=TROUBLED_SLOW if troubled else SLOW)
    if "--check" not in sys.argv:
        print(f"{len(n.cells)} cells, {len(list(bits()))} port bits")
    write_or_check(os.path.join(ROOT, "demo/profiler"), files, "make_profiler.py")


if __name__ == "__main__":
    main()
