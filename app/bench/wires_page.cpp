// SPDX-License-Identifier: GPL-3.0-or-later
// Everything goes through the chip's access port (BoundaryTester): what is shown was shifted out. State: driven
// pins live in the tester, SVF results in the list.
#include "app/bench/wires_page.hpp"

#include "app/shell/ask_files.hpp"
#include "app/shell/counted.hpp"
#include "app/shell/wrapping.hpp"
#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "core/base/disk.hpp"
#include "core/jtag/own_image.hpp"
#include "core/jtag/svf.hpp"
#include "core/jtag/wire_test.hpp"
#include "core/model/proof_notes.hpp"

#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <random>

namespace kp::app {

namespace {

/// What the boundary register captured, and what that is worth.
QString read_text(std::optional<bool> captured, Level level) {
    if (!captured) return {};
    const auto bit = *captured ? QStringLiteral("1") : QStringLiteral("0");
    return level == Level::conflict   ? WiresPage::tr("%1, conflict").arg(bit)
           : level == Level::floating ? WiresPage::tr("%1, floats").arg(bit)
                                      : bit;
}

/// Faults that a hand, a whisker or a wrong drill makes, the same for the same seed.
std::vector<WireFault> some_faults(int kind, size_t wires, unsigned seed) {
    std::mt19937 random(seed);
    std::vector<size_t> order(wires);
    for (size_t i = 0; i < wires; ++i) order[i] = i;
    std::shuffle(order.begin(), order.end(), random);
    std::vector<WireFault> out;
    static const WireFault::Kind kinds[] = {WireFault::open, WireFault::short_and, WireFault::swap};
    for (int k = 0; k < 3 && wires >= 6; ++k)
        if (kind == k + 1 || kind == 4) {
            const auto a = order[static_cast<size_t>(2 * k)], b = order[static_cast<size_t>(2 * k + 1)];
            out.push_back({kinds[k], kinds[k] == WireFault::open ? a : std::min(a, b),
                           kinds[k] == WireFault::open ? 0 : std::max(a, b)});
        }
    return out;
}

}  // namespace

WiresPage::WiresPage(Desk& desk)
    : desk_(desk),
      faults_(new QComboBox),
      test_(new QPushButton(tr("Test all wires"))),
      high_(new QPushButton(tr("Drive 1"))),
      low_(new QPushButton(tr("Drive 0"))),
      off_(new QPushButton(tr("Release"))),
      play_(new QPushButton(tr("Play SVF…"))),
      write_(new QPushButton(tr("Write SVF…"))),
      pins_(new QTreeWidget),
      results_(new QTreeWidget) {
    pins_->setObjectName("bench.pins");
    pins_->setAccessibleName(tr("Pins with a wire on the board"));
    pins_->setHeaderLabels({tr("pin"), tr("wire"), tr("driven"), tr("read")});
    results_->setObjectName("bench.wires.results");
    results_->setHeaderHidden(true);
    for (auto* tree : {pins_, results_}) {
        tree->setRootIsDecorated(false);
        tree->setUniformRowHeights(true);
        tree->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    }
    wrap_rows(*results_);
    faults_->setObjectName("bench.wires.faults");
    faults_->setAccessibleName(tr("What is wrong with the wires of the simulated board"));
    faults_->addItems({tr("the board is good"), tr("one wire open"), tr("two wires shorted"), tr("two wires crossed"),
                       tr("one of each")});
    test_->setObjectName("bench.wires.test");
    const std::pair<QPushButton*, const char*> names[] = {{high_, "bench.pins.high"},
                                                          {low_, "bench.pins.low"},
                                                          {off_, "bench.pins.off"},
                                                          {play_, "bench.svf.play"},
                                                          {write_, "bench.svf.write"}};
    for (const auto& [button, name] : names) {
        button->setObjectName(QLatin1String(name));
        button->setProperty("small", true);
    }
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 6, 0, 0);
    all->setSpacing(5);
    all->addWidget(pins_, 3);
    auto* row = new QHBoxLayout;
    for (auto* button : {low_, high_, off_}) row->addWidget(button);
    all->addLayout(row);
    auto* test = new QHBoxLayout;
    test->addWidget(faults_, 1);
    test->addWidget(test_);
    all->addLayout(test);
    all->addWidget(results_, 2);
    auto* svf = new QHBoxLayout;
    svf->addWidget(play_);
    svf->addWidget(write_);
    svf->addStretch(1);
    all->addLayout(svf);
    connect(high_, &QPushButton::clicked, this, [this] { drive(board_sim::Drive::high); });
    connect(low_, &QPushButton::clicked, this, [this] { drive(board_sim::Drive::low); });
    connect(off_, &QPushButton::clicked, this, [this] { drive(board_sim::Drive::off); });
    connect(test_, &QPushButton::clicked, this, &WiresPage::test_wires);
    connect(write_, &QPushButton::clicked, this, &WiresPage::write_svf_file);
    connect(play_, &QPushButton::clicked, this, [this] {
        const auto path = ask_file(this, tr("An SVF file"), q(desk_.session().document().folder()), tr("SVF (*.svf)"));
        if (!path.isEmpty()) play(path.toStdString());
    });
}

