// SPDX-License-Identifier: GPL-3.0-or-later
// Narrows by words in any order; what is chosen runs after the chooser has closed, so that it may open another.
#include "app/shell/chooser.hpp"

#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>

namespace kp::app {

Chooser::Chooser(QWidget* parent) : QFrame(parent), line_(new QLineEdit(this)), list_(new QListWidget(this)) {
    setProperty("card", true);
    setObjectName("chooser");
    line_->setObjectName("chooser.line");
    list_->setObjectName("chooser.list");
    line_->setAccessibleName(tr("Type to find"));
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(8, 8, 8, 8);
    box->addWidget(line_);
    box->addWidget(list_);
    line_->installEventFilter(this);
    connect(line_, &QLineEdit::textChanged, this, &Chooser::narrow);
    connect(list_, &QListWidget::itemActivated, this, &Chooser::run_current);
    connect(list_, &QListWidget::itemClicked, this, &Chooser::run_current);
    hide();
}

void Chooser::open(const QString& prompt, std::vector<Item> items, std::function<void(const QString&)> typed,
                   const QString& begin_with) {
    items_ = std::move(items);
    typed_ = std::move(typed);
    typed_first_ = !begin_with.isEmpty();
    const int w = 520, h = 380;
    setGeometry((parentWidget()->width() - w) / 2, 80, w, h);
    line_->setPlaceholderText(prompt);
    line_->setText(begin_with);
    line_->selectAll();
    narrow();
    show();
    raise();
    line_->setFocus();
}

void Chooser::narrow() {
    list_->clear();
    if (typed_first_) offer_typed();
    const auto wanted = line_->text().toLower().split(' ', Qt::SkipEmptyParts);
    for (size_t i = 0; i < items_.size(); ++i) {
        const QString all = (items_[i].name + ' ' + items_[i].hint).toLower();
        if (!std::all_of(wanted.begin(), wanted.end(), [&](const QString& w) { return all.contains(w); })) continue;
        auto* item = new QListWidgetItem(
            items_[i].hint.isEmpty() ? items_[i].name : items_[i].name + QStringLiteral("   ·  ") + items_[i].hint,
            list_);
        item->setData(Qt::UserRole, static_cast<int>(i));
    }
    if (!typed_first_) offer_typed();
    list_->setCurrentRow(0);
}

void Chooser::offer_typed() {
    const auto text = line_->text().trimmed();
    if (!typed_ || text.isEmpty()) return;
    auto* item = new QListWidgetItem(tr("“%1”   ·  as typed").arg(text), list_);
    item->setData(Qt::UserRole, -1);
}

void Chooser::run_current() {
    const auto* item = list_->currentItem();
    hide();
    if (!item) return;
    const int i = item->data(Qt::UserRole).toInt();
    if (i < 0) {
        const auto typed = typed_;
        return typed(line_->text().trimmed());
    }
    const auto run = items_[static_cast<size_t>(i)].run;
    if (run) run();
}

bool Chooser::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::FocusOut && isVisible() && !list_->hasFocus()) hide();
    if (event->type() != QEvent::KeyPress) return QFrame::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    switch (key->key()) {
        case Qt::Key_Escape: hide(); return true;
        case Qt::Key_Return:
        case Qt::Key_Enter: run_current(); return true;
        case Qt::Key_Down: list_->setCurrentRow(std::min(list_->currentRow() + 1, list_->count() - 1)); return true;
        case Qt::Key_Up: list_->setCurrentRow(std::max(list_->currentRow() - 1, 0)); return true;
        default: return QFrame::eventFilter(watched, event);
    }
}

}  // namespace kp::app
