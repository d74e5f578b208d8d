// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/findings/findings_station.hpp"

#include "app/findings/finding_sheet.hpp"
#include "app/shell/counted.hpp"
#include "core/base/text.hpp"
#include "core/rules/preview.hpp"
#include "core/rules/rules.hpp"

#include <QComboBox>
#include <QDate>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <map>
#include <utility>

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
    : Station(desk, parent), filter_(new QLineEdit), reason_(new QLineEdit), stops_(new QPushButton), cautions_(new QPushButton), notes_(new QPushButton), waived_(new QPushButton), waive_(new QPushButton(tr("Waive"))), of_selection_(new QPushButton(tr("of what is selected"))), all_(new QPushButton), rules_(new QComboBox), held_(new QLabel), list_(new QTreeWidget), sheet_(new FindingSheet), ways_(new QVBoxLayout), leads_(new QHBoxLayout), scope_(new QLabel), ways_title_(new QLabel(tr("ways out"))), bar_(new QWidget) {
    filter_->setPlaceholderText(tr("rule, port, words"));
    filter_->setAccessibleName(tr("Filter findings"));
    filter_->setObjectName("findings.filter");
    filter_->setMaximumWidth(210);
    rules_->setAccessibleName(tr("Rule"));
    rules_->setObjectName("findings.rules");
    rules_->setMaximumWidth(150);
    of_selection_->setCheckable(true);
    of_selection_->setObjectName("findings.of_selection");
    of_selection_->setToolTip(tr("Only findings that name what is selected anywhere in the window"));
    auto* bar = new QHBoxLayout(bar_);
    bar->setContentsMargins(20, 8, 16, 0);
    bar->addWidget(filter_);
    bar->addWidget(rules_);
    bar->addWidget(of_selection_);
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
    leads_->setSpacing(6);
    box->addLayout(leads_);
    ways_title_->setProperty("role", "heading");
    box->addWidget(ways_title_);
    ways_->setSpacing(6);
    box->addLayout(ways_);
    all_->setObjectName("findings.all");
    all_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    box->addWidget(all_);
    connect(all_, &QPushButton::clicked, this, &FindingsStation::mend_all);
    auto* waiver = new QHBoxLayout;
    reason_->setPlaceholderText(tr("or waive it: the reason"));
    reason_->setAccessibleName(tr("Reason for a waiver"));
    reason_->setObjectName("findings.reason");
    waive_->setObjectName("findings.waive");
    waiver->addWidget(reason_, 1);
    waiver->addWidget(waive_);
    box->addLayout(waiver);
    scope_->setProperty("role", "second");
    scope_->setWordWrap(true);
    box->addWidget(scope_);
    auto* middle = new QHBoxLayout;
    middle->setContentsMargins(20, 4, 16, 10);
    middle->setSpacing(12);
    middle->addWidget(left, 9);
    middle->addWidget(right, 11);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->addWidget(bar_);
    all->addLayout(middle, 1);

    show_closed();
    connect(&desk_, &Desk::opened, this, [this] {
        if (!desk_.has_session()) show_closed();
    });
    connect(filter_, &QLineEdit::textChanged, this, [this] {
        if (desk_.has_session()) fill_list();
    });
    connect(rules_, &QComboBox::currentIndexChanged, this, [this] {
        if (desk_.has_session()) fill_list();
    });
    connect(of_selection_, &QPushButton::clicked, this, [this] {
        if (desk_.has_session()) fill_list();
    });
    connect(&desk_, &Desk::selected, this, [this] {
        if (of_selection_->isChecked() && !leading_ && desk_.has_session()) fill_list();
    });
    connect(list_, &QTreeWidget::currentItemChanged, this, [this] { show_finding(); });
    connect(waive_, &QPushButton::clicked, this, &FindingsStation::waive);
    connect(reason_, &QLineEdit::returnPressed, this, &FindingsStation::waive);
    add_action("findings.fix", tr("Take the first way out of the finding shown"), QKeySequence(QStringLiteral("Ctrl+Shift+F")), [this] { take_way_out(0); });
    add_action("findings.all", tr("Mend all findings of the kind shown, where that is safe"), QKeySequence(QStringLiteral("Ctrl+Shift+A")), [this] { mend_all(); });
    add_action("findings.filter", tr("Filter the findings"), {}, [this] {
        desk_.go_to(2);
        filter_->setFocus();
    });
}

