// SPDX-License-Identifier: GPL-3.0-or-later
// Cures are worked out by a job (core/closing), one after the other, best first; the page shows what is there so
// far and takes one as one edit.
#include "app/slack/cure_page.hpp"

#include "app/shell/counted.hpp"
#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "core/base/text.hpp"
#include "core/model/timing_words.hpp"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>

namespace kp::app {

namespace {
QString ns(const std::optional<double>& v, const QString& none) {
    return v ? q(fixed(*v, 3)) : none;
}
}  // namespace

QString words_of(const CureEffect& e) {
    QStringList out;
    if (e.better > 0) out << QObject::tr("%1 better").arg(e.better);
    if (e.worse > 0) out << QObject::tr("%1 worse").arg(e.worse);
    if (e.newly_failing > 0) out << QObject::tr("%1 fail that did not").arg(e.newly_failing);
    if (e.hidden > 0) out << QObject::tr("%1 not checked any more").arg(e.hidden);
    if (!e.came.empty()) out << QObject::tr("brings %1").arg(q(e.came.front().substr(0, e.came.front().find(':'))));
    if (!e.gone.empty()) out << QObject::tr("settles %1").arg(counted(static_cast<int>(e.gone.size()), "finding"));
    return out.isEmpty() ? QObject::tr("no other endpoint changes") : out.join(QStringLiteral(", "));
}

CurePage::CurePage(Desk& desk)
    : desk_(desk),
      list_(new QTreeWidget),
      says_(new QLabel),
      take_(new QPushButton(tr("Take it"))),
      few_button_(new QPushButton(tr("Smallest set of changes"))) {
    list_->setObjectName("slack.cures");
    list_->setAccessibleName(tr("Changes that would close the path"));
    list_->setHeaderLabels(
        {tr("what if"), tr("this path, ns"), tr("setup, ns"), tr("hold, ns"), tr("failing"), tr("side effects")});
    list_->setRootIsDecorated(false);
    const int widths[] = {392, 92, 76, 76, 56};
    for (int i = 0; i < 5; ++i) list_->setColumnWidth(i, widths[i]);
    says_->setWordWrap(true);
    says_->setProperty("role", "second");
    says_->setObjectName("slack.cure.says");
    take_->setObjectName("slack.cure.take");
    take_->setProperty("primary", true);
    few_button_->setObjectName("slack.cure.few");
    auto* row = new QHBoxLayout;
    row->addWidget(says_, 1);
    row->addWidget(few_button_);
    row->addWidget(take_);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(0, 0, 0, 0);
    box->addWidget(list_, 1);
    box->addLayout(row);
    connect(list_, &QTreeWidget::currentItemChanged, this, [this] { say_current(); });
    connect(list_, &QTreeWidget::itemActivated, this, [this] { take(); });
    connect(take_, &QPushButton::clicked, this, [this] { take(); });
    connect(few_button_, &QPushButton::clicked, this, [this] { find_few(); });
    take_->setEnabled(false);
}

void CurePage::show_path(const TimingPath* path) {
    path_ = path ? std::optional<TimingPath>(*path) : std::nullopt;
    asked_ = few_shown_ = false;
    desk_.forget("cures");
    list_->clear();
    tried_.clear();
    take_->setEnabled(false);
    few_button_->setEnabled(true);
    says_->setText(!path_              ? tr("Choose an endpoint above.")
                   : path_->slack >= 0 ? tr("This path is met with %1 ns to spare.").arg(q(fixed(path_->slack, 3)))
                                       : tr("Short by %1 ns.").arg(q(fixed(-path_->slack, 3))));
    if (isVisible()) ask();
}

void CurePage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    if (!asked_) ask();
}

void CurePage::ask() {
    asked_ = true;
    if (!path_ || path_->slack >= 0 || !desk_.has_session()) return;
    says_->setText(tr("Short by %1 ns; trying what would give them …").arg(q(fixed(-path_->slack, 3))));
    using Found = std::vector<Tried>;
    desk_.later<Found>(
        "cures", this,
        [path = *path_](const std::shared_ptr<const Snapshot>& now, const std::stop_token& stop) {
            Found out;
            for (auto& cure : cures_for(*now, path)) {
                if (stop.stop_requested()) break;
                auto effect = effect_of(*now, cure, path, stop);
                out.push_back({std::move(cure), effect ? std::optional(effect.take()) : std::nullopt});
            }
            return out;
        },
        [this](const Found& found) { list_cures(found); });
}

