// SPDX-License-Identifier: GPL-3.0-or-later
// The lenses of Tempo with forms of one clock and of one port's delays, and the matrix of clocks.
#include "app/tempo/tempo_station.hpp"

#include "app/tempo/budget_lens.hpp"
#include "app/tempo/clock_chart.hpp"
#include "app/tempo/command_lens.hpp"
#include "app/tempo/draft_lens.hpp"
#include "app/tempo/find_bar.hpp"
#include "app/shell/ask_files.hpp"
#include "app/tempo/recipe_lens.hpp"
#include "app/shell/counted.hpp"
#include "app/tempo/sdc_editor.hpp"
#include "app/theme/text.hpp"
#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/base/names.hpp"
#include "core/base/output.hpp"
#include "core/clocks/period_text.hpp"
#include "core/format/sdc/as_used.hpp"
#include "core/format/sdc/table.hpp"
#include "core/constraints/budget_edits.hpp"
#include "core/constraints/clock_matrix.hpp"
#include "core/constraints/forms.hpp"
#include <QComboBox>
#include <QFormLayout>
#include <QFrame>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>
#include <QTabBar>
#include <QTableWidget>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <map>
#include <cmath>

namespace kp::app {

namespace {
/// What is being typed is newer than what is known.
void show_in(QLineEdit* field, const QString& text) {
    if (!field->isModified() && field->text() != text) field->setText(text);
}
}  // namespace

QWidget* TempoStation::make_clock_lens() {
    auto* page = new QWidget;
    auto* box = new QVBoxLayout(page);
    box->setContentsMargins(14, 6, 14, 6);
    auto* form = new QFormLayout;
    form->setVerticalSpacing(4);
    box->addLayout(form);
    clock_port_ = new QComboBox;
    clock_port_->setObjectName("tempo.clock.port");
    period_ = new QLineEdit;
    period_->setObjectName("tempo.clock.period");
    duty_ = new QLineEdit;
    duty_->setObjectName("tempo.clock.duty");
    board_clock_ = new QLabel;
    board_clock_->setWordWrap(true);
    board_clock_->setProperty("role", "second");
    auto* take = new QPushButton(tr("Write the clock"));
    take->setObjectName("tempo.clock.write");
    take->setProperty("primary", true);
    form->addRow(tr("source port"), clock_port_);
    form->addRow(tr("period"), period_);
    period_->setToolTip(tr("ns, or with a unit: 41.667, 24 MHz, 125/3"));
    period_words_ = new QLabel;
    period_words_->setObjectName("tempo.clock.period_words");
    form->addRow(QString(), period_words_);
    connect(period_, &QLineEdit::textChanged, this, [this](const QString& text) {
        const auto period = clocks::period_of(text.toStdString());
        period_words_->setText(period ? q(clocks::both_numbers(*period)) : QString());
    });
    form->addRow(tr("duty cycle, %"), duty_);
    form->addRow(board_clock_);
    form->addRow(take);
    make_matrix(box);
    connect(clock_port_, &QComboBox::currentTextChanged, this, [this] {
        if (filling_) return;
        for (auto* field : {period_, duty_}) field->setModified(false);  // they speak of another port now
        fill_forms();
    });
    const auto write = [this] {
        if (!desk_.has_session()) return;
        const auto period = clocks::period_of(period_->text().toStdString());
        const auto duty = to_number(duty_->text().toStdString());
        if (!period || !duty)
            return desk_.say(tr("A period is a time, a frequency or a fraction of ns (41.667, 24 MHz, 125/3); a duty "
                                "cycle is a number of percent."),
                             true);
        // No more digits than anybody reads: a femtosecond is the smallest step that counts.
        write_clock(clock_port_->currentText().toStdString(), std::round(*period * 1e6) / 1e6, *duty);
    };
    connect(take, &QPushButton::clicked, this, write);
    connect(period_, &QLineEdit::returnPressed, this, write);
    return page;
}

/// How the clocks stand to each other, below the form of one.
void TempoStation::make_matrix(QVBoxLayout* box) {
    matrix_ = new QTableWidget;
    matrix_->setObjectName("tempo.matrix");
    matrix_->setAccessibleName(tr("From each clock, by row, to each, by column"));
    matrix_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    matrix_->verticalHeader()->setDefaultSectionSize(22);
    matrix_->setShowGrid(false);
    matrix_->setCornerButtonEnabled(false);
    matrix_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    box->addWidget(matrix_);
    pair_ = new QLabel;
    pair_->setObjectName("tempo.matrix.pair");
    pair_->setWordWrap(true);
    pair_->setProperty("role", "second");
    box->addWidget(pair_);
    box->addStretch(1);
    connect(matrix_, &QTableWidget::currentCellChanged, this, [this](int row, int column) {
        if (filling_ || !desk_.has_session()) return;
        const auto pairs = clock_matrix(desk_.session().analysis());
        const auto at = static_cast<size_t>(row * matrix_->columnCount() + column);
        if (row < 0 || column < 0 || at >= pairs.size()) return;
        const auto& pair = pairs[at];
        const auto& clocks = desk_.session().analysis().constraints().clocks;
        pair_->setText(tr("From %1 to %2: %3.%4")
                           .arg(q(clocks[pair.from].name), q(clocks[pair.to].name), q(words_of(pair)),
                                pair.proposal.empty() ? QString() : tr(" Enter writes: %1").arg(q(pair.proposal))));
        if (!pair.file.empty())
            desk_.select({QStringLiteral("line"), QStringLiteral("%1:%2").arg(q(pair.file)).arg(pair.line)});
    });
    connect(matrix_, &QTableWidget::cellActivated, this, [this](int row, int column) {
        const auto pairs = clock_matrix(desk_.session().analysis());
        const auto at = static_cast<size_t>(row * matrix_->columnCount() + column);
        if (at < pairs.size() && !pairs[at].proposal.empty())
            desk_.apply(add_line(desk_.session(), pairs[at].proposal, "separate two clocks",
                                 desk_.session().analysis().constraints().clocks[pairs[at].to].name));
    });
}

QWidget* TempoStation::make_delay_lens() {
    auto* page = new QWidget;
    auto* box = new QVBoxLayout(page);
    box->setContentsMargins(14, 8, 14, 6);
    delays_ = new QTreeWidget;
    delays_->setObjectName("tempo.delays");
    delays_->setHeaderLabels({tr("port"), tr("earliest, ns"), tr("latest, ns"), tr("defined in")});
    delays_->setRootIsDecorated(false);
    for (const int c : {1, 2}) delays_->headerItem()->setTextAlignment(c, Qt::AlignRight | Qt::AlignVCenter);
    box->addWidget(delays_, 1);
    auto* line = new QHBoxLayout;
    delay_port_ = new QComboBox;
    delay_port_->setObjectName("tempo.delay.port");
    earliest_ = new QLineEdit;
    earliest_->setObjectName("tempo.delay.earliest");
    earliest_->setPlaceholderText(tr("earliest"));
    latest_ = new QLineEdit;
    latest_->setObjectName("tempo.delay.latest");
    latest_->setPlaceholderText(tr("latest"));
    auto* take = new QPushButton(tr("Write"));
    take->setObjectName("tempo.delay.write");
    take->setProperty("primary", true);
    line->addWidget(delay_port_, 3);
    line->addWidget(earliest_, 2);
    line->addWidget(latest_, 2);
    line->addWidget(take);
    box->addLayout(line);
    delay_origin_ = new QLabel;
    delay_origin_->setProperty("role", "second");
    delay_origin_->setWordWrap(true);
    box->addWidget(delay_origin_);
    connect(delays_, &QTreeWidget::currentItemChanged, this, [this](QTreeWidgetItem* item) {
        if (item && !filling_) delay_port_->setCurrentText(item->text(0));
    });
    connect(delay_port_, &QComboBox::currentTextChanged, this, [this] {
        if (filling_) return;
        for (auto* field : {earliest_, latest_}) field->setModified(false);
        fill_forms();
    });
    connect(take, &QPushButton::clicked, this, [this] {
        if (desk_.has_session()) write_delays(true);
    });
    return page;
}

/// A form speaks of the analysis of the text as it is, so it waits for that.
void TempoStation::write_clock(const std::string& port, double period, double duty) {
    desk_.when_analysed([this, port, period, duty] {
        const auto edit = clock_form(desk_.session(), port, period, duty);
        if (!edit) return desk_.say(q(edit.first().text), true);
        for (auto* field : {period_, duty_}) field->setModified(false);
        desk_.apply(edit.value());
    });
}

/// The latest first; the earliest goes into the text that has it, when that was read.
void TempoStation::write_delays(bool late) {
    auto* field = late ? latest_ : earliest_;
    const auto go_on = [this, late] {
        if (late) write_delays(false);
    };
    if (!field->isModified() || field->text().isEmpty()) return go_on();
    const auto value = to_number(field->text().toStdString());
    if (!value) return desk_.say(tr("A delay is a number of ns, such as 4.5."), true);
    desk_.when_analysed([this, field, late, value, go_on, port = delay_port_->currentText().toStdString()] {
        const auto edit = delay_form(desk_.session(), port, late, *value);
        if (!edit) return desk_.say(q(edit.first().text), true);
        field->setModified(false);
        if (desk_.apply(edit.value())) go_on();
    });
}

void TempoStation::fill_forms() {
    filling_ = true;
    fill_port_choices();
    fill_clock_form();
    fill_matrix();
    fill_delays();
    show_wiring();
    filling_ = false;
}

void TempoStation::fill_port_choices() {
    const auto& s = desk_.session();
    const auto& c = s.analysis().constraints();
    const auto& ports = s.world().netlist.ports;
    if (clock_port_->count() > 0 && delay_port_->count() == static_cast<int>(ports.size())) return;
    clock_port_->clear();
    delay_port_->clear();
    QStringList all, inputs;
    for (const auto& port : ports) {
        if (port.direction != Direction::out) inputs << q(port.name);
        all << q(port.name);
    }
    clock_port_->addItems(inputs);
    delay_port_->addItems(all);
    if (!c.clocks.empty() && !c.clocks[0].sources.empty() && c.clocks[0].sources[0].kind == ObjectKind::port)
        clock_port_->setCurrentText(q(ports[c.clocks[0].sources[0].id].name));
}

const Oscillator* TempoStation::oscillator() const {
    const auto* seat = desk_.session().plan().seat(clock_port_->currentText().toStdString());
    return seat && seat->peg ? desk_.session().world().board.oscillator_at_pin(seat->on) : nullptr;
}

void TempoStation::fill_clock_form() {
    const auto& s = desk_.session();
    const auto& ports = s.world().netlist.ports;
    const auto port = clock_port_->currentText().toStdString();
    QString period, duty = QStringLiteral("50");
    for (const auto& clock : s.analysis().constraints().clocks)
        for (const auto& o : clock.sources)
            if (o.kind == ObjectKind::port && ports[o.id].name == port) {
                period = q(shortest(clock.period));
                duty = q(shortest(std::round(1000.0 * (clock.waveform[1] - clock.waveform[0]) / clock.period) / 10));
            }
    if (const auto* from = oscillator(); period.isEmpty() && from) period = q(shortest(1000 / from->mhz));
    show_in(period_, period);
    show_in(duty_, duty);
}

/// What the board says of the two ports that the forms speak of.
void TempoStation::show_wiring() {
    const auto* from = oscillator();
    board_clock_->setText(
        from ? tr("The board's oscillator %1 has %2 MHz: %3 ns, ± %4 ppm, %5.")
                   .arg(q(from->terminal), q(shortest(from->mhz)), q(shortest(1000 / from->mhz)))
                   .arg(from->ppm)
                   .arg(from->knows_duty()
                            ? tr("duty cycle %1 to %2 %").arg(from->duty_percent[0]).arg(from->duty_percent[1])
                            : tr("duty cycle not given"))
             : tr("The board has no oscillator on this port's pin."));
    const auto* seat = desk_.session().plan().seat(delay_port_->currentText().toStdString());
    delay_origin_->setText(
        seat && seat->at
            ? tr("On the board: %1, trace %2 mm.").arg(q(seat->at.net->terminal), q(fixed(seat->at.net->trace_mm, 1)))
            : tr("Not on the board yet."));
}

void TempoStation::fill_matrix() {
    const auto& clocks = desk_.session().analysis().constraints().clocks;
    const auto pairs = clock_matrix(desk_.session().analysis());
    const int n = static_cast<int>(clocks.size());
    matrix_->setRowCount(n);
    matrix_->setColumnCount(n);
    QStringList names;
    for (const auto& c : clocks) names << q(c.name);
    matrix_->setHorizontalHeaderLabels(names);
    matrix_->setVerticalHeaderLabels(names);
    const auto& t = theme();
    for (const auto& p : pairs) {
        // A word or a number in each cell, so that colour does not stand alone.
        QString text;
        QColor ink = t.ink;
        switch (p.kind) {
            case ClockPair::Kind::same:
            case ClockPair::Kind::related: text = q(shortest(std::round((p.capture - p.launch) * 1e3) / 1e3)); break;
            case ClockPair::Kind::synchronised: text = tr("%1 sync").arg(p.synchronised), ink = t.caution; break;
            case ClockPair::Kind::open: text = tr("%1 open").arg(p.open), ink = t.stop; break;
            case ClockPair::Kind::excluded: text = tr("out"), ink = t.second; break;
            case ClockPair::Kind::never: text = QStringLiteral("·"), ink = t.second; break;
        }
        auto* item = new QTableWidgetItem(text);
        item->setForeground(ink);
        item->setFont(mono(12));
        item->setTextAlignment(Qt::AlignCenter);
        item->setToolTip(q(words_of(p)));
        matrix_->setItem(static_cast<int>(p.from), static_cast<int>(p.to), item);
    }
    matrix_->setMaximumHeight(34 + 22 * std::min(n, 24));
    matrix_->setVisible(n > 0);
}

void TempoStation::fill_delays() {
    const auto& c = desk_.session().analysis().constraints();
    const auto& ports = desk_.session().world().netlist.ports;
    struct Sides {
        QString side[2], place;
    };
    std::vector<Sides> sides(ports.size());
    for (const auto& d : c.io_delays) {
        if (d.port >= ports.size()) continue;
        auto& s = sides[d.port];
        if (d.early) s.side[0] = q(fixed(d.value, 3));
        if (d.late) s.side[1] = q(fixed(d.value, 3));
        s.place = QStringLiteral("%1:%2").arg(q(c.files[static_cast<size_t>(d.span.file)])).arg(d.span.line);
    }
    std::vector<Row> rows;
    rows.reserve(ports.size());
    const auto dress = [face = mono(12)](QTreeWidgetItem* item) {
        if (item->font(0) == face) return;
        for (const int column : {1, 2}) item->setTextAlignment(column, Qt::AlignRight | Qt::AlignVCenter);
        for (const int column : {0, 1, 2}) item->setFont(column, face);
    };
    for (size_t i = 0; i < ports.size(); ++i) {
        const auto name = q(ports[i].name);
        rows.push_back({name, {name, sides[i].side[0], sides[i].side[1], sides[i].place}, dress});
        if (delay_port_->currentText() != name) continue;
        show_in(earliest_, sides[i].side[0]);
        show_in(latest_, sides[i].side[1]);
    }
    sync_rows(delays_, rows);
    delays_->setCurrentItem(row_with(delays_, delay_port_->currentText()));
    delays_->header()->setStretchLastSection(true);
    delays_->setColumnWidth(0, 120);
}

}  // namespace kp::app
