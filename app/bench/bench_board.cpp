// SPDX-License-Identifier: GPL-3.0-or-later
// Cards are made once for a board and asked for their faces at every frame; where they lie is CardLayout's. State:
// the bench of BenchStation; here only which card the mouse is on.
#include "app/bench/bench_board.hpp"

#include "app/bench/card_layout.hpp"

#include <QLabel>
#include <QScrollBar>
#include <algorithm>
#include <tuple>

namespace kp::app {

namespace {

constexpr int least_wide = 194, gap = 8;

/// What is looked at first comes first: what shows something, what a hand works, and then the rest.
int order_of(const std::string& kind) {
    if (kind == "lamp" || kind == "display" || kind == "sounder") return 0;
    if (kind == "vane" || kind == "key" || kind == "rocker") return 1;
    return kind == "header" ? 3 : 2;
}

}  // namespace

BenchBoard::BenchBoard(QWidget* parent) : QScrollArea(parent), inside_(new QWidget), banner_(new QLabel(inside_)) {
    setObjectName(QStringLiteral("bench.board"));
    setAccessibleName(tr("The simulated board"));
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOn);
    setWidget(inside_);
    banner_->setObjectName(QStringLiteral("bench.conflict"));
    banner_->setWordWrap(true);
    banner_->setContentsMargins(8, 4, 8, 4);
    banner_->hide();
}

void BenchBoard::show_table(const board_sim::BoardModel* model, BenchCard::Work work,
                            const std::map<std::string, std::pair<double, double>>& places) {
    for (auto* card : cards_) {
        card->hide();
        card->setParent(nullptr);
        card->deleteLater();
    }
    cards_.clear();
    banner_->hide();
    if (!model) return;
    for (const auto& part : model->parts())
        if (part) cards_.push_back(new BenchCard(*model, *part, work));
    // Beside that as on the board: by bands of its height, from left to right in each.
    const auto where = [&places](const BenchCard* card) {
        const auto at = places.find(card->part().ref);
        const auto [x, y] = at == places.end() ? std::pair(0.0, 0.0) : at->second;
        return std::tuple(order_of(card->part().kind), static_cast<int>(y / 25), x, y);
    };
    std::stable_sort(cards_.begin(), cards_.end(), [&](const auto* a, const auto* b) { return where(a) < where(b); });
    for (auto* card : cards_) {
        card->setParent(inside_);
        card->show();
    }
    // Tab goes the way the eye does.
    for (size_t i = 1; i < cards_.size(); ++i) QWidget::setTabOrder(cards_[i - 1], cards_[i]);
    place();
}

void BenchBoard::place() {
    const int width = viewport()->width() - 6;
    int top = 0;
    if (!banner_->isHidden()) {
        const int high = banner_->heightForWidth(width);
        banner_->setGeometry(0, 0, width, high);
        top = high + gap;
    }
    std::vector<int> heights;
    const int wide = lay_out_cards({}, width, least_wide, gap).card_wide;
    for (auto* card : cards_) {
        card->resize(wide, card->height());
        heights.push_back(std::max(card->sizeHint().height(), card->heightForWidth(wide)));
    }
    const auto laid = lay_out_cards(heights, width, least_wide, gap);
    for (size_t i = 0; i < cards_.size(); ++i) cards_[i]->setGeometry(laid.places[i].translated(0, top));
    inside_->resize(viewport()->width(), std::max(viewport()->height(), top + laid.height + 4));
}

void BenchBoard::resizeEvent(QResizeEvent* event) {
    QScrollArea::resizeEvent(event);
    place();
}

void BenchBoard::look() {
    for (auto* card : cards_) card->look();
}

void BenchBoard::mark(const std::map<std::string, QString>& why) {
    for (auto* card : cards_) {
        const auto at = why.find(card->part().ref);
        card->mark(at == why.end() ? QString() : at->second);
    }
    place();
}

void BenchBoard::say(const QString& sentence) {
    if (banner_->text() == sentence && banner_->isHidden() == sentence.isEmpty()) return;
    const bool moves = banner_->isHidden() != sentence.isEmpty() || !sentence.isEmpty();
    banner_->setText(sentence);
    banner_->setStyleSheet(QStringLiteral("background: %1; color: %2; border: 1px solid %2;")
                               .arg(theme().wash_stop.name(), theme().stop.name()));
    banner_->setVisible(!sentence.isEmpty());
    if (moves) place();
}

BenchCard* BenchBoard::card(const std::string& ref) const {
    for (auto* card : cards_)
        if (card->part().ref == ref) return card;
    return nullptr;
}

}  // namespace kp::app
