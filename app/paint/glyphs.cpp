// SPDX-License-Identifier: GPL-3.0-or-later
// A cache by text and font; thrown away as a whole when it has grown beyond what one screen shows.
#include "app/paint/glyphs.hpp"

#include <QFontMetricsF>
#include <QHash>
#include <utility>

namespace kp::app {

namespace {
constexpr qsizetype most_kept = 20000;

std::pair<int, QString> key_of(const QString& what, const QFont& font) {
    return {font.pixelSize() * 4 + font.bold() * 2 + font.family().endsWith(QLatin1String("Mono")), what};
}
}  // namespace

const LaidOut& laid_out(const QString& what, const QFont& font) {
    static QHash<std::pair<int, QString>, LaidOut> made;
    if (made.size() > most_kept) made.clear();
    const auto key = key_of(what, font);
    auto at = made.find(key);
    if (at == made.end()) {
        LaidOut one{QStaticText(what), QFontMetricsF(font).horizontalAdvance(what)};
        one.text.setTextFormat(Qt::PlainText);
        one.text.prepare({}, font);
        at = made.insert(key, one);
    }
    return *at;
}

QString shortened(const QString& what, const QFont& font, double width) {
    static QHash<std::pair<std::pair<int, QString>, int>, QString> made;
    if (made.size() > most_kept) made.clear();
    const std::pair key{key_of(what, font), static_cast<int>(width)};
    auto at = made.find(key);
    if (at == made.end())
        at = made.insert(
            key, QFontMetricsF(font).elidedText(what, what.contains('[') ? Qt::ElideMiddle : Qt::ElideRight, width));
    return *at;
}

}  // namespace kp::app
