#!/usr/bin/python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Runs the newer commands of kpeg with inputs that were changed at random, and holds every run to what is promised: it ends with 0,
1 or 2, within ten seconds and a gigabyte, and with 2 it says one line on standard error.

    tests/mutated_runs.py KPEG [RUNS] [SEED]

Inputs that broke a promise are kept in mutated/ under the working folder, with the command beside them. Ends with 1 if there is one."""
import concurrent.futures, os, random, re, resource, shutil, subprocess, sys, tempfile, time

ROOT = os.path.dirname(os.path.dirname(os.path.abspath(__file__)))
SEEDS = f"{ROOT}/tests/fuzz/seeds"
LIMIT_S, LIMIT_BYTES = 10, 1 << 30
EXTREME = ["0", "-1", "1", "65535", "65536", "2147483647", "2147483648", "4294967296", "9223372036854775807", "-9223372036854775808",
           "18446744073709551616", "99999999999999999999", "1e308", "-1e308", "1e-308", "nan", "inf", "0x", "1'b", "64'hffffffffffffffff"]
COUNTER = """module top #(parameter N = 8) (input clk, input rst, input [N-1:0] d, output reg [N-1:0] q, output y);
  reg [7:0] m [0:63]; integer i; wire [3:0] z;
  function [7:0] f; input [7:0] x; begin f = x; for (i = 0; i < 4; i = i + 1) f = f + (x << i); end endfunction
  genvar g; generate for (g = 0; g < 4; g = g + 1) begin : row wire w; assign w = d[g] ^ q[7 - g]; assign z[g] = ~w; end endgenerate
  always @(posedge clk or posedge rst) if (rst) q <= 0; else case (d[1:0]) 0: q <= q + 1; 1: q <= f(q); 2: q <= d * q; default: q <= m[d[5:0]]; endcase
  always @(posedge clk) if (d[7]) m[q[5:0]] <= d;
  assign y = ^{z, q[3 -: 2]};
endmodule
"""
NETLIST = """module top (a, b, c, y);
input a, b, c; output y; wire n;
SK_TABLE_2 #(.TABLE(4'h8)) u (.A0(a), .A1(b), .Y(n)); SK_TABLE_2 #(.TABLE(4'h6)) v (.A0(n), .A1(c), .Y(y));
endmodule
"""
ASK = """{"schema": "kitepeg.links/1", "links": [{"name": "up", "protocol": "host link 5 G", "lanes": 4, "gbps": 5, "clock_mhz": 100},
 {"name": "side", "protocol": "host link 5 G", "lanes": 1, "gbps": 5, "clock_mhz": 100}]}"""
PROJECT = """{"schema": "kitepeg.project/1", "name": "q", "part": "SKR11-Q144-MN", "board": "", "top": "top", "netlists": [], "libraries": [],
 "delays": "", "sources": ["s.v"], "constraints": [], "pegs": [], "attributes": [], "waivers": []}"""
SDF = """(DELAYFILE (SDFVERSION "3.0") (TIMESCALE 1ns) (CELL (CELLTYPE "SK_TABLE_2") (INSTANCE u)
 (DELAY (ABSOLUTE (IOPATH A0 Y (0.5:0.6:0.7) (0.5)) (IOPATH A1 Y (0.4) (0.4))))))