void FindingsStation::show_closed() {
    bar_->hide();
    list_->clear();
    sheet_->show_finding(nullptr, tr("No project is open. What the rules find in one is listed here, with ways out."));
    for (QWidget* w : {static_cast<QWidget*>(waive_), static_cast<QWidget*>(reason_), static_cast<QWidget*>(ways_title_), static_cast<QWidget*>(all_), static_cast<QWidget*>(scope_)}) w->hide();
}

void FindingsStation::refresh() {
    bar_->show();
    const auto c = count(desk_.session().findings());
    stops_->setText(counted(c.stops, "stop"));
    cautions_->setText(counted(c.cautions, "caution"));
    notes_->setText(counted(c.notes, "note"));
    waived_->setText(tr("%1 waived").arg(c.waived));
    held_->setText(c.stops > 0 ? tr("handoff is held by %1").arg(counted(c.stops, "stop")) : tr("nothing holds the handoff"));
    held_->setStyleSheet(QStringLiteral("color: %1").arg((c.stops > 0 ? theme().stop : theme().good).name()));
    fill_list();
}

void FindingsStation::fill_rules() {
    std::map<std::string, int> codes;
    for (const auto& f : desk_.session().findings()) ++codes[f.rule];
    const auto now = rules_->currentData().toString();
    rules_->blockSignals(true);
    rules_->clear();
    rules_->addItem(tr("every rule"), QString());
    for (const auto& [code, n] : codes) rules_->addItem(tr("%1 · %2").arg(q(code)).arg(n), q(code));
    rules_->setCurrentIndex(std::max(0, rules_->findData(now)));
    rules_->blockSignals(false);
}

bool FindingsStation::shown(const Finding& f) const {
    const bool on = f.waived ? waived_->isChecked() : f.severity == Severity::stop ? stops_->isChecked() : f.severity == Severity::caution ? cautions_->isChecked() : notes_->isChecked();
    const auto rule = rules_->currentData().toString();
    if (!on || (!rule.isEmpty() && rule != q(f.rule))) return false;
    if (!of_selection_->isChecked() || desk_.selection().empty()) return true;
    const auto& s = desk_.selection();
    const auto ports = desk_.chosen_ports();
    return std::any_of(f.objects.begin(), f.objects.end(), [&](const FindingObject& o) { return s.has(q(o.kind), q(o.name)) || (o.kind == "port" && std::find(ports.begin(), ports.end(), o.name) != ports.end()); });
}

