// SPDX-License-Identifier: GPL-3.0-or-later
// Links are kept in the project; the solver runs as a job and its answer is shown until the plan changes. The chart
// draws blocks, engines and what reaches what.
#include "app/pegs/lanes_page.hpp"

#include "app/shell/chooser.hpp"
#include "app/shell/counted.hpp"
#include "app/theme/text.hpp"
#include "core/base/text.hpp"

#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace kp::app {

namespace {

using State = LaneLink::State;

QString state_words(State s) {
    switch (s) {
        case State::adrift: return QObject::tr("adrift");
        case State::loose: return QObject::tr("loose");
        case State::pegged: return QObject::tr("pegged");
        case State::off: return QObject::tr("excluded");
    }
    return {};
}

}  // namespace

LanesPage::LanesPage(Desk& desk)
    : desk_(desk),
      block_(new QComboBox),
      list_(new QTreeWidget),
      conflict_(new QTreeWidget),
      chart_(new LaneChart),
      says_(new QLabel),
      solve_(new QPushButton(tr("Solve all links"))),
      some_(new QPushButton(tr("Solve this link"))),
      take_(new QPushButton(tr("Take the places"))),
      add_(new QPushButton(tr("Add…"))),
      remove_(new QPushButton(tr("Remove"))),
      peg_(new QPushButton(tr("Peg or loosen"))),
      off_(new QPushButton(tr("Exclude / include"))) {
    setObjectName("lanes");
    list_->setObjectName("lanes.list");
    list_->setAccessibleName(tr("Links"));
    list_->setHeaderLabels({tr("link"), tr("requested"), tr("state"), tr("placed on")});
    list_->setRootIsDecorated(false);
    const int widths[] = {64, 246, 58};
    for (int i = 0; i < 3; ++i) list_->setColumnWidth(i, widths[i]);
    conflict_->setObjectName("lanes.conflict");
    conflict_->setHeaderLabels({tr("what conflicts"), tr("fix")});
    conflict_->setRootIsDecorated(false);
    conflict_->setColumnWidth(0, 320);
    conflict_->setToolTip(tr("Return excludes it and solves again"));
    says_->setObjectName("lanes.says");
    says_->setWordWrap(true);
    const std::pair<QPushButton*, const char*> names[] = {
        {solve_, "lanes.solve"},   {some_, "lanes.some"}, {take_, "lanes.take"}, {add_, "lanes.add"},
        {remove_, "lanes.remove"}, {peg_, "lanes.peg"},   {off_, "lanes.off"}};
    for (const auto& [button, name] : names) button->setObjectName(QLatin1String(name));
    take_->setProperty("primary", true);
    auto* top = new QHBoxLayout;
    for (auto* b : {solve_, some_, peg_, off_, add_, remove_}) top->addWidget(b);
    top->addStretch(1);
    block_->setObjectName("lanes.block");
    block_->setAccessibleName(tr("The lane block that is shown"));
    top->addWidget(block_);
    top->addWidget(take_);
    chart_->setMinimumHeight(400);
    auto* two = new QHBoxLayout;
    two->addWidget(list_, 5);
    two->addWidget(conflict_, 5);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(16, 8, 16, 8);
    box->addLayout(top);
    box->addWidget(says_);
    box->addWidget(chart_, 3);
    box->addLayout(two, 1);
    connect(solve_, &QPushButton::clicked, this, [this] { solve(false); });
    connect(some_, &QPushButton::clicked, this, [this] { solve(true); });
    connect(take_, &QPushButton::clicked, this, &LanesPage::take);
    connect(add_, &QPushButton::clicked, this, &LanesPage::add);
    connect(remove_, &QPushButton::clicked, this, &LanesPage::remove);
    connect(peg_, &QPushButton::clicked, this, &LanesPage::turn_peg);
    connect(off_, &QPushButton::clicked, this, &LanesPage::turn_off);
    connect(list_, &QTreeWidget::currentItemChanged, this, [this] {
        if (!filling_) go_to_link();
    });
    connect(conflict_, &QTreeWidget::itemActivated, this, [this](QTreeWidgetItem* item) {
        auto relax = relax_;
        relax.insert(item->data(0, Qt::UserRole).toString().toStdString());
        ask(relax, {});
    });
    connect(block_, &QComboBox::activated, this, [this] { draw_it(); });
    connect(chart_, &LaneChart::spot_chosen, this, &LanesPage::move_to);
    connect(chart_, &LaneChart::pin_chosen, this, [this](const QString& pin) {
        desk_.select({QStringLiteral("pin"), pin});
    });
}

std::vector<LaneLink> LanesPage::links() const {
    std::vector<LaneLink> out;
    for (const auto& line : desk_.session().project().links) out.push_back(link_of(line));
    return out;
}

QString LanesPage::selected() const {
    return list_->currentItem() ? list_->currentItem()->text(0) : QString();
}

