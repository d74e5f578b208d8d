#!/usr/bin/python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Figures, names and syntaxes that were replaced by ones of our own, and phrases that were replaced by plain English, must not come
back: they are forbidden texts over data, docs, tests, code and strings. Each row is a regular expression, where it is looked for, and
what stands in its place now."""
import os, re, subprocess, sys

ROOT = os.path.dirname(os.path.dirname(os.path.abspath(__file__)))
# The readers of older files, their test, and this list have to know the former names.
EXEMPT = {"core/model/former_names.cpp", "core/format/json/json_text.cpp", "core/format/json/edit_json.cpp",
          "tests/session/former_names_test.cpp", "tests/own_figures.py"}

ANYWHERE = ""
PROSE = r"\.(md|cpp|hpp|py|json|mustache)$"
CODE = r"^(core|app|kpeg|tests)/.*\.(cpp|hpp)$"
DATA = r"^(data|demo|docs)/"

FORBIDDEN = [
    # figures and syntaxes
    (r"\bSKR(12|24|45L?)\b|\bskr(12|24|45l)\b", ANYWHERE, "SKR11, SKR23, SKR44L"),
    (r"\bSKR\w+-\w+-[123][CI]?\b|\bTRN4-Q32-[12]\b", ANYWHERE, "speed by L, M, H, range by N, W"),
    (r"\b[Bb]484\b", ANYWHERE, "B529"),
    (r"\b(516096|1032192|2064384|73728)\b", ANYWHERE, "what the memory blocks of the fabric hold"),
    (r"\b0\.078\b", PROSE, "0.092"),
    (r'"delay_steps": 31\b', ANYWHERE, "23"),
    (r"\bR\d+C\d+\b", ANYWHERE, "low-west … high-east"),
    (r'"input_mhz": \[5, 200\]|"vco_mhz": \[600, 1600\]|"output_mhz": \[3, 400\]', r"^data/", "the ranges of data/make_world.py"),
    (r"\bSK_(LOOK\w*|REG(_N?E?[CP]?)?|CARRY(_N)?|PAD_(IN|OUT|TWO)|PAIR_(IN|OUT))(?![A-Z_])", ANYWHERE, "names in whole words"),
    (r"\b\w*_?dco(_[pn])?\b(?<!idco)|\bfr_[pn]\b|\bpdwn\b", r"^(data|demo|docs|tests)/", "clk_out, frame, sleep"),
    (r"\bbyte[_ ]groups?\b", ANYWHERE, "strobe group"),
    (r"transceiver tiles?|channels_per_lane|kitepeg\.interfaces|\"tiles\"", ANYWHERE, "lane block, crossings_per_lane, kitepeg.links"),
    (r"repair[-_ ]hold", ANYWHERE, "fix hold"),
    (r"\bPIN_[A-Z]?\d+\b|3\.3-V", ANYWHERE, "pad C1, LVCMOS @3V3"),
    (r"\b(vcco|vccio|gclk)\b", ANYWHERE, "headings that no standard has"),
    (r"\bSIR 6\b|\bir_bits = 6\b", ANYWHERE, "7 bits, of SimulatedChip"),
    (r"\bVPR\b|Cadence", ANYWHERE, "authors, place and year"),
    (r'"target":', r"\.(kpeg|json)$", "receives"),
    # English
    (r"\b(is|are) no (?!longer|more|such|fewer|less|better|worse|different)(?=\w)(?<!here is no )(?<!here are no )", CODE, "is not a …"),
    (r"as fast as life|stands still|of life\b|Let board time|drivers fight|hand parts|answer for each other|nothing caught yet|"
     r"What to see to|seen to before|touch each other", r"^(app|core|docs)/", "words of the bench"),
    (r"Every rule is kept|meets the filter|being worked out …|What does not agree|done again: |taken back: |Do anything|what shall be done|"
     r"Fold the facts|Close and lose|Hand out\b|moved on; ask|lies well already|There is no legal way|peg off|has to be alike|"
     r"another conflict of %1 stands|Few changes that|It lacks %1|No endpoint is like|No promise about time|What exceptions hide|"
     r"something nobody said|receive new lines|why, until when|of other slack|If it shall go|stand one behind|edges run back|"
     r"Another way among|How long to look|finds in its memory", r"^(app|core|kpeg)/", "plain words"),
    (r"# The house|# What others wrote|# Words$", r"^docs/", "Architecture, Importing, Glossary"),
    (r"must reach|on another day|running beside it|, not 80|to be rebuilt", r"^(docs|scripts)/", "what is, and how it was measured"),
    (r'"(?=[\w% ])[^"\n]*[a-z]{3,}\(s\)[ :.,][^"\n]*"', r"^(app|core|kpeg)/.*\.cpp$|\.mustache$", "counted()"),
]


def main():
    files = subprocess.run(["git", "-C", ROOT, "ls-files", "-co", "--exclude-standard"], capture_output=True, text=True).stdout.splitlines()
    rules = [(re.compile(pattern, re.M), re.compile(where), instead) for pattern, where, instead in FORBIDDEN]
    wrong = 0
    for name in files:
        path = os.path.join(ROOT, name)
        if name in EXEMPT or not os.path.isfile(path):
            continue
        data = open(path, "rb").read()
        text = name + "\n" + ("" if b"\0" in data[:4096] else data.decode("utf-8", "replace"))
        for pattern, where, instead in rules:
            if not where.search(name):
                continue
            for hit in pattern.finditer(text):
                line = text.count("\n", 0, hit.start())
                print(f"{name}:{line}: '{hit[0]}' was replaced: {instead}")
                wrong += 1
    print(f"{len(files)} files, {wrong} texts that were replaced")
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
