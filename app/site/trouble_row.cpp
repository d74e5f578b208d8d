// SPDX-License-Identifier: GPL-3.0-or-later
// A row of widgets; no state.
#include "app/site/trouble_row.hpp"

#include "app/paint/canvas.hpp"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace kp::app {

namespace {

class Mark : public QWidget {
public:
    explicit Mark(Severity severity) : severity_(severity) { setFixedSize(16, 18); }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        draw_severity(p, {7, 9}, severity_);
    }

private:
    Severity severity_;
};

}  // namespace

TroubleRow::TroubleRow(Severity severity, const QString& text) : column_(new QVBoxLayout) {
    auto* all = new QHBoxLayout(this);
    all->setContentsMargins(0, 2, 0, 4);
    all->addWidget(new Mark(severity), 0, Qt::AlignTop);
    auto* label = new QLabel(text);
    label->setWordWrap(true);
    label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    column_->addWidget(label);
    all->addLayout(column_, 1);
}

void TroubleRow::add_way(const QString& name, const std::function<void()>& run) {
    auto* button = new QPushButton(name);
    // The row may go when its way out is taken: later, not from inside its own click.
    connect(
        button, &QPushButton::clicked, this, [run] { run(); }, Qt::QueuedConnection);
    column_->addWidget(button, 0, Qt::AlignLeft);
}

void clear_rows(QVBoxLayout* layout) {
    while (auto* item = layout->takeAt(0)) {
        if (item->widget()) {
            item->widget()->hide();  // it goes when events are handled next, and must not be seen till then
            item->widget()->deleteLater();
        }
        delete item;
    }
}

}  // namespace kp::app
