// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/findings/findings_station.hpp"

#include "app/findings/finding_sheet.hpp"
#include "app/shell/counted.hpp"
#include "core/base/text.hpp"

#include <QDate>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <map>

namespace kp::app {

namespace {
QString q(const std::string& s) { return QString::fromStdString(s); }

QIcon severity_icon(Severity severity) {
    QPixmap pixmap(32, 32);
    pixmap.setDevicePixelRatio(2);
    pixmap.fill(Qt::transparent);
    QPainter p(&pixmap);
    p.setRenderHint(QPainter::Antialiasing);
    draw_severity(p, {8, 8}, severity);
    return QIcon(pixmap);
}

QString key_of(const Finding& f) {
    QString key = q(f.rule);
    for (const auto& o : f.objects) key += '|' + q(o.name);
    return key;
}
}  // namespace

FindingsStation::FindingsStation(Desk& desk, QWidget* parent)
    : Station(desk, parent), filter_(new QLineEdit), reason_(new QLineEdit), stops_(new QPushButton), cautions_(new QPushButton), notes_(new QPushButton), waived_(new QPushButton), waive_(new QPushButton(tr("Waive"))), held_(new QLabel), list_(new QTreeWidget), sheet_(new FindingSheet), ways_(new QVBoxLayout) {
    filter_->setPlaceholderText(tr("filter by rule, port, pin, part"));
    filter_->setAccessibleName(tr("Filter findings"));
    filter_->setObjectName("findings.filter");
    filter_->setMaximumWidth(250);
    auto* bar = new QHBoxLayout;
    bar->setContentsMargins(20, 8, 16, 0);
    bar->addWidget(filter_);
    for (auto* b : {stops_, cautions_, notes_, waived_}) {
        b->setCheckable(true);
        b->setChecked(true);
        bar->addWidget(b);
        connect(b, &QPushButton::clicked, this, [this] {
            if (desk_.has_session()) fill_list();
        });
    }
    bar->addStretch(1);
    bar->addWidget(held_);
    list_->setHeaderHidden(true);
    list_->setRootIsDecorated(false);
    list_->setIndentation(8);
    list_->setWordWrap(true);
    list_->setObjectName("findings.list");
    list_->setAccessibleName(tr("Findings, grouped by remedy"));
    auto* left = new QFrame;
    left->setProperty("card", true);
    auto* left_box = new QVBoxLayout(left);
    left_box->setContentsMargins(6, 6, 6, 6);
    left_box->addWidget(list_);
    auto* right = new QFrame;
    right->setProperty("card", true);
    auto* box = new QVBoxLayout(right);
    box->setContentsMargins(12, 8, 12, 12);
    box->addWidget(sheet_, 1);
    auto* title = new QLabel(tr("ways out"));
    title->setProperty("role", "heading");
    box->addWidget(title);
    ways_->setSpacing(6);
    box->addLayout(ways_);
    auto* waiver = new QHBoxLayout;
    reason_->setPlaceholderText(tr("or waive it: the reason"));
    reason_->setAccessibleName(tr("Reason for a waiver"));
    reason_->setObjectName("findings.reason");
    waive_->setObjectName("findings.waive");
    waiver->addWidget(reason_, 1);
    waiver->addWidget(waive_);
    box->addLayout(waiver);
    auto* middle = new QHBoxLayout;
    middle->setContentsMargins(20, 4, 16, 10);
    middle->setSpacing(12);
    middle->addWidget(left, 9);
    middle->addWidget(right, 11);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->addLayout(bar);
    all->addLayout(middle, 1);

    connect(filter_, &QLineEdit::textChanged, this, [this] {
        if (desk_.has_session()) fill_list();
    });
    connect(list_, &QTreeWidget::currentItemChanged, this, [this] { show_finding(); });
    connect(waive_, &QPushButton::clicked, this, &FindingsStation::waive);
    connect(reason_, &QLineEdit::returnPressed, this, &FindingsStation::waive);
    add_action("findings.fix", tr("Take the first way out of the finding shown"), QKeySequence(QStringLiteral("Ctrl+Shift+F")), [this] { take_way_out(0); });
    add_action("findings.filter", tr("Filter the findings"), {}, [this] {
        desk_.go_to(2);
        filter_->setFocus();
    });
}

void FindingsStation::refresh() {
    const auto c = count(desk_.session().findings());
    stops_->setText(counted(c.stops, "stop"));
    cautions_->setText(counted(c.cautions, "caution"));
    notes_->setText(counted(c.notes, "note"));
    waived_->setText(tr("%1 waived").arg(c.waived));
    held_->setText(c.stops > 0 ? tr("handoff is held by %1").arg(counted(c.stops, "stop")) : tr("nothing holds the handoff"));
    held_->setStyleSheet(QStringLiteral("color: %1").arg((c.stops > 0 ? theme().stop : theme().good).name()));
    fill_list();
}

void FindingsStation::fill_list() {
    const QString wanted = shown_;
    list_->blockSignals(true);
    list_->clear();
    std::map<QString, QTreeWidgetItem*> groups;
    QTreeWidgetItem *again = nullptr, *first = nullptr;
    const auto& findings = desk_.session().findings();
    for (size_t i = 0; i < findings.size(); ++i) {
        const auto& f = findings[i];
        const bool on = f.waived ? waived_->isChecked() : f.severity == Severity::stop ? stops_->isChecked() : f.severity == Severity::caution ? cautions_->isChecked() : notes_->isChecked();
        QString line = QStringLiteral("%1  %2").arg(q(f.rule), q(f.text));
        if (f.waived) line = tr("%1 (waived)").arg(line);
        if (!on || !(line + key_of(f)).contains(filter_->text(), Qt::CaseInsensitive)) continue;
        auto*& group = groups[q(f.remedy)];
        if (!group) {
            group = new QTreeWidgetItem(list_, {q(f.remedy)});
            group->setFont(0, words(13, true));
            group->setForeground(0, theme().second);
            group->setFlags(Qt::ItemIsEnabled);
            group->setExpanded(true);
        }
        auto* item = new QTreeWidgetItem(group, {line});
        item->setIcon(0, severity_icon(f.severity));
        item->setData(0, Qt::UserRole, static_cast<int>(i));
        item->setToolTip(0, line);
        if (f.waived) item->setForeground(0, theme().second);
        if (!first) first = item;
        if (key_of(f) == wanted) again = item;
    }
    list_->blockSignals(false);
    list_->setCurrentItem(again ? again : first);
    show_finding();
}

const Finding* FindingsStation::current() const {
    const auto* item = list_->currentItem();
    if (!item || !item->data(0, Qt::UserRole).isValid() || !desk_.has_session()) return nullptr;
    const auto i = static_cast<size_t>(item->data(0, Qt::UserRole).toInt());
    return i < desk_.session().findings().size() ? &desk_.session().findings()[i] : nullptr;
}

void FindingsStation::show_finding() {
    const auto* f = current();
    sheet_->show_finding(f);
    while (auto* item = ways_->takeAt(0)) {
        item->widget()->hide();
        item->widget()->deleteLater();
        delete item;
    }
    waive_->setEnabled(f && !f->waived);
    reason_->setEnabled(f && !f->waived);
    if (!f) return;
    shown_ = key_of(*f);
    for (const auto& o : f->objects)
        if (o.kind == "port" || o.kind == "clock") {
            desk_.select({q(o.kind), q(o.name)});
            break;
        }
    const auto before = count(desk_.session().findings());
    fixes_ = desk_.session().fixes_of(*f);
    for (size_t i = 0; i < fixes_.size(); ++i) {
        // What the way out would really do: the rules are run on a changed copy.
        const auto after = count(desk_.session().preview(fixes_[i].edit));
        const int gone = before.stops + before.cautions - after.stops - after.cautions;
        auto* b = new QPushButton(q(fixes_[i].text) + QStringLiteral("\n") + (gone > 0 ? tr("leaves %1 and %2, %3 fewer").arg(counted(after.stops, "stop"), counted(after.cautions, "caution")).arg(gone) : tr("leaves %1 and %2").arg(counted(after.stops, "stop"), counted(after.cautions, "caution"))));
        b->setStyleSheet(QStringLiteral("text-align: left; padding: 5px 10px;"));
        b->setObjectName(QStringLiteral("findings.way.%1").arg(i));
        if (i == 0) b->setProperty("primary", true);
        b->setToolTip(q(fixes_[i].text));
        b->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        connect(b, &QPushButton::clicked, this, [this, i] { take_way_out(static_cast<int>(i)); });
        ways_->addWidget(b);
    }
    if (fixes_.empty()) {
        auto* none = new QLabel(tr("No way out can be computed here; change the text or the board."));
        none->setProperty("role", "second");
        ways_->addWidget(none);
    }
}

void FindingsStation::take_way_out(int index) {
    if (!current() || index < 0 || index >= static_cast<int>(fixes_.size())) return;
    const Edit edit = fixes_[static_cast<size_t>(index)].edit;
    desk_.apply(edit);
}

void FindingsStation::waive() {
    const auto* f = current();
    if (!f) return;
    const auto reason = reason_->text().trimmed().toStdString();
    if (reason.empty()) return desk_.say(tr("A waiver needs a reason."), true);
    const auto user = qEnvironmentVariable("USER", QStringLiteral("user")).toStdString();
    const Waiver w{f->rule, f->object_names(), reason, user, QDate::currentDate().toString(Qt::ISODate).toStdString()};
    reason_->clear();
    desk_.apply(Edit{"waive " + f->rule + " for " + list_names(w.objects), {WaiverChange{w, true}}});
}

KnotState FindingsStation::standing() const {
    const auto c = count(desk_.session().findings());
    const QString words = c.stops + c.cautions == 0 ? tr("clear") : c.stops > 0 ? tr("%1 · %2").arg(counted(c.stops, "stop")).arg(c.cautions) : counted(c.cautions, "caution");
    return {tr("Findings"), words, c.stops > 0 ? Standing::stop : c.cautions > 0 ? Standing::caution : Standing::good};
}

QString FindingsStation::status() const {
    const auto c = count(desk_.session().findings());
    return tr("%1, %2 waived").arg(counted(c.stops + c.cautions + c.notes, "finding")).arg(c.waived);
}

}  // namespace kp::app
