# SPDX-License-Identifier: GPL-3.0-or-later
"""What the generators of the made-up world and of the demos share."""
import os, sys


def spread(text, low, high):
    """A number between low and high that depends on the text only (an FNV-1a hash): the same on every machine."""
    h = 0xCBF29CE484222325
    for byte in text.encode():
        h = ((h ^ byte) * 0x100000001B3) & 0xFFFFFFFFFFFFFFFF
    return low + (high - low) * ((h >> 20) % 10000) / 9999.0


def write_or_check(folder, files, program):
    """Writes each text of `files` (by path below `folder`); with --check compares instead and ends with 1 on a difference."""
    wrong = 0
    for name, text in files.items():
        path = os.path.join(folder, name)
        if "--check" in sys.argv:
            if not os.path.exists(path) or open(path, encoding="utf-8").read() != text:
                print(f"{name} differs from what {program} writes")
                wrong = 1
            continue
        os.makedirs(os.path.dirname(path), exist_ok=True)
        with open(path, "w", encoding="utf-8") as out:
            out.write(text)
    sys.exit(wrong)
