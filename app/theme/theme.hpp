// SPDX-License-Identifier: GPL-3.0-or-later
// One table of colour roles for both themes, and the fonts. Everything that paints asks here.
#pragma once

#include <QColor>
#include <QFont>
#include <QString>

namespace kp::app {

struct Theme {
    QColor paper, sheet, bright, hairline, ink, second, select, select_fill, stop, caution, good, wash_stop, wash_good,
        wash_caution, board, lamp, wire, cell, clock, pad;
    QColor banks[8];
    bool dark = false;

    [[nodiscard]] QColor bank(int position) const { return position < 0 ? second : banks[position % 8]; }
};

/// The theme in use.
[[nodiscard]] const Theme& theme();
/// Chooses light or dark and gives the whole application its colours and fonts.
void use_theme(bool dark);
/// Loads the embedded fonts; once, before the first window.
void load_fonts();

[[nodiscard]] QFont words(double px = 13, bool bold = false);
[[nodiscard]] QFont mono(double px = 13, bool bold = false);

}  // namespace kp::app
