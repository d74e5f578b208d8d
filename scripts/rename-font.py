#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""rename-font.py IN OUT FAMILY: a copy of a font under a family name of its own.

Debian's B612 fonts give "B612 Mono Bold" the second family name "B612, Regular", so that a request for plain B612 can end
at the mono face, and installed faces could stand in for ours. Under names of our own the embedded faces cannot be mixed up, with each other or with installed ones.
"""
import sys
from fontTools.ttLib import TTFont

source, target, family = sys.argv[1:4]
font = TTFont(source)
bold = font["OS/2"].usWeightClass >= 600
style = "Bold" if bold else "Regular"
names = font["name"]
for record in list(names.names):
    if record.nameID in (16, 17, 18, 21, 22, 25):
        names.removeNames(nameID=record.nameID)
for ident, text in ((1, family), (2, style), (4, f"{family} {style}"), (6, family.replace(" ", "") + "-" + style)):
    names.setName(text, ident, 3, 1, 0x409)
    names.setName(text, ident, 1, 0, 0)
font["OS/2"].fsSelection = (font["OS/2"].fsSelection & ~0x61) | (0x20 if bold else 0x40)
font["OS/2"].usWeightClass = 700 if bold else 400
font["head"].macStyle = 1 if bold else 0
if "CFF " in font:
    cff = font["CFF "].cff
    cff.fontNames = [family.replace(" ", "") + "-" + style]
    cff.topDictIndex[0].FamilyName = family
    cff.topDictIndex[0].FullName = f"{family} {style}"
font.save(target)