void LanesPage::refresh() {
    QString now;
    for (const auto& line : desk_.session().project().links) now += q(line) + QLatin1Char('\n');
    if (now != shown_) {
        answer_.reset();
        conflict_->clear();
        spots_.clear();
    }
    shown_ = now;
    const auto current = selected();
    filling_ = true;
    list_->clear();
    for (const auto& i : links()) {
        auto* row = new QTreeWidgetItem(
            list_,
            {q(i.name), tr("%1 × %2 Gbit/s, %3 MHz, %4").arg(i.lanes).arg(i.gbps).arg(i.clock_mhz).arg(q(i.protocol)),
             state_words(i.state), q(list_names(i.at, 8))});
        for (int c = 0; c < 4; ++c) row->setToolTip(c, row->text(c));
        if (q(i.name) == current) list_->setCurrentItem(row);
    }
    if (!list_->currentItem() && list_->topLevelItemCount() > 0) list_->setCurrentItem(list_->topLevelItem(0));
    filling_ = false;
    conflict_->setVisible(conflict_->topLevelItemCount() > 0);
    take_->setEnabled(answer_ && answer_->solved);
    if (desk_.session().world().part.lane_blocks.empty())
        says_->setText(tr("This part has no lanes."));
    else if (!answer_)
        says_->setText(list_->topLevelItemCount() == 0
                           ? tr("No link is asked for yet. Add one: name, protocol, lanes, Gbit/s, MHz.")
                           : tr("Legal spots of the chosen link are marked; click one to put it there, loose."));
    fill_blocks();
    draw_it();
    ask_spots();
}

void LanesPage::fill_blocks() {
    const auto& blocks = desk_.session().world().part.lane_blocks;
    QStringList names;
    for (const auto& b : blocks) names << q(b.name);
    QStringList now;
    for (int i = 0; i < block_->count(); ++i) now << block_->itemText(i);
    if (names != now) {
        block_->clear();
        block_->addItems(names);
    }
    block_->setVisible(blocks.size() > 1);
    // The chosen link is to be seen, wherever it lies.
    for (const auto& link : links())
        if (q(link.name) == selected() && !link.at.empty())
            for (size_t b = 0; b < blocks.size(); ++b)
                for (const auto& lane : blocks[b].lanes)
                    if (lane.name == link.at.front()) block_->setCurrentIndex(static_cast<int>(b));
}

const LaneBlock* LanesPage::block() const {
    const auto& blocks = desk_.session().world().part.lane_blocks;
    if (blocks.empty()) return nullptr;
    const auto at = static_cast<size_t>(std::max(0, block_->currentIndex()));
    return &blocks[std::min(at, blocks.size() - 1)];
}

void LanesPage::draw_it() {
    chart_->show_block(block(), links(), answer_, spots_, selected());
}

void LanesPage::go_to_link() {
    if (!selected().isEmpty()) desk_.select({QStringLiteral("link"), selected()});
    fill_blocks();
    ask_spots();
}

void LanesPage::ask_spots() {
    const auto name = selected().toStdString();
    if (name.empty() || !desk_.has_session() || desk_.session().world().part.lane_blocks.empty()) return;
    using Spots = std::vector<LaneSpot>;
    desk_.later<Spots>(
        "spots", this,
        [list = links(), name](const std::shared_ptr<const Snapshot>& now, const std::stop_token&) {
            auto answer = place_lanes(now->world->part, {list, {}, name, {}, &now->world->board});
            return answer ? answer.value().spots : Spots{};
        },
        [this](const Spots& spots) {
            spots_ = spots;
            draw_it();
        });
}

void LanesPage::solve(bool only_selected) {
    if (only_selected && selected().isEmpty()) return desk_.say(tr("Choose a link first."), true);
    ask({}, only_selected ? std::set<std::string>{selected().toStdString()} : std::set<std::string>{});
}

void LanesPage::ask(const std::set<std::string>& relax, const std::set<std::string>& only) {
    if (!desk_.has_session()) return;
    relax_ = relax;
    says_->setText(tr("looking for places …"));
    desk_.later<Result<LaneAnswer>>(
        "lanes", this,
        [list = links(), relax, only](const std::shared_ptr<const Snapshot>& now, const std::stop_token&) {
            return place_lanes(now->world->part, {list, relax, "", only, &now->world->board});
        },
        [this, relax](const Result<LaneAnswer>& answer) { show_answer(answer, relax); });
}

void LanesPage::show_answer(const Result<LaneAnswer>& answer, const std::set<std::string>&) {
    if (!answer) return says_->setText(q(answer.first().text));
    answer_ = answer.value();
    conflict_->clear();
    for (const auto& f : answer_->conflict) {
        auto* row = new QTreeWidgetItem(conflict_, {q(f.text), q(f.relax)});
        row->setData(0, Qt::UserRole, q(f.id));
        for (int c = 0; c < 2; ++c) row->setToolTip(c, row->text(c));
    }
    conflict_->setVisible(!answer_->conflict.empty());
    if (answer_->conflict.size() > 0) conflict_->setCurrentItem(conflict_->topLevelItem(0));
    says_->setText(!answer_->solved ? tr("No legal placement: %1 in conflict, dropping any one resolves it. Return on "
                                         "one excludes it.")
                                          .arg(counted(static_cast<int>(answer_->conflict.size()), "fact"))
                                    : tr("%1 placed, %2 of the loose moved.%3")
                                          .arg(answer_->placed.size())
                                          .arg(answer_->moved)
                                          .arg(answer_->left_adrift.empty()
                                                   ? QString()
                                                   : tr(" Left adrift: %1.").arg(q(list_names(answer_->left_adrift)))));
    take_->setEnabled(answer_->solved);
    draw_it();
}

