// SPDX-License-Identifier: GPL-3.0-or-later
// The solver runs as a job on a snapshot and can be stopped; rows are ticked here and taken in one edit. State: the
// answer until the plan changes, and the ticks.
#include "app/pegs/place_page.hpp"

#include "app/shell/counted.hpp"
#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "core/base/text.hpp"
#include "core/session/analysis.hpp"
#include "core/session/verdict.hpp"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <map>

namespace kp::app {

namespace {

constexpr int id_role = Qt::UserRole;

/// Who may be proposed where, on a snapshot.
Result<PlaceAnswer> place_on(const Snapshot& now, const PlaceQuestion& question, const std::stop_token& stop) {
    return place_rest(rule_input(*now.world, *now.project, now.analysis), question, stop);
}

/// Places of one port by what speaks against them; an empty reason stands for the legal ones.
std::map<std::string, std::vector<std::string>> reasons_of(const std::shared_ptr<const Snapshot>& now,
                                                           const std::string& port, const std::stop_token& stop) {
    std::map<std::string, std::vector<std::string>> out;
    Trial trial(now);
    for (const auto& pin : now->world->part.pins) {
        if (stop.stop_requested()) break;
        if (!pin.usable()) {
            out[std::string("it is ") + name_of(pin.kind) + ", not for users"].push_back(pin.name);
            continue;
        }
        auto why = trial.trouble(port, pin.name);
        // The same trouble at each pin names each pin; it is one reason.
        for (size_t at; (at = why.find("pin " + pin.name)) != std::string::npos;)
            why.replace(at, pin.name.size() + 4, "this pin");
        out[why].push_back(pin.name);
    }
    return out;
}

}  // namespace

PlacePage::PlacePage(Desk& desk)
    : desk_(desk),
      list_(new QTreeWidget),
      says_(new QLabel),
      ask_(new QPushButton(tr("Place the rest"))),
      some_(new QPushButton(tr("Place the selected"))),
      take_(new QPushButton(tr("Take what is ticked"))),
      all_(new QPushButton(tr("tick all"))),
      none_(new QPushButton(tr("tick none"))),
      bank_(new QPushButton(tr("tick this bank alone"))),
      why_(new QPushButton(tr("Why not?"))),
      without_(new QPushButton(tr("Retry without it"))) {
    setObjectName("place");
    list_->setObjectName("place.list");
    list_->setAccessibleName(tr("Proposed places, or what conflicts"));
    says_->setObjectName("place.says");
    says_->setWordWrap(true);
    ask_->setObjectName("place.ask");
    ask_->setProperty("primary", true);
    some_->setObjectName("place.some");
    take_->setObjectName("place.take");
    take_->setProperty("primary", true);
    why_->setObjectName("place.why");
    why_->setToolTip(tr("Every place of the selected port, by what speaks against it"));
    without_->setObjectName("place.without");
    without_->setToolTip(tr("Looks for places with the chosen fact left out"));
    auto* top = new QHBoxLayout;
    for (auto* b : {ask_, some_, why_}) top->addWidget(b);
    top->addWidget(says_, 1);
    auto* foot = new QHBoxLayout;
    bank_->setObjectName("place.bank");
    for (auto* b : {all_, none_, bank_}) foot->addWidget(b);
    foot->addStretch(1);
    for (auto* b : {without_, take_}) foot->addWidget(b);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(16, 10, 16, 10);
    box->addLayout(top);
    box->addWidget(list_, 1);
    box->addLayout(foot);
    connect_all();
    says_->setText(tr("What is pegged stays; ports that are adrift or loose get the nearest legal places, in order."));
    for (auto* b : {take_, all_, none_, bank_, without_}) b->hide();
}

void PlacePage::connect_all() {
    connect(ask_, &QPushButton::clicked, this, [this] { ask(); });
    connect(some_, &QPushButton::clicked, this, [this] {
        const auto chosen = desk_.chosen_ports();
        if (chosen.empty()) return desk_.say(tr("Select the ports to place first."), true);
        ask({chosen.begin(), chosen.end()});
    });
    connect(take_, &QPushButton::clicked, this, &PlacePage::take);
    connect(all_, &QPushButton::clicked, this, [this] { tick_all(true); });
    connect(none_, &QPushButton::clicked, this, [this] { tick_all(false); });
    connect(bank_, &QPushButton::clicked, this, [this] {
        const auto* current = list_->currentItem();
        if (!current) return desk_.say(tr("Choose a row of the bank first."), true);
        for (int i = 0; i < list_->topLevelItemCount(); ++i) {
            auto* row = list_->topLevelItem(i);
            row->setCheckState(0, row->text(3) == current->text(3) ? Qt::Checked : Qt::Unchecked);
        }
    });
    connect(why_, &QPushButton::clicked, this, &PlacePage::why_not);
    connect(without_, &QPushButton::clicked, this, [this] {
        auto* item = list_->currentItem();
        if (!item || item->data(0, id_role).toString().isEmpty())
            return desk_.say(tr("Choose what to leave out first."), true);
        auto relax = relax_;
        relax.insert(item->data(0, id_role).toString().toStdString());
        ask(ports_, relax);
    });
    connect(list_, &QTreeWidget::currentItemChanged, this, [this](QTreeWidgetItem* item) {
        const auto port = item ? item->data(0, Qt::UserRole + 1).toString() : QString();
        if (!port.isEmpty() && desk_.has_session() && desk_.session().plan().port(port.toStdString()))
            desk_.select({QStringLiteral("port"), port});
    });
}

void PlacePage::refresh() {
    if (answer_ && revision_ != desk_.session().revision()) {
        // A proposal is of the plan it was made for.
        answer_.reset();
        list_->clear();
        for (auto* b : {take_, all_, none_, bank_, without_}) b->hide();
        says_->setText(tr("The plan changed; ask again."));
    }
}

void PlacePage::ask(std::set<std::string> ports, std::set<std::string> relax) {
    if (!desk_.has_session()) return;
    ports_ = std::move(ports);
    relax_ = std::move(relax);
    says_->setText(tr("looking for places …"));
    desk_.later<Asked>(
        "place", this,
        [ports = ports_, relax = relax_](const std::shared_ptr<const Snapshot>& now, const std::stop_token& stop) {
            PlaceQuestion question;
            question.ports = ports;
            question.relax = relax;
            question.seconds = 30;
            Asked out{place_on(*now, question, stop), {}};
            if (!out.answer || out.answer.value().status != PlaceAnswer::Status::conflict) return out;
            for (const auto& fact : out.answer.value().conflict) {
                if (stop.stop_requested() || out.ways.size() >= 12) break;
                auto without = question;
                without.relax.insert(fact.id);
                without.seconds = 5;
                if (auto way = place_on(*now, without, stop)) out.ways.emplace_back(fact.id, way.take());
            }
            return out;
        },
        [this](const Asked& asked) { show_answer(asked); });
}

void PlacePage::show_answer(const Asked& asked) {
    list_->clear();
    answer_.reset();
    for (auto* b : {take_, all_, none_, bank_, without_}) b->hide();
    if (!asked.answer) return says_->setText(q(asked.answer.first().text));
    revision_ = desk_.session().revision();
    const auto& a = asked.answer.value();
    if (a.status == PlaceAnswer::Status::conflict) return show_conflict(asked);
    if (a.status == PlaceAnswer::Status::partial)
        return says_->setText(tr("The time limit was reached before a placement was found; ask for fewer ports."));
    show_places(a);
}

void PlacePage::show_places(const PlaceAnswer& a) {
    answer_ = a;
    list_->setHeaderLabels({tr("port"), tr("from"), tr("to"), tr("bank"), tr("on the board")});
    list_->setRootIsDecorated(false);
    const int widths[] = {240, 110, 90, 70};
    for (int i = 0; i < 4; ++i) list_->setColumnWidth(i, widths[i]);
    const auto& w = desk_.session().world();
    int news = 0;
    for (const auto& p : a.placed) {
        if (p.pin == p.was) continue;
        const auto* pin = w.part.pin(p.pin);
        const auto at = w.board.at_pin(p.pin);
        auto* row = new QTreeWidgetItem(list_, {q(p.port), p.was.empty() ? tr("adrift") : q(p.was), q(p.pin),
                                                pin ? q(pin->bank) : QString(), at ? q(at.net->terminal) : QString()});
        row->setCheckState(0, Qt::Checked);
        row->setData(0, Qt::UserRole + 1, q(p.port));
        row->setFont(0, mono(12));
        row->setFont(2, mono(12));
        ++news;
    }
    QString left;
    if (!a.left_adrift.empty()) left = tr(" Left adrift: %1.").arg(q(list_names(a.left_adrift, 4)));
    says_->setText(news == 0 ? tr("All are legally placed already.") + left
                             : tr("%1 can be placed; cost %2, no legal placement costs less than %3.")
                                       .arg(counted(news, "port"))
                                       .arg(a.cost)
                                       .arg(a.bound) +
                                   left);
    if (!a.wrong.empty())
        says_->setText(says_->text() +
                       tr(" Left as it is, since it is wrong between pegs alone: %1").arg(q(a.wrong.front().text)) +
                       (a.wrong.size() > 1 ? tr(" and %1 more, see Findings.").arg(a.wrong.size() - 1) : QString()));
    for (auto* b : {take_, all_, none_, bank_}) b->setVisible(news > 0);
}

void PlacePage::show_conflict(const Asked& asked) {
    const auto& a = asked.answer.value();
    list_->setHeaderLabels({tr("what conflicts"), tr("fix"), tr("effect")});
    list_->setRootIsDecorated(false);
    list_->setColumnWidth(0, 430);
    list_->setColumnWidth(1, 250);
    for (const auto& fact : a.conflict) {
        QString brings = tr("not tried");
        for (const auto& [id, way] : asked.ways) {
            if (id != fact.id) continue;
            brings =
                way.status == PlaceAnswer::Status::placed
                    ? tr("%1 placed, %2 of the loose moved").arg(way.placed.size()).arg(way.moved)
                : way.status == PlaceAnswer::Status::conflict
                    ? tr("leads to another conflict of %1").arg(counted(static_cast<int>(way.conflict.size()), "fact"))
                    : tr("no answer in time");
        }
        auto* row = new QTreeWidgetItem(list_, {q(fact.text), q(fact.relax), brings});
        row->setData(0, id_role, q(fact.id));
        row->setData(0, Qt::UserRole + 1, fact.objects.empty() ? QString() : q(fact.objects[0]));
        for (int c = 0; c < 3; ++c) row->setToolTip(c, row->text(c));
    }
    says_->setText(tr("No legal placement: %1 in conflict, dropping any one resolves it.")
                       .arg(counted(static_cast<int>(a.conflict.size()), "fact")));
    without_->show();
}

void PlacePage::tick_all(bool on) {
    for (int i = 0; i < list_->topLevelItemCount(); ++i)
        list_->topLevelItem(i)->setCheckState(0, on ? Qt::Checked : Qt::Unchecked);
}

void PlacePage::take() {
    if (!answer_ || !desk_.has_session()) return;
    std::set<std::string> ticked;
    for (int i = 0; i < list_->topLevelItemCount(); ++i)
        if (list_->topLevelItem(i)->checkState(0) == Qt::Checked)
            ticked.insert(list_->topLevelItem(i)->text(0).toStdString());
    Edit edit{"place " + kp::counted(ticked.size(), "port"), {}};
    const auto wanted = [&](const std::string& port) {
        const bool proposed = std::any_of(answer_->placed.begin(), answer_->placed.end(),
                                          [&](const PlacedPort& p) { return p.port == port; });
        return !proposed || ticked.contains(port);
    };
    for (const auto& change : answer_->edit.changes)
        if (const auto* peg = std::get_if<PegChange>(&change); peg ? wanted(peg->port) : true) {
            if (const auto* attribute = std::get_if<AttributeChange>(&change); attribute && !wanted(attribute->port))
                continue;
            edit.changes.push_back(change);
        }
    if (ticked.empty()) return desk_.say(tr("Nothing is ticked."), true);
    if (desk_.apply(edit))
        desk_.say(tr("%1 placed, loose. Accept pegs them; Ctrl+Z undoes it.")
                      .arg(counted(static_cast<int>(ticked.size()), "port")));
}

void PlacePage::why_not() {
    const auto chosen = desk_.chosen_ports();
    if (chosen.size() != 1) return desk_.say(tr("Select one port first."), true);
    says_->setText(tr("trying every place …"));
    using Reasons = std::map<std::string, std::vector<std::string>>;
    desk_.later<Reasons>(
        "place", this,
        [port = chosen[0]](const std::shared_ptr<const Snapshot>& now, const std::stop_token& stop) {
            return reasons_of(now, port, stop);
        },
        [this, port = chosen[0]](const Reasons& reasons) {
            list_->clear();
            answer_.reset();
            for (auto* b : {take_, all_, none_, bank_, without_}) b->hide();
            list_->setHeaderLabels({tr("places of %1").arg(q(port)), tr("how many")});
            list_->setRootIsDecorated(true);
            list_->setColumnWidth(0, 820);
            size_t legal = 0;
            for (const auto& [why, pins] : reasons) {
                if (why.empty()) legal = pins.size();
                auto* row =
                    new QTreeWidgetItem(list_, {why.empty() ? tr("legal") : q(why), QString::number(pins.size())});
                row->setToolTip(0, row->text(0));
                if (why.empty()) row->setForeground(0, theme().good);
                for (const auto& pin : pins) new QTreeWidgetItem(row, {q(pin)});
            }
            says_->setText(tr("%1 can be placed on %2.").arg(q(port), counted(static_cast<int>(legal), "pin")));
        });
}

}  // namespace kp::app
