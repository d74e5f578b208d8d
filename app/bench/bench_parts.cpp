// SPDX-License-Identifier: GPL-3.0-or-later
// Parts of the board that have no drawing of their own stand as cards in what room is left: each terminal with its
// level and rate; what the part drives can be turned by hand. Displays and motors show what their terminals do.
#include "app/bench/bench_board.hpp"

#include "core/base/text.hpp"

#include <algorithm>
#include <cmath>
#include <set>

namespace kp::app {

namespace {

constexpr double card_wide = 148, row_high = 15, head_high = 22, gap = 8;
constexpr size_t most_rows = 6;

QString q(const std::string& s) {
    return QString::fromStdString(s);
}

QString rate(double hz) {
    if (hz >= 1e6) return q(fixed(hz / 1e6, 2)) + QStringLiteral(" MHz");
    if (hz >= 1e3) return q(fixed(hz / 1e3, 2)) + QStringLiteral(" kHz");
    return q(fixed(hz, 1)) + QStringLiteral(" Hz");
}

bool is_digits(const BoardPart& part) {
    return part.kind == "display";
}

/// Digits and segments of a display by the ends of their names, "dig2" and "seg5".
size_t count_of(const BoardPart& part, const char* stem) {
    return static_cast<size_t>(std::count_if(part.terminals.begin(), part.terminals.end(),
                                             [&](const Terminal& t) { return t.name.starts_with(stem); }));
}

}  // namespace

/// Parts that the board draws in ways of their own.
bool BenchBoard::has_drawing(const BoardPart& part) const {
    static const std::set<std::string> drawn{"fpga", "oscillator", "lamp", "key", "sounder", "vane"};
    if (part.terminals.empty() || drawn.count(part.kind)) return true;
    if (part.kind == "rocker") return of_kind("vane") == nullptr;
    return part.kind == "header" && of_kind("header") == &part;
}

/// Where the cards lie, as many as there is room for, in the order of the board file.
std::vector<BenchBoard::Card> BenchBoard::cards() const {
    std::vector<Card> out;
    const auto probes = static_cast<double>(probed().size());
    const double top = probes_top() +
                       std::min(30.0, std::max(16.0, (height() - 96 - probes_top()) / std::max(1.0, probes))) * probes +
                       14;
    const double right = width() - keys_room - 16, bottom = height() - 84.0;
    std::vector<const BoardPart*> parts;
    for (const auto& part : desk_.session().world().board.parts)
        if (!has_drawing(part)) parts.push_back(&part);
    // What shows something comes first, then as the board file has them; each into the column that is least full.
    std::stable_partition(parts.begin(), parts.end(), [](const BoardPart* part) { return is_digits(*part); });
    std::vector<double> filled(static_cast<size_t>(std::max(1.0, std::floor((right - 20 + gap) / (card_wide + gap)))),
                               top);
    for (const auto* part : parts) {
        const double high =
            is_digits(*part)
                ? 78
                : head_high + 6 + row_high * static_cast<double>(std::min(part->terminals.size(), most_rows));
        const auto column = std::min_element(filled.begin(), filled.end());
        if (*column + high > bottom) {
            out.push_back({part, {}});
            continue;
        }
        out.push_back({part, QRectF(20 + static_cast<double>(column - filled.begin()) * (card_wide + gap), *column,
                                    card_wide, high)});
        *column += high + gap;
    }
    return out;
}

QRectF BenchBoard::terminal_row(const Card& card, size_t i) {
    return {card.place.left() + 4, card.place.top() + head_high + row_high * static_cast<double>(i),
            card.place.width() - 8, row_high};
}

void BenchBoard::draw_cards(QPainter& p) {
    const auto& t = theme();
    QStringList left_out;
    for (const auto& card : cards()) {
        if (card.place.isEmpty()) {
            left_out << q(card.part->ref);
            continue;
        }
        item(card.place, card.part->ref);
        draw_sheet(p, card.place, t.bright, t.hairline);
        text(p, {card.place.left() + 8, card.place.top() + 2, card.place.width() - 12, 18}, Qt::AlignVCenter,
             tr("%1 %2").arg(q(card.part->label), q(card.part->ref)), words(12, true), t.ink, true);
        if (is_digits(*card.part))
            draw_digits(p, card);
        else
            draw_terminals(p, card);
    }
    if (left_out.isEmpty()) return;
    text(p, {210, height() - 48.0, width() - 370.0, 16}, Qt::AlignVCenter,
         tr("in a larger window: %1").arg(left_out.join(QStringLiteral(", "))), words(11.5), t.second, true);
}

void BenchBoard::draw_terminals(QPainter& p, const Card& card) {
    const auto& t = theme();
    const auto& part = *card.part;
    const bool more = part.terminals.size() > most_rows;
    for (size_t i = 0; i < std::min(part.terminals.size(), most_rows); ++i) {
        const auto r = terminal_row(card, i);
        if (more && i + 1 == most_rows) {
            text(p, r.adjusted(4, 0, 0, 0), Qt::AlignVCenter, tr("and %1 more").arg(part.terminals.size() - i),
                 words(11), t.second);
            return;
        }
        const auto& terminal = part.terminals[i];
        const auto name = part.ref + "." + terminal.name;
        const auto level = bench_ ? bench_->level(name) : Level::floating;
        const bool ours = terminal.direction == TerminalDirection::drives;
        text(p, {r.left() + 4, r.top(), r.width() * 0.5, r.height()}, Qt::AlignVCenter, q(terminal.name),
             mono(11, ours), ours ? t.select : t.ink, true);
        const double hz = bench_ && !ours ? bench_->frequency_hz(name) : 0;
        const auto duty = duty_.find(name);
        QString says = level == Level::high       ? QStringLiteral("1")
                       : level == Level::low      ? QStringLiteral("0")
                       : level == Level::conflict ? tr("fight")
                                                  : tr("floats");
        if (hz > 0) says = rate(hz);
        if (hz > 0 && duty != duty_.end() && terminal.name.find("pwm") != std::string::npos)
            says = tr("%1 % on").arg(std::lround(duty->second * 100));
        text(p, {r.left() + r.width() * 0.5, r.top(), r.width() * 0.5 - 4, r.height()},
             Qt::AlignVCenter | Qt::AlignRight, says, mono(11),
             level == Level::conflict   ? t.stop
             : level == Level::floating ? t.second
                                        : t.ink,
             true);
    }
}

namespace {

/// Segments a to g and the point of one digit, as lines in a box of 1 by 2.
const QLineF segment_lines[8] = {{{0.1, 0}, {0.9, 0}}, {{1, 0.1}, {1, 0.9}}, {{1, 1.1}, {1, 1.9}},
                                 {{0.1, 2}, {0.9, 2}}, {{0, 1.1}, {0, 1.9}}, {{0, 0.1}, {0, 0.9}},
                                 {{0.1, 1}, {0.9, 1}}, {{1.25, 2}, {1.3, 2}}};

}  // namespace

/// Each digit as the eye sees it: a segment is as bright as the share of time in which it was lit.
void BenchBoard::draw_digits(QPainter& p, const Card& card) {
    const auto& t = theme();
    const auto found = digits_.find(card.part->ref);
    const auto count = std::max<size_t>(1, count_of(*card.part, "dig"));
    const double wide = std::min(22.0, (card.place.width() - 24) / static_cast<double>(count) - 8);
    for (size_t d = 0; d < count; ++d) {
        // The first digit stands at the right.
        const double x = card.place.right() - 14 - (wide + 8) * static_cast<double>(d + 1), y = card.place.top() + 28;
        for (size_t s = 0; s < 8; ++s) {
            const double bright =
                found == digits_.end() ? 0 : std::min(1.0, found->second[d][s] * static_cast<double>(count));
            auto colour = t.hairline;
            if (bright > 0.02) {
                colour = t.stop;
                colour.setAlphaF(static_cast<float>(0.25 + 0.75 * bright));
            }
            p.setPen(QPen(colour, 2.6, Qt::SolidLine, Qt::RoundCap));
            const auto& l = segment_lines[s];
            p.drawLine(QPointF(x + wide * l.x1(), y + wide * 0.9 * l.y1()),
                       QPointF(x + wide * l.x2(), y + wide * 0.9 * l.y2()));
        }
    }
}

/// Shares of time: of each wire the design drives, and of each segment of each digit while its digit is chosen.
void BenchBoard::sample_parts() {
    constexpr double fresh = 0.02;
    for (const auto& part : desk_.session().world().board.parts) {
        if (is_digits(part)) {
            auto& all = digits_[part.ref];
            all.resize(std::max<size_t>(1, count_of(part, "dig")));
            for (size_t d = 0; d < all.size(); ++d) {
                const bool chosen = count_of(part, "dig") == 0 || bench_->active(part.ref + ".dig" + std::to_string(d));
                for (size_t s = 0; s < 8; ++s) {
                    const bool lit = chosen && bench_->active(part.ref + ".seg" + std::to_string(s));
                    all[d][s] += fresh * ((lit ? 1.0 : 0.0) - all[d][s]);
                }
            }
            continue;
        }
        for (const auto& t : part.terminals) {
            if (t.direction == TerminalDirection::drives) continue;
            auto& share = duty_[part.ref + "." + t.name];
            share += fresh * ((bench_->active(part.ref + "." + t.name) ? 1.0 : 0.0) - share);
        }
    }
}

/// A click on a terminal that its part drives turns it over.
bool BenchBoard::turn_terminal(const QPointF& at) {
    for (const auto& card : cards()) {
        if (card.place.isEmpty() || !card.place.contains(at) || is_digits(*card.part)) continue;
        const auto rows = std::min(card.part->terminals.size(), most_rows);
        for (size_t i = 0; i < rows; ++i) {
            const auto& terminal = card.part->terminals[i];
            if (!terminal_row(card, i).contains(at) || terminal.direction != TerminalDirection::drives) continue;
            const auto name = card.part->ref + "." + terminal.name;
            press(name, !hand_.down.count(name));
            return true;
        }
    }
    return false;
}

}  // namespace kp::app
