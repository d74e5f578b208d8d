// SPDX-License-Identifier: GPL-3.0-or-later
// Draws the line, its marks and a cursor between words; what can be marked is told by core/format/lines. State: the
// marks until the page takes them.
#include "app/pegs/example_line.hpp"

#include "app/theme/theme.hpp"
#include "core/base/bytes.hpp"

#include <QFontMetricsF>
#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <algorithm>

namespace kp::app {

namespace {
constexpr double margin = 12, top = 12, height_of_line = 24;

QString part(const std::string& text, size_t from, size_t length) {
    return QString::fromStdString(shown_text(text.substr(from, length))).replace('\t', ' ');
}
}  // namespace

ExampleLine::ExampleLine(QWidget* parent) : Canvas(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setFixedHeight(62);
    setObjectName("lines.example");
    setAccessibleName(tr("Example line: arrow keys choose a word, P I S D L U V mark it, Delete takes a mark away"));
}

std::vector<std::pair<QString, QString>> ExampleLine::fields() {
    return {{tr("port"), QStringLiteral("P")},     {tr("pin"), QStringLiteral("I")},
            {tr("standard"), QStringLiteral("S")}, {tr("drive"), QStringLiteral("D")},
            {tr("slew"), QStringLiteral("L")},     {tr("pull"), QStringLiteral("U")},
            {tr("value"), QStringLiteral("V")}};
}

void ExampleLine::show_shape(const lines::Shape& shape) {
    shape_ = shape;
    current_ = 0;
    left_ = 0;
    update();
}

std::vector<ExampleLine::Word> ExampleLine::words_of() const {
    std::vector<Word> out;
    const auto& text = shape_.example;
    for (size_t at = 0; at < text.size();) {
        const auto mark = std::find_if(shape_.marks.begin(), shape_.marks.end(),
                                       [&](const lines::Mark& m) { return at >= m.first && at < m.first + m.length; });
        const auto [first, length] =
            mark != shape_.marks.end() ? std::pair{mark->first, mark->length} : lines::word_at(text, at);
        if (length == 0) {
            ++at;
            continue;
        }
        out.push_back({first, length});
        at = first + length;
    }
    return out;
}

QRectF ExampleLine::box(const Word& word) const {
    const QFontMetricsF m(mono(14));
    const double x = margin - left_ + m.horizontalAdvance(part(shape_.example, 0, word.first));
    return {x, top, m.horizontalAdvance(part(shape_.example, word.first, word.length)), height_of_line};
}

void ExampleLine::draw(QPainter& p) {
    const auto& t = theme();
    draw_sheet(p, rect(), t.bright, hasFocus() ? t.select : t.hairline);
    if (shape_.example.empty()) {
        text(p, rect().adjusted(12, 0, -12, 0), Qt::AlignVCenter, tr("Choose a line below; it becomes the example."),
             words(), t.second);
        return;
    }
    p.setClipRect(rect().adjusted(2, 2, -2, -2));
    text(p, {margin - left_, top, 1e5, height_of_line}, Qt::AlignVCenter,
         part(shape_.example, 0, shape_.example.size()), mono(14), t.second);
    const auto all = words_of();
    for (size_t i = 0; i < all.size(); ++i) {
        const auto r = box(all[i]);
        const auto mark = std::find_if(shape_.marks.begin(), shape_.marks.end(),
                                       [&](const lines::Mark& m) { return m.first == all[i].first; });
        if (mark != shape_.marks.end()) {
            p.fillRect(r.adjusted(-1, 1, 1, -1), t.select_fill);
            text(p, r, Qt::AlignVCenter, part(shape_.example, all[i].first, all[i].length), mono(14), t.ink);
            p.fillRect(QRectF(r.left(), r.bottom(), r.width(), 2), t.select);
            text(p, {r.left(), r.bottom() + 3, std::max(60.0, r.width()), 16}, Qt::AlignLeft,
                 QString::fromStdString(mark->field), words(11), t.select);
        }
        if (hasFocus() && i == current_) {
            p.setPen(QPen(t.select, 1.4));
            p.setBrush(Qt::NoBrush);
            p.drawRect(r.adjusted(-2, 0, 2, 1));
        }
    }
}

void ExampleLine::mark(size_t place, const QString& field) {
    const auto name = field.toStdString();
    const auto at = std::find_if(shape_.marks.begin(), shape_.marks.end(),
                                 [&](const lines::Mark& m) { return place >= m.first && place < m.first + m.length; });
    auto [first, length] = lines::word_at(shape_.example, place);
    if (at != shape_.marks.end()) {
        first = at->first;
        length = at->length;
        shape_.marks.erase(at);
    }
    if (!name.empty() && length > 0) {
        if (name != "value") std::erase_if(shape_.marks, [&](const lines::Mark& m) { return m.field == name; });
        shape_.marks.push_back({name, first, length});
        std::sort(shape_.marks.begin(), shape_.marks.end(),
                  [](const lines::Mark& a, const lines::Mark& b) { return a.first < b.first; });
    }
    update();
    emit changed();
}

void ExampleLine::ask(const Word& word, const QPoint& at) {
    QMenu menu(this);
    const auto names = fields();
    for (size_t i = 0; i < names.size(); ++i)
        menu.addAction(QStringLiteral("%1\t%2").arg(names[i].first, names[i].second), this,
                       [this, word, i] { mark(word.first, QLatin1String(lines::field_names[i])); });
    menu.addSeparator();
    menu.addAction(tr("nothing\tDel"), this, [this, word] { mark(word.first, {}); });
    menu.exec(at);
}

void ExampleLine::mousePressEvent(QMouseEvent* event) {
    const auto all = words_of();
    for (size_t i = 0; i < all.size(); ++i) {
        if (!box(all[i]).adjusted(-2, -4, 2, 18).contains(event->position())) continue;
        current_ = i;
        update();
        return ask(all[i], event->globalPosition().toPoint());
    }
}

void ExampleLine::go(int by) {
    const auto all = words_of();
    if (all.empty()) return;
    current_ = static_cast<size_t>(std::clamp(static_cast<int>(current_) + by, 0, static_cast<int>(all.size()) - 1));
    const auto r = box(all[current_]);
    if (r.right() > width() - margin) left_ += r.right() - width() + margin;
    if (r.left() < margin) left_ = std::max(0.0, left_ - (margin - r.left()));
    update();
}

void ExampleLine::keyPressEvent(QKeyEvent* event) {
    const auto all = words_of();
    if (event->key() == Qt::Key_Left) return go(-1);
    if (event->key() == Qt::Key_Right) return go(1);
    if (current_ < all.size() && event->modifiers() == Qt::NoModifier) {
        if (event->key() == Qt::Key_Delete || event->key() == Qt::Key_Backspace) return mark(all[current_].first, {});
        if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Space)
            return ask(all[current_], mapToGlobal(box(all[current_]).bottomLeft().toPoint()));
        const auto names = fields();
        for (size_t i = 0; i < names.size(); ++i)
            if (event->text().compare(names[i].second, Qt::CaseInsensitive) == 0)
                return mark(all[current_].first, QLatin1String(lines::field_names[i]));
    }
    Canvas::keyPressEvent(event);
}

void ExampleLine::focusInEvent(QFocusEvent* event) {
    Canvas::focusInEvent(event);
    update();
}
void ExampleLine::focusOutEvent(QFocusEvent* event) {
    Canvas::focusOutEvent(event);
    update();
}

}  // namespace kp::app