void FindingsStation::fill_list() {
    fill_rules();
    const QString wanted = shown_;
    list_->blockSignals(true);
    list_->clear();
    std::map<QString, QTreeWidgetItem*> groups;
    QTreeWidgetItem *again = nullptr, *first = nullptr;
    const auto& findings = desk_.session().findings();
    for (size_t i = 0; i < findings.size(); ++i) {
        const auto& f = findings[i];
        QString line = QStringLiteral("%1  %2").arg(q(f.rule), q(f.text));
        if (f.waived) line = tr("%1 (waived)").arg(line);
        if (!shown(f) || !(line + key_of(f)).contains(filter_->text(), Qt::CaseInsensitive)) continue;
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
    if (!desk_.has_session()) return;  // the list is being emptied
    const auto* f = current();
    const bool none = desk_.session().findings().empty();
    sheet_->show_finding(f, none ? tr("Every rule is kept: there is nothing to mend.") : tr("No finding meets the filter; there are %1 in all.").arg(desk_.session().findings().size()));
    for (QWidget* w : {static_cast<QWidget*>(waive_), static_cast<QWidget*>(reason_), static_cast<QWidget*>(ways_title_)}) w->setVisible(f);
    for (QBoxLayout* row : {static_cast<QBoxLayout*>(ways_), static_cast<QBoxLayout*>(leads_)})
        while (auto* item = row->takeAt(0)) {
            if (auto* old = item->widget()) {
                // It may be the button that is being clicked: it goes later, and is not to be found by its name until then.
                old->hide();
                old->setObjectName(QString());
                old->deleteLater();
            }
            delete item;
        }
    waive_->setEnabled(f && !f->waived);
    reason_->setEnabled(f && !f->waived);
    all_->setVisible(false);
    scope_->setVisible(f);
    if (!f) return;
    shown_ = key_of(*f);
    std::vector<std::string> objects;
    for (const auto& o : f->objects) objects.push_back(o.kind + " " + o.name);
    scope_->setText(f->waived ? tr("Waived by %1 on %2: %3").arg(q(f->waived->who), q(f->waived->date), q(f->waived->reason)) : tr("A waiver would hold for %1 at %2 and nothing else.").arg(q(f->rule), q(list_names(objects, 6))));
    leading_ = true;
    for (const auto& o : f->objects)
        if (o.kind == "port" || o.kind == "clock") {
            desk_.select({q(o.kind), q(o.name)});
            break;
        }
    leading_ = false;
    offer_leads(*f);
    offer_ways(*f);
}

/// Where the finding can be looked at: the pin, the board part, the line, the paths.
void FindingsStation::offer_leads(const Finding& f) {
    const auto lead = [this](const QString& name, const Selection& to, int station) {
        auto* b = new QPushButton(name);
        b->setProperty("flat", true);
        b->setToolTip(tr("Show it there"));
        connect(b, &QPushButton::clicked, this, [this, to, station] {
            desk_.go_to(station);  // first: a station that comes up shows itself anew
            desk_.select(to);
        });
        leads_->addWidget(b);
    };
    constexpr int site = 0, pegs = 1, tempo = 3, slack = 4;
    bool pin = false, bank = false, part = false, clock = false, port = false;
    for (const auto& o : f.objects) {
        if (o.kind == "pin" && !std::exchange(pin, true)) lead(tr("pin %1").arg(q(o.name)), {QStringLiteral("pin"), q(o.name)}, pegs);
        if (o.kind == "bank" && !std::exchange(bank, true)) lead(tr("bank %1").arg(q(o.name)), {QStringLiteral("bank"), q(o.name)}, pegs);
        if (o.kind == "terminal" && !std::exchange(part, true)) lead(q(o.name), {QStringLiteral("part"), q(o.name.substr(0, o.name.find('.')))}, site);
        if (o.kind == "clock" && !std::exchange(clock, true)) lead(tr("clock %1").arg(q(o.name)), {QStringLiteral("clock"), q(o.name)}, tempo);
        if (o.kind == "port" && !std::exchange(port, true) && f.rule[0] == 'D') lead(tr("paths of %1").arg(q(o.name)), {QStringLiteral("port"), q(o.name)}, slack);
    }
    if (!f.file.empty() && f.line > 0) lead(tr("%1, line %2").arg(q(f.file)).arg(f.line), {QStringLiteral("line"), QStringLiteral("%1:%2").arg(q(f.file)).arg(f.line)}, tempo);
    leads_->addStretch(1);
}

void FindingsStation::offer_ways(const Finding& f) {
    const auto& now = desk_.session().findings();
    fixes_ = desk_.session().fixes_of(f);
    for (size_t i = 0; i < fixes_.size(); ++i) {
        // What the way out would really do: the rules are run on a changed copy.
        const auto change = compare_findings(now, desk_.session().preview(fixes_[i].edit));
        const QString gone = change.gone.empty() ? tr("takes nothing away") : tr("takes away %1").arg(q(codes_of(change.gone)));
        const QString come = change.come.empty() ? tr("brings nothing new") : tr("brings %1").arg(q(codes_of(change.come)));
        auto* b = new QPushButton(q(fixes_[i].text) + QStringLiteral("\n") + tr("%1; %2").arg(gone, come));
        b->setStyleSheet(QStringLiteral("text-align: left; padding: 5px 10px;"));
        b->setObjectName(QStringLiteral("findings.way.%1").arg(i));
        if (i == 0) b->setProperty("primary", true);
        QStringList all{q(fixes_[i].text)};
        for (const auto& g : change.come) all << tr("would come: %1 %2").arg(q(g.rule), q(g.text));
        b->setToolTip(all.join(QStringLiteral("\n")));
        b->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        connect(b, &QPushButton::clicked, this, [this, i] { take_way_out(static_cast<int>(i)); });
        ways_->addWidget(b);
    }
    if (fixes_.empty()) {
        auto* none = new QLabel(tr("No way out can be computed here; change the design, the text or the board."));
        none->setProperty("role", "second");
        none->setWordWrap(true);
        ways_->addWidget(none);
    }
    const auto alike = std::count_if(now.begin(), now.end(), [&](const Finding& g) { return g.rule == f.rule && !g.waived; });
    if (f.waived || alike < 2 || !safe_for_all(f.rule)) return;
    all_->setText(tr("Mend all %1 of %2 so").arg(alike).arg(q(f.rule)));
    all_->setToolTip(tr("Takes the first way out of each; one undo takes all of it back"));
    all_->setVisible(true);
}

void FindingsStation::mend_all() {
    const auto* f = current();
    if (!f || !safe_for_all(f->rule)) return desk_.say(tr("For this kind each finding has to be looked at by itself."), true);
    desk_.apply(desk_.session().fix_all(f->rule));
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