void CurePage::list_cures(const std::vector<Tried>& tried) {
    tried_ = tried;
    few_shown_ = false;
    list_->clear();
    for (const auto& t : tried_) {
        auto* row = new QTreeWidgetItem(list_, {q(t.cure.text)});
        row->setToolTip(0, q(t.cure.text));
        if (!t.effect) {
            row->setText(5, tr("it cannot be tried as the text stands"));
            continue;
        }
        const auto& e = *t.effect;
        row->setText(1, ns(e.slack, tr("not checked")));
        row->setText(2, ns(e.setup.wns, tr("none")));
        row->setText(3, ns(e.hold.wns, tr("none")));
        row->setText(4, QString::number(e.failing));
        row->setText(5, words_of(e));
        QStringList all{words_of(e)};
        for (const auto& f : e.came) all << tr("brings %1").arg(q(f));
        for (const auto& f : e.gone) all << tr("settles %1").arg(q(f));
        row->setToolTip(5, all.join(QLatin1Char('\n')));
        for (int c = 1; c < 5; ++c) {
            row->setTextAlignment(c, Qt::AlignRight | Qt::AlignVCenter);
            row->setFont(c, mono(12));
        }
        if (e.slack) row->setForeground(1, *e.slack < 0 ? theme().stop : theme().good);
    }
    if (tried_.empty())
        says_->setText(
            tr("Nothing in the constraints would close it without a promise that is not known; the design "
               "has to change."));
    else
        list_->setCurrentItem(list_->topLevelItem(0));
}

void CurePage::say_current() {
    const int at = list_->indexOfTopLevelItem(list_->currentItem());
    if (few_shown_) {
        take_->setEnabled(!few_.edit.empty());
        return;
    }
    const bool any = at >= 0 && at < static_cast<int>(tried_.size());
    take_->setEnabled(any && tried_[static_cast<size_t>(at)].effect.has_value());
    if (!any) return;
    const auto& t = tried_[static_cast<size_t>(at)];
    says_->setText(t.cure.promises.empty() ? tr("It promises nothing beyond what it says.")
                                           : tr("Only if this is so: %1.").arg(q(t.cure.promises)));
}

void CurePage::find_few() {
    if (!desk_.has_session()) return;
    few_button_->setEnabled(false);
    says_->setText(tr("looking for the smallest set of changes …"));
    desk_.later<Closing>(
        "cures", this,
        [](const std::shared_ptr<const Snapshot>& now, const std::stop_token& stop) {
            return closing_changes(*now, 20, stop);
        },
        [this](const Closing& found) { list_few(found); });
}

void CurePage::list_few(const Closing& found) {
    few_ = found;
    few_shown_ = true;
    few_button_->setEnabled(true);
    list_->clear();
    for (const auto& step : few_.steps) {
        auto* row = new QTreeWidgetItem(
            list_, {q(step.cure.text), {}, {}, {}, QString::number(step.failing), q(step.cure.promises)});
        row->setToolTip(0, q(step.cure.text));
        row->setToolTip(5, q(step.cure.promises));
        row->setTextAlignment(4, Qt::AlignRight | Qt::AlignVCenter);
    }
    for (const auto& left : few_.left) {
        auto* row = new QTreeWidgetItem(list_, {tr("left: %1").arg(q(left))});
        row->setForeground(0, theme().stop);
        row->setToolTip(0, q(left));
    }
    says_->setText(
        few_.steps.empty()
            ? tr("No change of the constraints closes any of the %1 without a promise that only you can give.")
                  .arg(counted(few_.before, "failing endpoint"))
            : tr("With %1, the failing endpoints go from %2 to %3. Take them only if what each promises is so.")
                  .arg(counted(static_cast<int>(few_.steps.size()), "change"))
                  .arg(few_.before)
                  .arg(few_.after));
    take_->setEnabled(!few_.edit.empty());
}

void CurePage::take() {
    if (!desk_.has_session()) return;
    if (few_shown_) {
        if (few_.edit.empty()) return;
        if (desk_.apply(few_.edit)) desk_.say(tr("Taken: %1. Ctrl+Z undoes them.").arg(q(few_.edit.title)));
        return;
    }
    const int at = list_->indexOfTopLevelItem(list_->currentItem());
    if (at < 0 || at >= static_cast<int>(tried_.size()) || !tried_[static_cast<size_t>(at)].effect) return;
    const auto edit = tried_[static_cast<size_t>(at)].cure.edit;
    if (desk_.apply(edit)) desk_.say(tr("Taken: %1. Ctrl+Z undoes it.").arg(q(edit.title)));
}

}  // namespace kp::app