"""


def read(path):
    with open(path, "rb") as f:
        return f.read().decode("latin-1")


def commands():
    """Name, files (name, seed; the first ones are changed), arguments; a file's name in braces stands for its path."""
    vane, part = f"{ROOT}/demo/vane/vane-closed.kpeg", "SKR11-Q144-MN"
    cells, pads = f"{ROOT}/data/cells/skerry.lib", f"{ROOT}/docs/examples/tussock-pads"
    pins = "port,pin,standard\nclk,20,\nrst,22,LVCMOS 3.3 V\nd[0],23,\nq[1],24,\n"
    vectors, dump = read(f"{SEEDS}/vectors.csv"), read(f"{SEEDS}/small.vcd")
    columns = '{"schema":"kitepeg.columns/1","columns":{"Ball":"FPGA pin","Name":"terminal","Bank":"bank"},"heading_row":1,"leave_out":[3]}'
    table = "Ball\tName\tBank\tKind\tPair\n" + "".join(f"{r}{c}\tIO_{r}{c}\t{b}\tio\t\n" for b, r in ((1, "A"), (2, "B")) for c in range(1, 9))
    return [
        ("lines text", [("t.txt", read(pads + ".txt"))], f"lines {{t.txt}} --pattern {pads}.lines.json --json -"),
        ("lines pattern", [("p.json", read(pads + ".lines.json"))], f"lines {pads}.txt --pattern {{p.json}} --json -"),
        ("columns", [("c.json", columns), ("t.csv", table)], "part {t.csv} --columns {c.json} --out {o.part.json} --json -"),
        ("pin table", [("t.csv", table)], "part {t.csv} --out {o.part.json} --json -"),
        ("board table", [("b.csv", read(f"{SEEDS}/board.csv"))], f"board {{b.csv}} --out {{o.board.json}} --json -"),
        ("map", [("s.v", COUNTER)], f"map {{s.v}} --part {part} --out {{o.v}} --json -"),
        ("build", [("s.v", COUNTER)], f"build {{s.v}} --part {part} --out {{o}} --json -"),
        ("build pins", [("p.csv", pins), ("s.v", COUNTER)], f"build {{s.v}} --part {part} --pins {{p.csv}} --out {{o}} --json -"),
        ("list", [("s.f", "+define+N=8\n+incdir+.\ns.v\n-f s2.f\n"), ("s.v", COUNTER), ("s2.f", "// none\n")],
         f"build {{s.f}} --part {part} --out {{o}} --json -"),
        ("formula", [("f.txt", "rose_n = ~(8'd1 << {gray[4], gray[4] ^ gray[3], gray[4] ^ gray[3] ^ gray[2]})")],
         f"prove {vane} --against formula --formula @f.txt --board-part J3 --board-part D1 --json -"),
        ("prove source", [("s.v", read(f"{ROOT}/demo/vane/vane_hdl.v"))], f"prove {vane} --against source --source {{s.v}} --json -"),
        ("prove vectors", [("v.csv", "time,gray,=rose_n\n0,00000,-\n1000,01100,11111011\n2000,0x1f,-\n")],
         f"prove {vane} --against file --vectors {{v.csv}} --json -"),
        ("simulate vectors", [("v.csv", "time,a,b,c,=y\n0,0,0,0,0\n10,1,1,0,1\n20,1,1,1,0\n"), ("n.v", NETLIST)],
         f"simulate --netlist {{n.v}} --top top --lib {cells} --vectors {{v.csv}} --vcd {{o.vcd}} --json -"),
        ("simulate delays", [("d.sdf", SDF), ("n.v", NETLIST), ("v.csv", "time,a,b,c\n0,0,0,0\n10,1,1,0\n")],
         f"simulate --netlist {{n.v}} --top top --lib {cells} --sdf {{d.sdf}} --vectors {{v.csv}} --json -"),
        ("simulate netlist", [("n.v", NETLIST)], f"simulate --netlist {{n.v}} --lib {cells} --all-combinations --json -"),
        ("svf", [("s.svf", read(f"{SEEDS}/small.svf"))], f"chip {vane} --svf {{s.svf}} --json -"),
        ("ask", [("a.json", ASK)], "lanes --part SKR44L-B529-HW --ask {a.json} --json -"),
        ("part file", [("x.part.json", read(f"{SEEDS}/small.part.json"))], "part {x.part.json} --out {o.part.json} --json -"),
        ("fabric", [("x.part.json", read(f"{ROOT}/data/parts/skr11-q144.part.json")), ("s.v", COUNTER), ("q.kpeg", PROJECT)],
         "build {q.kpeg} --out {o} --json -"),
        ("whole part", [("x.part.json", read(f"{ROOT}/data/parts/skr11-q144.part.json"))],
         "recipe --part {x.part.json} --in 20 --want 50 --json -"),
        ("activity", [("a.vcd", dump), ("s.v", COUNTER)], f"build {{s.v}} --part {part} --activity {{a.vcd}} --out {{o}} --json -"),
        ("folder", [("s.v", COUNTER), ("n.v", NETLIST), ("d.sdf", SDF)], "folder . --project {q.kpeg} --json -"),
    ]


