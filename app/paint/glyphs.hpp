// SPDX-License-Identifier: GPL-3.0-or-later
// Texts with their glyphs laid out once: the same words are drawn at every frame, and laying them out is most of the
// cost.
#pragma once

#include <QFont>
#include <QStaticText>
#include <QString>

namespace kp::app {

struct LaidOut {
    QStaticText text;
    double width = 0;
};
/// The reference holds until the next call. Fonts are those of the theme: colour by size, weight and family ending.
[[nodiscard]] const LaidOut& laid_out(const QString& what, const QFont& font);

/// Shortened with an ellipsis to a width; names of bits in the middle, so that the index stays.
[[nodiscard]] QString shortened(const QString& what, const QFont& font, double width);

}  // namespace kp::app