void LanesPage::keep(const std::vector<LaneLink>& list, const std::string& title) {
    std::vector<std::string> lines;
    for (const auto& i : list) lines.push_back(line_of(i));
    Edit edit{title, {}};
    auto change = set_field(desk_.session().project(), "links", lines_of(lines));
    if (change.before == change.after) return;
    edit.changes.emplace_back(std::move(change));
    desk_.apply(edit);
}

void LanesPage::take() {
    if (!answer_ || !answer_->solved) return desk_.say(tr("Solve them first."), true);
    const auto edit = lanes_edit(desk_.session().project(), *answer_, relax_);
    if (edit.empty()) return desk_.say(tr("They are placed there already."));
    if (desk_.apply(edit)) desk_.say(tr("Taken, loose. Ctrl+Z undoes it."));
}

void LanesPage::add() {
    if (!desk_.has_session()) return;
    std::vector<Chooser::Item> items;
    const auto take = [this](const QString& typed) {
        const auto words = typed.split(QLatin1Char(' '), Qt::SkipEmptyParts);
        bool good[3] = {false, false, false};
        LaneLink i;
        if (words.size() >= 5) {
            i.name = words[0].toStdString();
            i.protocol = words.mid(1, words.size() - 4).join(QLatin1Char(' ')).toStdString();
            i.lanes = words[words.size() - 3].toInt(&good[0]);
            i.gbps = words[words.size() - 2].toDouble(&good[1]);
            i.clock_mhz = words[words.size() - 1].toDouble(&good[2]);
        }
        if (!good[0] || !good[1] || !good[2] || i.lanes < 1 || i.lanes > 1000 || !(i.gbps > 0) || !(i.clock_mhz > 0))
            return desk_.say(tr("A link is: name, protocol, lanes, Gbit/s, MHz, such as: link raw 8b/10b 2 2.5 125"),
                             true);
        auto list = links();
        for (const auto& other : list)
            if (other.name == i.name) return desk_.say(tr("There is a link %1 already.").arg(words[0]), true);
        list.push_back(i);
        keep(list, "add the link " + i.name);
    };
    for (const auto& block : desk_.session().world().part.lane_blocks)
        for (const auto& engine : block.engines)
            for (const auto& protocol : engine.protocols)
                items.push_back({q(protocol), tr("engine %1").arg(q(engine.name)), [] {}});
    desk_.choose(tr("name, protocol, lanes, Gbit/s, MHz"), std::move(items), take);
}

void LanesPage::remove() {
    auto list = links();
    const auto name = selected().toStdString();
    if (name.empty()) return desk_.say(tr("Choose a link first."), true);
    std::erase_if(list, [&](const LaneLink& i) { return i.name == name; });
    keep(list, "remove the link " + name);
}

void LanesPage::turn_peg() {
    auto list = links();
    const auto name = selected().toStdString();
    for (auto& i : list) {
        if (i.name != name) continue;
        if (i.at.empty()) return desk_.say(tr("It is not placed yet; solve it first."), true);
        i.state = i.state == State::pegged ? State::loose : State::pegged;
        return keep(list, (i.state == State::pegged ? "peg " : "loosen ") + name);
    }
    desk_.say(tr("Choose a link first."), true);
}

void LanesPage::turn_off() {
    auto list = links();
    const auto name = selected().toStdString();
    for (auto& i : list) {
        if (i.name != name) continue;
        if (i.state != State::pegged && i.state != State::off)
            return desk_.say(tr("Only a pegged link can be excluded."), true);
        i.state = i.state == State::off ? State::pegged : State::off;
        return keep(list, (i.state == State::off ? "exclude the peg of " : "include the peg of ") + name);
    }
    desk_.say(tr("Choose a link first."), true);
}

/// The whole chain moves: lanes, engine, crossings and clock go along when it is placed.
void LanesPage::move_to(int lane) {
    auto list = links();
    const auto name = selected().toStdString();
    const auto* shown = block();
    if (!shown) return;
    for (auto& i : list) {
        if (i.name != name) continue;
        i.at.clear();
        for (int l = lane; l < lane + i.lanes && l < static_cast<int>(shown->lanes.size()); ++l)
            i.at.push_back(shown->lanes[static_cast<size_t>(l)].name);
        if (i.state == State::adrift || i.state == State::off) i.state = State::loose;
        return keep(list, "move " + name + " to " + i.at.front());
    }
}

}  // namespace kp::app