def mutate(text, rnd):
    gentle = rnd.random() < 0.5  # words and numbers alone, so that more of it still reads
    for _ in range(rnd.choice((1, 1, 2) if gentle else (1, 1, 2, 3, 6))):
        if not text:
            return text
        at = rnd.randrange(len(text))
        length = min(rnd.randrange(1, 80), len(text) - at)
        words = list(re.finditer(r"\w+", text))
        kind = rnd.choice((3, 5, 6, 8)) if gentle else rnd.randrange(9)
        if kind == 0:  # bit flip
            text = text[:at] + chr(ord(text[at]) ^ (1 << rnd.randrange(8))) + text[at + 1:]
        elif kind == 1:  # cut
            text = text[:at] + text[at + length:]
        elif kind == 2:
            text = text[:at]
        elif kind == 3 and len(words) > 1:  # token swap
            a, b = sorted(rnd.sample(words, 2), key=lambda m: m.start())
            text = text[:a.start()] + b[0] + text[a.end():b.start()] + a[0] + text[b.end():]
        elif kind == 4:  # doubled block
            text = text[:at] + text[at:at + length] * rnd.choice((2, 3, 50)) + text[at + length:]
        elif kind in (5, 6):  # extreme number
            numbers = list(re.finditer(r"\d[\d.]*", text))
            if numbers:
                m = rnd.choice(numbers)
                text = text[:m.start()] + rnd.choice(EXTREME) + text[m.end():]
        elif kind == 7:
            text = text[:at] + rnd.choice('(){}[]"\\;:,\'`#@\0\n') * rnd.choice((1, 3, 60)) + text[at:]
        elif words:  # a token where another was
            a, b = rnd.choice(words), rnd.choice(words)
            text = text[:a.start()] + b[0] + text[a.end():]
    return text[:1 << 20]


def limits():
    resource.setrlimit(resource.RLIMIT_AS, (LIMIT_BYTES, LIMIT_BYTES))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))


def one(kpeg, number, seed):
    rnd = random.Random(seed * 1_000_003 + number)
    table = commands()
    name, files, line = table[number % len(table)]
    folder = tempfile.mkdtemp(prefix="kpeg-mutated-")
    which = rnd.randrange(len(files))
    for k, (file, text) in enumerate(files):
        with open(os.path.join(folder, file), "wb") as f:
            f.write((mutate(text, rnd) if k == which else text).encode("latin-1", "replace"))
    args = [re.sub(r"\{([^}]*)\}", lambda m: os.path.join(folder, m[1]), word) for word in line.split()]
    for k, word in enumerate(args):
        if word.startswith("@"):
            args[k] = read(os.path.join(folder, word[1:])).replace("\0", " ")
    begun = time.monotonic()
    try:
        run = subprocess.run([kpeg] + args, cwd=folder, capture_output=True, timeout=LIMIT_S, preexec_fn=limits,
                             env={**os.environ, "KITE_PEG_DATA": f"{ROOT}/data", "KITE_PEG_USER": folder})
        status, said = run.returncode, run.stderr.decode("utf-8", "replace")
    except subprocess.TimeoutExpired:
        status, said = "over 10 s", ""
    seconds = time.monotonic() - begun
    wrong = ""
    if status not in (0, 1, 2):
        wrong = f"ended with {status}"
    elif status == 2 and (said.count("\n") != 1 or not said.startswith("kpeg: ") or len(said) > 2000):
        wrong = f"said {said.count(chr(10))} lines, {len(said)} characters: {said[:300]!r}"
    elif "not enough memory" in said:
        wrong = "needs more than 1 GB"
    if wrong:
        kept = f"mutated/{seed}-{number}"
        shutil.rmtree(kept, ignore_errors=True)
        shutil.copytree(folder, kept)
        with open(kept + "/command", "w", encoding="utf-8", errors="replace") as f:
            f.write(" ".join(args) + "\n" + wrong + "\n" + said)
    shutil.rmtree(folder, ignore_errors=True)
    return name, status, seconds, wrong, number


def main():
    kpeg = os.path.abspath(sys.argv[1])
    runs, seed = int(sys.argv[2]) if len(sys.argv) > 2 else 2000, int(sys.argv[3]) if len(sys.argv) > 3 else 1
    table, broken = {}, 0
    with concurrent.futures.ThreadPoolExecutor(os.cpu_count()) as pool:
        for name, status, seconds, wrong, number in pool.map(lambda n: one(kpeg, n, seed), range(runs)):
            t = table.setdefault(name, {"runs": 0, 0: 0, 1: 0, 2: 0, "longest": 0.0, "broken": 0})
            t["runs"] += 1
            t[status] = t.get(status, 0) + 1
            t["longest"] = max(t["longest"], seconds)
            if wrong:
                broken += 1
                t["broken"] += 1
                print(f"{name} {number}: {wrong}", flush=True)
    for name, t in sorted(table.items()):
        print(f"{name:18} {t['runs']:6} runs  0: {t[0]:5}  1: {t[1]:5}  2: {t[2]:5}  longest {t['longest']:5.2f} s  broken {t['broken']}")
    print(f"{runs} runs, {broken} broke a promise")
    sys.exit(1 if broken else 0)


if __name__ == "__main__":
    main()
