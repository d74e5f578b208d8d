// SPDX-License-Identifier: GPL-3.0-or-later
// The list is a view of the session's findings, by identity (Finding::identity), so that the chosen one survives
// edits. Previews of fixes are jobs on a snapshot; what is typed as a reason or a number stays until it is sent.
#include "app/findings/findings_station.hpp"

#include "app/shell/ground.hpp"
#include "app/findings/finding_sheet.hpp"
#include "app/shell/counted.hpp"
#include "app/shell/wrapping.hpp"
#include "app/theme/text.hpp"
#include "core/base/local_time.hpp"
#include "core/base/said.hpp"
#include "core/base/text.hpp"
#include "core/rules/preview.hpp"
#include "core/rules/rules.hpp"
#include "core/closing/fix_many.hpp"
#include "core/closing/preview.hpp"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QStyle>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <map>
#include <utility>

namespace kp::app {

namespace {
QIcon make_icon(Severity severity) {
    QPixmap pixmap(32, 32);
    pixmap.setDevicePixelRatio(2);
    pixmap.fill(Qt::transparent);
    QPainter p(&pixmap);
    p.setRenderHint(QPainter::Antialiasing);
    draw_severity(p, {8, 8}, severity);
    return QIcon(pixmap);
}

QIcon severity_icon(Severity severity) {
    static std::map<std::pair<Severity, QRgb>, QIcon> made;  // by theme too
    auto& icon = made[{severity, theme().stop.rgb()}];
    if (icon.isNull()) icon = make_icon(severity);
    return icon;
}

QString key_of(const Finding& f) {
    return q(f.identity());
}
QString line_of(const Finding& f) {
    const QString line = QStringLiteral("%1  %2").arg(q(f.rule), q(f.text));
    return f.waived ? QObject::tr("%1 (waived)").arg(line) : line;
}
}  // namespace

FindingsStation::FindingsStation(Desk& desk, QWidget* parent)
    : Station(desk, parent),
      filter_(new QLineEdit),
      reason_(new QLineEdit),
      stops_(new QPushButton),
      cautions_(new QPushButton),
      notes_(new QPushButton),
      waived_(new QPushButton),
      waive_(new QPushButton(tr("Waive"))),
      of_selection_(new QPushButton(tr("of what is selected"))),
      all_(new QPushButton),
      rules_(new QComboBox),
      held_(new QLabel),
      list_(new QTreeWidget),
      sheet_(new FindingSheet),
      ways_(new QVBoxLayout),
      leads_(new QHBoxLayout),
      scope_(new QLabel),
      ways_title_(new QLabel(tr("Possible fixes"))),
      sentence_(new QLabel),
      bar_(new QWidget) {
    build_bar();
    build();
    show_closed();
    connect_all();
}

void FindingsStation::build_bar() {
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
}

void FindingsStation::build() {
    list_->setHeaderHidden(true);
    list_->setRootIsDecorated(false);
    list_->setIndentation(8);
    wrap_rows(*list_);
    list_->setObjectName("findings.list");
    list_->setAccessibleName(tr("Findings, grouped by fix"));
    auto* left = new QFrame;
    left->setProperty("card", true);
    auto* left_box = new QVBoxLayout(left);
    left_box->setContentsMargins(6, 6, 6, 6);
    left_box->addWidget(list_);
    auto* right = new QFrame;
    right->setProperty("card", true);
    auto* box = new QVBoxLayout(right);
    box->setContentsMargins(12, 8, 12, 12);
    sentence_->setObjectName("findings.sentence");
    sentence_->setWordWrap(true);
    sentence_->setTextFormat(Qt::PlainText);
    sentence_->setFont(words(14, true));
    box->addWidget(sentence_);
    leads_->setSpacing(6);
    box->addLayout(leads_);
    ways_title_->setProperty("role", "second");
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
    box->addWidget(sheet_, 1);
    auto* middle = new QHBoxLayout;
    middle->setContentsMargins(20, 4, 16, 10);
    middle->setSpacing(12);
    middle->addWidget(left, 9);
    middle->addWidget(right, 11);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->addWidget(bar_);
    all->addLayout(middle, 1);
}

void FindingsStation::connect_all() {
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
    add_action("findings.fix", tr("Apply the first possible fix of the finding shown"),
               QKeySequence(QStringLiteral("Ctrl+Shift+F")), [this] { take_way_out(0); });
    add_action("findings.all", tr("Fix all findings of the rule shown that the filter leaves"),
               QKeySequence(QStringLiteral("Ctrl+Shift+A")), [this] { mend_all(); });
    add_action("findings.filter", tr("Filter the findings"), {}, [this] {
        desk_.go_to(Place::findings);
        filter_->setFocus();
    });
}

void FindingsStation::show_closed() {
    bar_->hide();
    list_->clear();
    sentence_->setText(tr("No project is open. What the rules find in one is listed here, with possible fixes."));
    sheet_->show_finding(nullptr);
    for (QWidget* w : {static_cast<QWidget*>(waive_), static_cast<QWidget*>(reason_),
                       static_cast<QWidget*>(ways_title_), static_cast<QWidget*>(all_), static_cast<QWidget*>(scope_)})
        w->hide();
}

void FindingsStation::refresh() {
    bar_->show();
    const auto c = count(desk_.session().findings());
    stops_->setText(counted(c.stops, "stop"));
    cautions_->setText(counted(c.cautions, "caution"));
    notes_->setText(counted(c.notes, "note"));
    waived_->setText(tr("%1 waived").arg(c.waived));
    held_->setText(c.stops > 0 ? tr("handoff is held by %1").arg(counted(c.stops, "stop"))
                               : tr("nothing holds the handoff"));
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
    const bool on = f.waived                          ? waived_->isChecked()
                    : f.severity == Severity::stop    ? stops_->isChecked()
                    : f.severity == Severity::caution ? cautions_->isChecked()
                                                      : notes_->isChecked();
    const auto rule = rules_->currentData().toString();
    if (!on || (!rule.isEmpty() && rule != q(f.rule))) return false;
    if (!of_selection_->isChecked() || desk_.selection().empty()) return true;
    const auto& s = desk_.selection();
    const auto ports = desk_.chosen_ports();
    return std::any_of(f.objects.begin(), f.objects.end(), [&](const Subject& o) {
        return s.has(q(word_of(o.kind)), q(o.name)) ||
               (o.kind == Subject::port && std::find(ports.begin(), ports.end(), o.name) != ports.end());
    });
}

bool FindingsStation::listed(const Finding& f) const {
    return shown(f) && (line_of(f) + key_of(f)).contains(filter_->text(), Qt::CaseInsensitive);
}

Row FindingsStation::row_of(const Finding& f, size_t i) const {
    Row row{key_of(f), {line_of(f)}};
    const QColor ink = f.waived ? theme().second : theme().ink;
    row.dress = [i, ink, icon = severity_icon(f.severity), line = line_of(f)](QTreeWidgetItem* item) {
        item->setIcon(0, icon);
        item->setData(0, Qt::UserRole, static_cast<int>(i));
        item->setToolTip(0, line);
        item->setForeground(0, ink);
    };
    return row;
}

void FindingsStation::fill_list() {
    fill_rules();
    std::map<QString, Row> groups;
    std::map<QString, int> seen;  // findings of one identity, told apart by their number
    const auto& findings = desk_.session().findings();
    for (size_t i = 0; i < findings.size(); ++i) {
        const auto& f = findings[i];
        if (!listed(f)) continue;
        auto& group = groups[q(f.remedy)];
        auto row = row_of(f, i);
        if (const int n = seen[row.id]++; n > 0) row.id += QStringLiteral("\n#%1").arg(n);
        group.below.push_back(std::move(row));
    }
    std::vector<Row> rows;
    for (auto& [name, group] : groups) {
        group.id = QStringLiteral("group ") + name;
        group.cells = QStringList{name};
        group.dress = [](QTreeWidgetItem* item) {
            item->setFont(0, words(13, true));
            item->setForeground(0, theme().second);
            if (item->flags() == Qt::ItemIsEnabled) return;  // folded or not as the user left it
            item->setFlags(Qt::ItemIsEnabled);
            item->setExpanded(true);
        };
        rows.push_back(std::move(group));
    }
    filling_ = true;
    sync_rows(list_, rows);
    if (!current() && list_->topLevelItemCount() > 0) list_->setCurrentItem(list_->topLevelItem(0)->child(0));
    show_finding();
    filling_ = false;
}

const Finding* FindingsStation::current() const {
    const auto* item = list_->currentItem();
    if (!item || !item->data(0, Qt::UserRole).isValid() || !desk_.has_session()) return nullptr;
    const auto i = static_cast<size_t>(item->data(0, Qt::UserRole).toInt());
    return i < desk_.session().findings().size() ? &desk_.session().findings()[i] : nullptr;
}

void FindingsStation::show_finding() {
    if (!desk_.has_session()) return;  // the list is being emptied
    // A copy: trying fixes lets the rules follow an edit and go back.
    const auto* there = current();
    const auto shown = there ? std::optional<Finding>(*there) : std::nullopt;
    const auto* f = shown ? &*shown : nullptr;
    const bool none = desk_.session().findings().empty();
    sentence_->setText(
        f      ? q(f->rule) + QStringLiteral("  ") + q(f->text)
        : none ? tr("All rules pass: there is nothing to fix.")
               : tr("No finding matches the filter; there are %1 in all.").arg(desk_.session().findings().size()));
    sheet_->show_finding(f, f ? context_of(desk_.session(), *f) : FindingContext{});
    for (QWidget* w :
         {static_cast<QWidget*>(waive_), static_cast<QWidget*>(reason_), static_cast<QWidget*>(ways_title_)})
        w->setVisible(f);
    waive_->setEnabled(f && !f->waived);
    reason_->setEnabled(f && !f->waived);
    all_->setVisible(false);
    scope_->setVisible(f);
    if (!f) {
        shown_.clear();
        empty(ways_);
        empty(leads_);
        return;
    }
    const bool same = shown_ == key_of(*f);
    shown_ = key_of(*f);
    std::vector<std::string> objects;
    for (const auto& o : f->objects) objects.push_back(said("{} {}", word_of(o.kind), o.name));
    scope_->setText(
        f->waived
            ? tr("Waived by %1 on %2: %3").arg(q(f->waived->who), q(f->waived->date), q(f->waived->reason))
            : tr("A waiver would hold for %1 at %2 and nothing else.").arg(q(f->rule), q(list_names(objects, 6))));
    if (!filling_) select_object(*f);
    offer_leads(*f);
    offer_ways(*f, same);
}

/// The port or clock of a finding that the user went to is what is looked at everywhere; without one, the finding.
/// Findings that merely change do not touch the selection and its history.
void FindingsStation::select_object(const Finding& f) {
    leading_ = true;
    for (const auto& o : f.objects)
        if (o.kind == Subject::port || o.kind == Subject::clock) {
            desk_.select({q(word_of(o.kind)), q(o.name)});
            leading_ = false;
            return;
        }
    desk_.select({QStringLiteral("finding"), q(f.identity())});
    leading_ = false;
}

void FindingsStation::empty(QBoxLayout* row) {
    while (auto* item = row->takeAt(0)) {
        if (auto* old = item->widget()) {
            // It may be the button that is being clicked: it goes later, and is not to be found by its name until then.
            old->hide();
            old->setObjectName(QString());
            old->deleteLater();
        }
        delete item;
    }
}

/// Where the finding can be looked at: the pin, the board part, the line, the paths.
void FindingsStation::offer_leads(const Finding& f) {
    empty(leads_);
    const auto lead = [this](const QString& name, const Selection& to, Place station) {
        auto* b = new QPushButton(name);
        b->setProperty("flat", true);
        b->setToolTip(tr("Show it there"));
        connect(b, &QPushButton::clicked, this, [this, to, station] {
            desk_.go_to(station);  // first: a station that comes up shows itself anew
            desk_.select(to);
        });
        leads_->addWidget(b);
    };
    using enum Place;
    bool pin = false, bank = false, part = false, clock = false, port = false;
    for (const auto& o : f.objects) {
        if (o.kind == Subject::pin && !std::exchange(pin, true))
            lead(tr("pin %1").arg(q(o.name)), {QStringLiteral("pin"), q(o.name)}, pegs);
        if (o.kind == Subject::bank && !std::exchange(bank, true))
            lead(tr("bank %1").arg(q(o.name)), {QStringLiteral("bank"), q(o.name)}, pegs);
        if (o.kind == Subject::terminal && !std::exchange(part, true))
            lead(q(o.name), {QStringLiteral("part"), q(o.name.substr(0, o.name.find('.')))}, site);
        if (o.kind == Subject::clock && !std::exchange(clock, true))
            lead(tr("clock %1").arg(q(o.name)), {QStringLiteral("clock"), q(o.name)}, tempo);
        if (o.kind == Subject::port && !std::exchange(port, true) && f.rule[0] == 'D')
            lead(tr("paths of %1").arg(q(o.name)), {QStringLiteral("port"), q(o.name)}, slack);
    }
    if (!f.file.empty() && f.line > 0)
        lead(tr("%1, line %2").arg(q(f.file)).arg(f.line),
             {QStringLiteral("line"), QStringLiteral("%1:%2").arg(q(f.file)).arg(f.line)}, tempo);
    leads_->addStretch(1);
}

/// A fix that is applied as it is; what it would really do is told by show_outcome().
QWidget* FindingsStation::fix_button(size_t i) {
    auto* b = new QPushButton(q(fixes_[i].text) + QStringLiteral("\n") + tr("calculating …"));
    b->setStyleSheet(QStringLiteral("text-align: left; padding: 5px 10px;"));
    b->setObjectName(QStringLiteral("findings.way.%1").arg(i));
    b->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    connect(b, &QPushButton::clicked, this, [this, i] { take_way_out(static_cast<int>(i)); });
    return b;
}

/// Only a fix that adds nothing is highlighted.
void FindingsStation::show_outcome(size_t i, const FindingsChange& change) {
    auto* b = findChild<QPushButton*>(QStringLiteral("findings.way.%1").arg(i));
    if (!b || i >= fixes_.size()) return;
    const QString gone = change.gone.empty() ? tr("clears nothing") : tr("clears %1").arg(q(codes_of(change.gone)));
    const QString come = change.come.empty() ? tr("adds nothing") : tr("adds %1").arg(q(codes_of(change.come)));
    b->setText(q(fixes_[i].text) + QStringLiteral("\n") + tr("%1; %2").arg(gone, come));
    const bool good = i == 0 && change.come.empty() && !change.gone.empty();
    if (b->property("primary").toBool() != good) {
        b->setProperty("primary", good);
        b->style()->unpolish(b);
        b->style()->polish(b);
    }
    QStringList all{q(fixes_[i].text)};
    for (const auto& g : change.come) all << tr("would add: %1 %2").arg(q(g.rule), q(g.text));
    b->setToolTip(all.join(QStringLiteral("\n")));
}

/// The rules are run on a changed copy: at once where they can follow the edit, beside the window where text has to be
/// run.
void FindingsStation::work_out_outcomes() {
    const auto now = desk_.session().findings();
    std::vector<std::pair<size_t, Edit>> slow;
    for (size_t i = 0; i < fixes_.size(); ++i) {
        if (fixes_[i].asks()) continue;
        const auto t = touched(fixes_[i].edit);
        if (t.text || t.inputs)
            slow.emplace_back(i, fixes_[i].edit);
        else
            show_outcome(i, compare_findings(now, desk_.session().findings_after(fixes_[i].edit)));
    }
    desk_.forget("outcomes");
    if (slow.empty()) return;
    using Outcomes = std::vector<std::pair<size_t, FindingsChange>>;
    desk_.later<Outcomes>(
        "outcomes", this,
        [slow](const std::shared_ptr<const Snapshot>& at, const std::stop_token& stop) {
            Outcomes out;
            for (const auto& [i, edit] : slow)
                if (const auto then = preview(*at, edit, stop))
                    out.emplace_back(i, compare_findings(*at->findings, *then.value().findings));
            return out;
        },
        [this](const Outcomes& list) {
            for (const auto& [i, change] : list) show_outcome(i, change);
        });
}

/// A fix that needs a number which nobody gave yet.
QWidget* FindingsStation::fix_question(size_t i) {
    auto* row = new QWidget;
    auto* box = new QHBoxLayout(row);
    box->setContentsMargins(0, 0, 0, 0);
    auto* what = new QLabel(q(fixes_[i].ask));
    what->setToolTip(q(fixes_[i].text));
    auto* number = new QLineEdit;
    number->setObjectName(QStringLiteral("findings.number.%1").arg(i));
    number->setAccessibleName(q(fixes_[i].ask));
    number->setPlaceholderText(tr("ns"));
    number->setMaximumWidth(90);
    auto* add = new QPushButton(tr("Add"));
    add->setObjectName(QStringLiteral("findings.way.%1").arg(i));
    add->setToolTip(q(fixes_[i].text));
    box->addWidget(what, 1);
    box->addWidget(number);
    box->addWidget(add);
    const auto take = [this, i, number] {
        const auto text = number->text().trimmed().replace(',', '.').toStdString();
        if (!to_number(text)) return desk_.say(tr("A number of ns is needed: %1.").arg(q(fixes_[i].ask)), true);
        const Edit edit = answered(fixes_[i], text);
        desk_.apply(edit);
    };
    connect(number, &QLineEdit::returnPressed, this, take);
    connect(add, &QPushButton::clicked, this, take);
    return row;
}

/// For a finding that was shown already, fields that are being typed into stay as they are.
void FindingsStation::offer_ways(const Finding& f, bool same) {
    auto fixes = desk_.session().fixes_of(f);
    const bool stay = same && ways_->count() > 0 &&
                      std::equal(fixes.begin(), fixes.end(), fixes_.begin(), fixes_.end(),
                                 [](const Fix& a, const Fix& b) { return a.text == b.text && a.ask == b.ask; });
    fixes_ = std::move(fixes);
    if (!stay) {
        empty(ways_);
        for (size_t i = 0; i < fixes_.size(); ++i) ways_->addWidget(fixes_[i].asks() ? fix_question(i) : fix_button(i));
        if (fixes_.empty()) {
            auto* none = new QLabel(tr("No fix can be computed here; change the design, the text or the board."));
            none->setProperty("role", "second");
            none->setWordWrap(true);
            ways_->addWidget(none);
        }
    }
    work_out_outcomes();
    const auto alike = shown_of(f.rule).size();
    if (f.waived || alike < 2 || fixes_.empty() || fixes_.front().asks()) return;
    all_->setText(tr("Fix all %1 %2 this way").arg(alike).arg(q(f.rule)));
    all_->setToolTip(tr("Of those the filter shows, each whose fix clears it and adds nothing; one undo reverts all"));
    all_->setVisible(true);
}

std::vector<Finding> FindingsStation::shown_of(const std::string& rule) const {
    std::vector<Finding> out;
    for (const auto& f : desk_.session().findings())
        if (f.rule == rule && !f.waived && listed(f)) out.push_back(f);
    return out;
}

void FindingsStation::mend_all() {
    const auto* f = current();
    if (!f) return;
    all_->setEnabled(false);
    desk_.say(tr("Trying the fixes of all %1 …").arg(q(f->rule)));
    desk_.later<FixMany>(
        "fix all", this,
        [wanted = shown_of(f->rule)](const std::shared_ptr<const Snapshot>& now, const std::stop_token& stop) {
            return fix_many(*now, wanted, stop);
        },
        [this, rule = q(f->rule)](const FixMany& many) {
            all_->setEnabled(true);
            take_all(many, rule);
        });
}

void FindingsStation::take_all(const FixMany& many, const QString& rule) {
    if (many.revision != desk_.session().revision())
        return desk_.say(tr("The plan was edited meanwhile; nothing was fixed. Ask again."), true);
    if (!many.edit.empty() && !desk_.apply(many.edit)) return;
    if (many.left.empty()) return desk_.say(tr("%1 %2 fixed.").arg(many.taken.size()).arg(rule));
    desk_.say(tr("%1 of %2 %3 fixed; first remaining: %4.")
                  .arg(many.taken.size())
                  .arg(many.taken.size() + many.left.size())
                  .arg(rule, q(many.left.front().why)),
              many.taken.empty());
}

void FindingsStation::take_way_out(int index) {
    if (!current() || index < 0 || index >= static_cast<int>(fixes_.size())) return;
    if (fixes_[static_cast<size_t>(index)].asks()) {
        if (auto* number = findChild<QLineEdit*>(QStringLiteral("findings.number.%1").arg(index))) number->setFocus();
        return desk_.say(tr("Type the number first: %1.").arg(q(fixes_[static_cast<size_t>(index)].ask)));
    }
    const Edit edit = fixes_[static_cast<size_t>(index)].edit;
    desk_.apply(edit);
}

void FindingsStation::waive() {
    const auto* f = current();
    if (!f) return;
    const auto reason = reason_->text().trimmed().toStdString();
    if (reason.empty()) return desk_.say(tr("A waiver needs a reason."), true);
    const auto edit = waiver_edit(*f, reason, user_name(), local_time("%Y-%m-%d"));
    reason_->clear();
    desk_.apply(edit);
}

KnotState FindingsStation::standing() const {
    const auto c = count(desk_.session().findings());
    if (const auto missing = missing_ground(desk_.session()); c.stops == 0 && !missing.isEmpty())
        return {tr("Findings"), c.cautions ? tr("%1, %2").arg(counted(c.cautions, "caution"), missing) : missing,
                c.cautions ? Standing::caution : Standing::open};
    const QString words = c.stops + c.cautions == 0 ? tr("clear")
                          : c.stops > 0 && c.cautions > 0
                              ? tr("%1, %2").arg(counted(c.stops, "stop"), counted(c.cautions, "caution"))
                          : c.stops > 0 ? counted(c.stops, "stop")
                                        : counted(c.cautions, "caution");
    return {tr("Findings"), words, c.stops > 0 ? Standing::stop : c.cautions > 0 ? Standing::caution : Standing::good};
}

QString FindingsStation::status() const {
    const auto c = count(desk_.session().findings());
    return tr("%1, %2 waived").arg(counted(c.stops + c.cautions + c.notes, "finding")).arg(c.waived);
}

}  // namespace kp::app
