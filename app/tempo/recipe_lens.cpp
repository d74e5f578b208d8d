// SPDX-License-Identifier: GPL-3.0-or-later
// The search runs as a job on exact fractions (core/clocks); the question is kept in the project. State: what is
// being typed, the answer until the question changes.
#include "app/tempo/recipe_lens.hpp"

#include "app/shell/counted.hpp"
#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "core/base/text.hpp"
#include "core/clocks/rates.hpp"
#include "core/constraints/recipes.hpp"

#include <QComboBox>
#include <QGridLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <cmath>

namespace kp::app {

namespace {

QString number(const clocks::Fraction& f, int decimals) {
    return q(fixed(clocks::number_of(f), decimals));
}

std::vector<std::string> words_of(const QString& text) {
    std::vector<std::string> out;
    for (const auto& w : QString(text).replace(QLatin1Char(','), QLatin1Char(' ')).split(' ', Qt::SkipEmptyParts))
        out.push_back(w.toStdString());
    return out;
}

}  // namespace

RecipeLens::RecipeLens(Desk& desk)
    : desk_(desk),
      pll_(new QComboBox),
      in_(new QLineEdit),
      want_(new QLineEdit),
      phase_(new QLineEdit),
      within_(new QLineEdit),
      hz_(new QLineEdit),
      settings_(new QTreeWidget),
      says_(new QLabel),
      old_(new QLabel),
      counter_(new QLabel),
      search_(new QPushButton(tr("Search"))),
      write_(new QPushButton(tr("Write the recipe"))) {
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(14, 8, 14, 6);
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(8);
    const auto field = [&](int row, int column, const QString& label, QWidget* edit, const char* name, int span = 1) {
        auto* word = new QLabel(label);
        word->setBuddy(edit);
        grid->addWidget(word, row, 2 * column);
        grid->addWidget(edit, row, 2 * column + 1, 1, span);
        edit->setObjectName(QLatin1String(name));
        edit->setAccessibleName(label);
    };
    field(0, 0, tr("PLL"), pll_, "tempo.recipe.pll");
    field(0, 1, tr("in, MHz"), in_, "tempo.recipe.in");
    field(1, 0, tr("wanted, MHz"), want_, "tempo.recipe.want");
    field(1, 1, tr("phases, °"), phase_, "tempo.recipe.phase");
    want_->setPlaceholderText(tr("100 125 148.5/1.001"));
    phase_->setPlaceholderText(tr("0 90 0"));
    within_->setPlaceholderText(tr("any"));
    field(2, 0, tr("within, ppm"), within_, "tempo.recipe.within");
    grid->addWidget(search_, 2, 3);
    search_->setObjectName("tempo.recipe.search");
    box->addLayout(grid);
    old_->setWordWrap(true);
    old_->setObjectName("tempo.recipe.old");
    box->addWidget(old_);
    settings_->setObjectName("tempo.recipe.settings");
    settings_->setAccessibleName(tr("Settings, the best first"));
    settings_->setHeaderLabels({tr("PLL"), tr("÷"), tr("×"), tr("VCO"), tr("makes"), tr("off, ppm")});
    settings_->setRootIsDecorated(false);
    for (const auto& [column, width] :
         {std::pair{0, 62}, std::pair{1, 30}, std::pair{2, 34}, std::pair{3, 76}, std::pair{4, 172}})
        settings_->setColumnWidth(column, width);
    box->addWidget(settings_, 1);
    says_->setWordWrap(true);
    says_->setProperty("role", "second");
    says_->setObjectName("tempo.recipe.says");
    auto* row = new QHBoxLayout;
    row->addWidget(says_, 1);
    write_->setObjectName("tempo.recipe.write");
    write_->setProperty("primary", true);
    row->addWidget(write_);
    box->addLayout(row);
    box->addWidget(counters());
    connect_all();
}

void RecipeLens::connect_all() {
    connect(search_, &QPushButton::clicked, this, &RecipeLens::search);
    for (auto* edit : {in_, want_, phase_, within_})
        connect(edit, &QLineEdit::returnPressed, this, &RecipeLens::search);
    connect(write_, &QPushButton::clicked, this, &RecipeLens::write);
    connect(settings_, &QTreeWidget::itemActivated, this, &RecipeLens::write);
    connect(pll_, &QComboBox::currentIndexChanged, this, [this] {
        if (filling_) return;
        in_->setModified(false);
        answer_.reset();
        refresh();
    });
    connect(&desk_, &Desk::opened, this, [this] {
        answer_.reset();
        in_->setModified(false);
        pll_->clear();
        show_answer();
    });
    show_answer();
}

QWidget* RecipeLens::counters() {
    auto* page = new QWidget;
    auto* grid = new QGridLayout(page);
    grid->setContentsMargins(0, 6, 0, 0);
    auto* word = new QLabel(tr("a counter for, Hz"));
    word->setBuddy(hz_);
    hz_->setObjectName("tempo.recipe.hz");
    hz_->setAccessibleName(tr("Frequency that a counter is to make, Hz"));
    hz_->setPlaceholderText(tr("1"));
    hz_->setMaximumWidth(90);
    counter_->setObjectName("tempo.recipe.counter");
    counter_->setWordWrap(true);
    grid->addWidget(word, 0, 0);
    grid->addWidget(hz_, 0, 1);
    grid->setColumnStretch(2, 1);
    grid->addWidget(counter_, 1, 0, 1, 3);
    for (auto* edit : {hz_, in_}) connect(edit, &QLineEdit::textChanged, this, &RecipeLens::show_counters);
    return page;
}

const PllFacts* RecipeLens::cell() const {
    const auto name = pll_->currentData().toString().toStdString();
    for (const auto& p : desk_.session().analysis().design().plls)
        if (p.cell == name) return &p;
    return nullptr;
}

void RecipeLens::refresh() {
    if (!desk_.has_session()) return;
    filling_ = true;
    const auto& s = desk_.session();
    QStringList cells;
    for (const auto& p : s.analysis().design().plls) cells << q(p.cell);
    QStringList now;
    for (int i = 0; i + 1 < pll_->count(); ++i) now << pll_->itemData(i).toString();
    if (now != cells || pll_->count() == 0) {
        const auto before = pll_->currentData();
        pll_->clear();
        for (const auto& name : cells) pll_->addItem(tr("%1 of the design").arg(name), name);
        pll_->addItem(tr("any of the part"), QString());
        pll_->setCurrentIndex(std::max(0, pll_->findData(before)));
    }
    if (!in_->isModified()) {
        double mhz = 0;
        const auto* p = cell();
        const auto& clocks = s.analysis().constraints().clocks;
        // What the board really gives comes before what the text says of it.
        const auto* seat = p && !p->port.empty() ? s.plan().seat(p->port) : nullptr;
        if (const auto* osc = seat ? s.world().board.oscillator_at_pin(seat->on) : nullptr) mhz = osc->mhz;
        if (mhz == 0 && p && p->clock != no_id && clocks[p->clock].period > 0) mhz = 1000 / clocks[p->clock].period;
        if (mhz == 0 && !s.world().board.oscillators.empty()) mhz = s.world().board.oscillators.front().mhz;
        in_->setText(mhz > 0 ? q(shortest(std::round(mhz * 1e6) / 1e6)) : QString());
    }
    filling_ = false;
    show_old();
    show_counters();
    write_->setEnabled(answer_ && !answer_->solutions.empty() && cell());
}

/// Recipes of the text that no longer follow from part, board and netlist.
void RecipeLens::show_old() {
    const auto& s = desk_.session();
    QStringList said;
    for (const auto& r : recipes_of(s.project())) {
        const PllFacts* facts = nullptr;
        for (const auto& p : s.analysis().design().plls)
            if (p.cell == r.cell) facts = &p;
        const auto* seat = facts && !facts->port.empty() ? s.plan().seat(facts->port) : nullptr;
        const auto* osc = seat ? s.world().board.oscillator_at_pin(seat->on) : nullptr;
        if (const auto why = why_old(r, s.world().part, osc ? osc->mhz : 0, facts); !why.empty())
            said << tr("The recipe of %1 (%2:%3) is old: %4.").arg(q(r.cell), q(r.file)).arg(r.line).arg(q(why));
    }
    old_->setText(said.join(QLatin1Char('\n')));
    old_->setVisible(!said.isEmpty());
    old_->setStyleSheet(QStringLiteral("color: %1;").arg(theme().caution.name()));
}

Result<clocks::PllWish> RecipeLens::wish() const {
    clocks::PllWish out;
    auto in = clocks::fraction_of(std::string_view(in_->text().trimmed().toStdString()));
    if (!in) return in.messages();
    out.in = in.take();
    for (const auto& w : words_of(want_->text())) {
        auto f = clocks::fraction_of(std::string_view(w));
        if (!f) return f.messages();
        out.want.push_back(f.take());
    }
    for (const auto& w : words_of(phase_->text())) {
        auto f = clocks::signed_fraction_of(w, "phase in degrees");
        if (!f) return f.messages();
        out.phase.push_back(f.take());
    }
    if (const auto text = within_->text().trimmed().toStdString(); !text.empty()) {
        auto f = clocks::signed_fraction_of(text, "error in ppm");
        if (!f) return f.messages();
        out.within = f.take();
    }
    out.best = 60;
    return out;
}

void RecipeLens::search() {
    if (!desk_.has_session()) return;
    auto asked = wish();
    if (!asked) return desk_.say(q(asked.first().text), true);
    says_->setText(tr("Searching all settings …"));
    desk_.later<Result<clocks::PllAnswer>>(
        "recipe", this,
        [wish = asked.take()](const std::shared_ptr<const Snapshot>& now, const std::stop_token& stop) {
            return clocks::search_pll(now->world->part, wish, stop);
        },
        [this](Result<clocks::PllAnswer> found) {
            answer_.reset();
            if (found) answer_ = found.take();
            show_answer();
            if (!found) says_->setText(q(found.first().text));
        });
}

void RecipeLens::show_answer() {
    settings_->clear();
    write_->setEnabled(answer_ && !answer_->solutions.empty() && desk_.has_session() && cell());
    if (!answer_) {
        says_->setText(tr("Every legal setting of the part's PLLs is tried; the nearest comes first."));
        return;
    }
    for (const auto& s : answer_->solutions) {
        QString makes;
        for (const auto& o : s.outputs)
            makes += (makes.isEmpty() ? QString() : QStringLiteral("  ")) +
                     q(shortest(std::round(clocks::number_of(o.made) * 1e3) / 1e3)) +
                     (o.phase_steps ? QStringLiteral(" (%1°)").arg(number(o.phase_deg, 1)) : QString());
        auto* item = new QTreeWidgetItem(settings_, {q(s.pll), QString::number(s.divide), QString::number(s.multiply),
                                                     number(s.vco, 3), makes, number(s.worst_ppm, 3)});
        for (const int c : {1, 2, 3, 5}) item->setTextAlignment(c, Qt::AlignRight | Qt::AlignVCenter);
        for (int c = 0; c < 6; ++c) item->setFont(c, mono(12));
        item->setToolTip(4, q(result_words(s)));
    }
    settings_->setCurrentItem(settings_->topLevelItem(0));
    QString says = answer_->solutions.empty() ? QString() : tr("%1 legal settings.").arg(q(answer_->legal.str()));
    if (answer_->limit) says += QLatin1Char(' ') + q(clocks::sentence(*answer_->limit));
    if (answer_->beyond && answer_->beyond_limit)
        says += QLatin1Char(' ') +
                tr("%1 ppm would be reached, but: %2")
                    .arg(number(answer_->beyond->worst_ppm, 3), q(clocks::sentence(*answer_->beyond_limit)));
    says_->setText(says.trimmed());
}

void RecipeLens::write() {
    const auto* p = desk_.has_session() ? cell() : nullptr;
    const int at = settings_->indexOfTopLevelItem(settings_->currentItem());
    if (!p || !answer_ || at < 0 || at >= static_cast<int>(answer_->solutions.size())) return;
    const auto& setting = answer_->solutions[static_cast<size_t>(at)];
    Recipe wanted;
    wanted.in = in_->text().trimmed().toStdString();
    wanted.want = words_of(want_->text());
    wanted.phase = words_of(phase_->text());
    const auto edit =
        recipe_edit(desk_.session().project(), *p, desk_.session().analysis().constraints(), setting, wanted);
    if (!edit) return desk_.say(q(edit.first().text), true);
    desk_.apply(edit.value());
}

void RecipeLens::show_counters() {
    const auto mhz = to_number(in_->text().trimmed().toStdString()),
               hz = to_number(hz_->text().trimmed().toStdString());
    if (!mhz || !(*mhz > 0)) return counter_->setText(QString());
    QString text;
    if (hz && *hz > 0 && *hz <= *mhz * 1e6) {
        const auto d = clocks::divider(*mhz, *hz);
        text = tr("Count 0 … %1 (%2): %3 Hz, %4 ppm off; shortened a hundredfold for simulation 0 … %5.")
                   .arg(d.terminal)
                   .arg(counted(d.width, "bit"), q(shortest(std::round(d.hz * 1e6) / 1e6)), q(fixed(d.error_ppm, 2)),
                        q(fixed(d.shortened_terminal, 0)));
        const int bit = clocks::blink_bit(*mhz, *hz);
        const auto b = clocks::counter_bit(*mhz, bit);
        text += QLatin1Char(' ') + tr("Bit %1 of a free counter blinks %2 times a second and toggles %3 times.")
                                       .arg(bit)
                                       .arg(q(fixed(b.cycles_hz, 3)), q(fixed(b.toggles_hz, 3)));
        const auto serial = clocks::baud(*mhz, *hz, 16);
        if (*hz >= 300)
            text += QLatin1Char(' ') +
                    tr("As a serial rate: divide by %1 and 16, %2 % off, the stop bit %3 bits beside its middle.")
                        .arg(serial.divide)
                        .arg(q(fixed(serial.error_percent, 3)), q(fixed(serial.frame_error_bits, 2)));
    }
    QStringList near;
    for (const auto& n : clocks::near_rates(*mhz, 10000)) {
        if (near.size() == 3) break;
        near << tr("%1 (÷ %2, %3 ppm)").arg(QLatin1String(n.rate->what)).arg(n.divide).arg(q(fixed(n.error_ppm, 0)));
    }
    if (!near.isEmpty())
        text += (text.isEmpty() ? QString() : QStringLiteral("\n")) +
                tr("Without a PLL: %1.").arg(near.join(QStringLiteral("; ")));
    counter_->setText(text);
}

}  // namespace kp::app
