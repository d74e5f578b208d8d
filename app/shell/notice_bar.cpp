// SPDX-License-Identifier: GPL-3.0-or-later
// Notices are values that the window makes from what is; the bar shows them and calls their ways out.
#include "app/shell/notice_bar.hpp"

#include "app/shell/counted.hpp"
#include "app/theme/theme.hpp"

#include <QEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <algorithm>

namespace kp::app {

NoticeBar::NoticeBar(QWidget* parent) : QFrame(parent), text_(new QLabel), ways_(new QHBoxLayout) {
    setObjectName("notice");
    auto* box = new QHBoxLayout(this);
    box->setContentsMargins(20, 6, 16, 6);
    box->addWidget(text_, 1);
    box->addLayout(ways_);
    text_->setObjectName("notice.text");
    text_->setWordWrap(true);
    text_->setTextFormat(Qt::PlainText);
    ways_->setSpacing(8);
    hide();
}

void NoticeBar::lie_on(QWidget* area) {
    area_ = area;
    setParent(area->window() == area ? area : area->parentWidget());
    area->installEventFilter(this);
}

bool NoticeBar::eventFilter(QObject* watched, QEvent* event) {
    if (watched == area_ && (event->type() == QEvent::Resize || event->type() == QEvent::Move)) place();
    return QFrame::eventFilter(watched, event);
}

void NoticeBar::place() {
    if (!area_ || isHidden()) return;
    const int width = area_->width();
    const int high = hasHeightForWidth() ? heightForWidth(width) : sizeHint().height();
    const int tall = std::min(std::max(high, sizeHint().height()), area_->height());
    setGeometry(area_->x(), area_->y() + area_->height() - tall, width, tall);
    raise();
}

void NoticeBar::show_notices(std::vector<Notice> notices) {
    // The buttons stay as they are while the question does, so that nobody's finger misses.
    const auto same = [](const Notice& a, const Notice& b) {
        return a.sentence == b.sentence && a.ways.size() == b.ways.size();
    };
    const bool unchanged =
        notices.size() == notices_.size() && (notices.empty() || same(notices.front(), notices_.front()));
    notices_ = std::move(notices);
    setVisible(!notices_.empty());
    const auto& t = theme();
    if (!notices_.empty()) {
        const bool warning = notices_.front().kind == Notice::warning;
        setStyleSheet(QStringLiteral("#notice { background: %1; border: none; border-top: 1px solid %2; }")
                          .arg((warning ? t.wash_stop : t.wash_caution).name(), t.hairline.name()));
    }
    if (unchanged) return place();
    while (auto* item = ways_->takeAt(0)) {
        if (item->widget()) {
            item->widget()->hide();
            item->widget()->deleteLater();
        }
        delete item;
    }
    if (notices_.empty()) return;
    const auto& first = notices_.front();
    text_->setText(first.sentence +
                   (notices_.size() > 1
                        ? tr("  (then %1)").arg(counted(static_cast<int>(notices_.size()) - 1, "more notice"))
                        : QString()));
    for (const auto& way : first.ways) {
        auto* button = new QPushButton(way.name);
        button->setObjectName(way.id);
        connect(button, &QPushButton::clicked, this, way.run);
        ways_->addWidget(button);
    }
    place();
}

}  // namespace kp::app