void WiresPage::show_table(board_sim::BoardModel* model) {
    tester_.reset();
    model_ = model;
    pins_->clear();
    results_->clear();
    found_.clear();
    if (!desk_.has_session()) return;
    if (model_) tester_ = std::make_unique<jtag::BoundaryTester>(*model_, desk_.session().world().part);
    for (const auto& net : desk_.session().world().board.nets)
        new QTreeWidgetItem(pins_, {q(net.pin), q(net.terminal)});
    pins_->setColumnWidth(0, 46);
    pins_->setColumnWidth(1, 108);
    pins_->setColumnWidth(2, 54);
    if (pins_->topLevelItemCount()) pins_->setCurrentItem(pins_->topLevelItem(0));
    look();
}

void WiresPage::look() {
    if (!tester_ || !isVisible()) return;
    tester_->read();
    for (int i = 0; i < pins_->topLevelItemCount(); ++i) {
        auto* item = pins_->topLevelItem(i);
        const auto pin = item->text(0).toStdString();
        const auto driven = tester_->driven(pin);
        const auto text = driven == board_sim::Drive::off    ? QString()
                          : driven == board_sim::Drive::high ? tr("1")
                                                             : tr("0");
        if (item->text(2) != text) item->setText(2, text);
        const auto read = read_text(tester_->captured(pin), model_->level_at_pin(pin));
        if (item->text(3) != read) item->setText(3, read);
    }
}

void WiresPage::drive(board_sim::Drive drive) {
    auto* item = pins_->currentItem();
    if (!tester_ || !item) return desk_.say(tr("Choose a pin first."), true);
    if (!tester_->drive(item->text(0).toStdString(), drive))
        return desk_.say(tr("Pin %1 is not a user pin: it has no boundary cell.").arg(item->text(0)), true);
    look();
}

void WiresPage::test_wires() {
    if (!desk_.has_session()) return;
    const auto wires = wires_of(desk_.session().world().board);
    results_->clear();
    if (wires.empty()) {
        new QTreeWidgetItem(results_, {tr("The board has no wire that the chip could drive.")});
        return;
    }
    const auto faults = some_faults(faults_->currentIndex(), wires.size(), seed_++);
    const auto driven = counting_patterns(wires.size());
    const auto tested = jtag::test_wires(desk_.session().world().part, wires, driven, faults);
    found_ = tested.faults;
    new QTreeWidgetItem(results_, {tr("%1, %2, %3 shifted through the boundary register, simulated")
                                       .arg(counted(wires.size(), "wire"), counted(driven.size(), "pattern"),
                                            counted(tested.bits, "bit"))});
    for (const auto& f : found_) {
        auto* item = new QTreeWidgetItem(results_, {QStringLiteral("■ ") + q(sentence_of(f, wires))});
        item->setForeground(0, theme().stop);
        item->setToolTip(0, item->text(0));
    }
    if (found_.empty())
        (new QTreeWidgetItem(results_, {tr("All wires answer as they should.")}))->setForeground(0, theme().good);
}

void WiresPage::play(const std::string& path) {
    const auto text = real_disk().read(path, std::size_t{256} << 20);
    if (!text) return desk_.say(q(text.first().sentence()), true);
    const auto& part = desk_.session().world().part;
    SimulatedChip chip(part.idcode, static_cast<size_t>(part.usable_pins()));
    ScanChain chain(chip, {});
    const auto steps = play_svf(text.value(), path, chain);
    if (!steps) return desk_.say(q(steps.first().sentence()), true);
    results_->clear();
    constexpr size_t most = 2000;
    size_t wrong = 0;
    for (size_t i = 0; i < steps.value().size(); ++i) {
        const auto& s = steps.value()[i];
        wrong += !s.ok;
        if (i >= most && s.ok) continue;
        auto* item = new QTreeWidgetItem(
            results_, {tr("line %1 %2%3")
                           .arg(s.line)
                           .arg(q(s.command), s.tdo ? QStringLiteral(" → ") + q(s.tdo->substr(0, 24)) : QString())});
        if (!s.ok) {
            item->setForeground(0, theme().stop);
            item->setToolTip(0, q(s.why));
        }
    }
    desk_.say(
        wrong ? tr("%1 of the SVF gave other bits than it expects.").arg(counted(static_cast<int>(wrong), "step"))
              : tr("%1 of the SVF played as expected.").arg(counted(static_cast<int>(steps.value().size()), "step")),
        wrong > 0);
}

void WiresPage::write_svf_file() {
    const auto path =
        ask_where_to_save(this, tr("Where the SVF goes"),
                          q(desk_.session().document().folder()) + QStringLiteral("/load.svf"), tr("SVF (*.svf)"));
    if (path.isEmpty()) return;
    const auto& w = desk_.session().world();
    const auto& p = desk_.session().project();
    const auto image = own_image(w.part, p, w.netlist.top, image_origin(p, digest_of_netlist(w.netlist)));
    if (const auto status = replace_file(real_disk(), path.toStdString(), write_svf(image, w.part.idcode)); !status)
        return desk_.say(q(status.first().sentence()), true);
    desk_.say(tr("Written: loading %1 by SVF.").arg(q(w.netlist.top)));
}

}  // namespace kp::app
