// SPDX-License-Identifier: GPL-3.0-or-later
// A proof is a job on a snapshot; its answer is kept with the digests of what it was made from, and shown as old
// when they are other. Records live in the project.
#include "app/bench/proof_page.hpp"

#include "app/shell/ask_files.hpp"
#include "app/shell/counted.hpp"
#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "core/base/local_time.hpp"
#include "core/base/text.hpp"
#include "core/planning/place.hpp"

#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace kp::app {

namespace {

enum Given { vane_alone, all_hand, from_file, by_hand };

std::string port_at(const Session& s, const std::string& terminal) {
    const auto found = s.world().board.at_terminal(terminal);
    if (!found.net) return {};
    for (const auto& [port, peg] : s.project().pegs)
        if (peg.pin == found.net->pin) return port;
    return {};
}

/// A record in few words.
QString told(const ProofNote& note, const std::string& stale) {
    if (!stale.empty()) return ProofPage::tr("○ old: %1").arg(q(stale));
    if (note.differ) return ProofPage::tr("■ %1 differ").arg(note.differ);
    if (note.proven()) return ProofPage::tr("● proven, %1 rows").arg(note.rows);
    return note.open ? ProofPage::tr("▲ %1 not proven").arg(*note.open) : ProofPage::tr("▲ outputs not counted");
}

/// Outputs of one bus that came out alike are one line: "rose_n[7:0]".
struct OutputLine {
    std::string name, why;
    verification::ProvedOutput::State state;
    std::vector<std::string> terminals;
};
std::vector<OutputLine> lines_of(const std::vector<verification::ProvedOutput>& outputs) {
    std::vector<OutputLine> out;
    std::string bus, last;
    for (const auto& o : outputs) {
        const auto open = o.port.find('[');
        const auto own = open == std::string::npos ? std::string() : o.port.substr(0, open);
        const bool joins = !out.empty() && !own.empty() && own == bus && out.back().state == o.state &&
                           (out.back().why == o.why || o.why.empty());
        if (joins) {
            const auto first = out.back().name.find('[');
            out.back().name = bus + out.back().name.substr(first, out.back().name.find_first_of(":]", first) - first) +
                              ":" + o.port.substr(open + 1);
        } else {
            out.push_back({o.port, o.why, o.state, {}});
        }
        if (!o.terminal.empty()) out.back().terminals.push_back(o.terminal);
        bus = own;
    }
    return out;
}

}  // namespace

ProofPage::ProofPage(Desk& desk)
    : desk_(desk),
      given_(new QComboBox),
      against_(new QComboBox),
      formula_(new QLineEdit),
      each_(new QLineEdit(QStringLiteral("1"))),
      before_(new QLineEdit(QStringLiteral("2"))),
      prove_(new QPushButton(tr("Prove"))),
      swap_(new QPushButton(tr("Swap the two pegs"))),
      keep_(new QPushButton(tr("Keep the record"))),
      verdict_(new QLabel),
      hint_(new QLabel),
      outputs_(new QTreeWidget),
      rows_(new QTreeWidget),
      records_(new QTreeWidget) {
    lay_out();
    connect_all();
}

void ProofPage::lay_out() {
    given_->setObjectName("bench.proof.given");
    given_->setAccessibleName(tr("What is given"));
    given_->addItems({tr("the vane, all around"), tr("all input combinations"), tr("a file of vectors…"),
                      tr("recorded manual inputs")});
    given_->setCurrentIndex(all_hand);
    against_->setObjectName("bench.proof.against");
    against_->setAccessibleName(tr("Against what"));
    against_->addItems({tr("netlist as ports are meant"), tr("simulation with delays"), tr("source (HDL)"),
                        tr("formula"), tr("the file's own")});
    formula_->setObjectName("bench.proof.formula");
    formula_->setPlaceholderText(tr("output = expression of inputs"));
    formula_->setAccessibleName(tr("Formulas, ; between them"));
    formula_->hide();
    each_->setObjectName("bench.proof.each");
    each_->setAccessibleName(tr("Board time of a row, microseconds"));
    before_->setObjectName("bench.proof.before");
    before_->setAccessibleName(tr("Board time before the first row, milliseconds"));
    for (auto* line : {each_, before_}) line->setMaximumWidth(56);
    prove_->setObjectName("bench.compare");
    prove_->setProperty("primary", true);
    swap_->setObjectName("bench.swap");
    keep_->setObjectName("bench.keep");
    verdict_->setObjectName("bench.verdict");
    verdict_->setProperty("role", "heading");
    verdict_->setWordWrap(true);
    hint_->setObjectName("bench.hint");
    hint_->setWordWrap(true);
    rows_->setObjectName("bench.table");
    rows_->setHeaderLabels({tr("given"), tr("expected"), tr("board")});
    outputs_->setObjectName("bench.outputs");
    outputs_->setAccessibleName(tr("What is proven of each output"));
    outputs_->setHeaderLabels({tr("output"), tr("proven?"), tr("why")});
    outputs_->setMaximumHeight(128);
    records_->setObjectName("bench.records");
    records_->setHeaderLabels({tr("proved"), tr("by, when")});
    records_->setMaximumHeight(84);
    for (auto* tree : {outputs_, rows_, records_}) {
        tree->setRootIsDecorated(false);
        tree->setUniformRowHeights(true);
        tree->setTextElideMode(Qt::ElideRight);
    }
    for (QWidget* w : {static_cast<QWidget*>(swap_), static_cast<QWidget*>(keep_), static_cast<QWidget*>(records_)})
        w->hide();
    put_together();
}

void ProofPage::put_together() {
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(6);
    grid->setVerticalSpacing(4);
    grid->addWidget(given_, 0, 0, 1, 4);
    auto* word = new QLabel(tr("against"));
    grid->addWidget(word, 1, 0);
    grid->addWidget(against_, 1, 1, 1, 3);
    grid->addWidget(formula_, 2, 0, 1, 4);
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    row->addWidget(before_);
    row->addWidget(new QLabel(tr("ms lead-in,")));
    row->addWidget(each_);
    row->addWidget(new QLabel(tr("µs per row")));
    row->addStretch(1);
    row->addWidget(prove_);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 6, 0, 0);
    all->setSpacing(5);
    all->addLayout(grid);
    all->addLayout(row);
    all->addWidget(verdict_);
    all->addWidget(outputs_);
    all->addWidget(rows_, 1);
    all->addWidget(hint_);
    auto* ways = new QHBoxLayout;
    ways->addWidget(swap_);
    ways->addWidget(keep_);
    all->addLayout(ways);
    all->addWidget(records_);
}

void ProofPage::connect_all() {
    connect(prove_, &QPushButton::clicked, this, &ProofPage::prove);
    connect(&progress_, &QTimer::timeout, this, [this] { tell_(); });
    connect(swap_, &QPushButton::clicked, this, &ProofPage::swap_pair);
    connect(keep_, &QPushButton::clicked, this, &ProofPage::keep);
    connect(given_, &QComboBox::activated, this, &ProofPage::choose_given);
    connect(against_, &QComboBox::currentIndexChanged, this, [this](int i) { formula_->setVisible(i == 3); });
    connect(formula_, &QLineEdit::returnPressed, this, &ProofPage::prove);
}

void ProofPage::choose_given() {
    if (given_->currentIndex() != from_file) return;
    const auto path = ask_file(this, tr("A vector file"), q(desk_.session().document().folder()),
                               tr("Vectors and recordings (*.csv *.vcd)"));
    if (path.isEmpty()) return;
    const auto text = real_disk().read(path.toStdString(), std::size_t{64} << 20);
    if (!text) return desk_.say(q(text.first().sentence()), true);
    vectors_file_ = path.toStdString();
    vectors_text_ = text.value();
    against_->setCurrentIndex(4);
}

void ProofPage::set_doings(std::vector<verification::Doing> doings, board_sim::Time end) {
    doings_ = std::move(doings);
    end_ = end;
}

ProofAsk ProofPage::ask() {
    ProofAsk a;
    static const ProofAsk::Against against[] = {ProofAsk::names, ProofAsk::simulation, ProofAsk::source,
                                                ProofAsk::formula, ProofAsk::file};
    a.against = against[std::clamp(against_->currentIndex(), 0, 4)];
    if (a.against == ProofAsk::file && given_->currentIndex() != from_file) a.against = ProofAsk::names;
    a.formula_text = formula_->text().toStdString();
    a.each = simulation::time_of(std::clamp(each_->text().toDouble(), 0.01, 1e6) * 1e3);
    a.before = simulation::time_of(std::clamp(before_->text().toDouble(), 0.0, 1e4) * 1e6);
    switch (given_->currentIndex()) {
        case vane_alone:
            for (const auto& part : desk_.session().world().board.parts)
                if (part.kind == "vane" || part.kind == "lamp") a.parts.push_back(part.ref);
            break;
        case from_file:
            a.given = ProofAsk::vectors;
            a.vectors_file = vectors_file_;
            a.vectors_text = vectors_text_;
            break;
        case by_hand:
            a.given = ProofAsk::doings;
            a.done = doings_;
            a.end = end_;
            break;
        default: break;
    }
    return a;
}

void ProofPage::prove() {
    if (!desk_.has_session()) return;
    if (working_) {  // asked again: it stops after this row, and what was proved stands
        *stopped_ = true;
        return;
    }
    const auto a = ask();
    if (a.given == ProofAsk::doings && a.done.empty())
        return desk_.say(
            tr("No manual inputs are recorded yet: load the design and work keys, rockers or the vane first."), true);
    if (a.given == ProofAsk::vectors && a.vectors_text.empty()) return choose_given();
    working_ = true;
    stopped_ = std::make_shared<std::atomic<bool>>(false);
    const auto done = std::make_shared<std::atomic<size_t>>(0), of = std::make_shared<std::atomic<size_t>>(0);
    prove_->setText(tr("Cancel"));
    verdict_->setVisible(true);
    verdict_->setStyleSheet({});
    tell_ = [this, done, of] {
        verdict_->setText(*of ? tr("%1 of %2 rows").arg(done->load()).arg(of->load()) : tr("proving…"));
    };
    tell_();
    progress_.start(200);
    struct Came {
        std::optional<ProofAnswer> answer;
        std::string refused;
        ProofState of;
    };
    desk_.later<std::shared_ptr<Came>>(
        "proof", this,
        [a, done, of, stopped = stopped_](const std::shared_ptr<const Snapshot>& state, const std::stop_token& stop) {
            auto came = std::make_shared<Came>();
            auto proved = prove_project(*state, a, [&](size_t rows, size_t all) {
                *done = rows;
                *of = all;
                return !stop.stop_requested() && !*stopped;
            });
            if (proved)
                came->answer = proved.take();
            else
                came->refused = proved.first().sentence();
            came->of = proof_state(state->world->netlist, state->project->pegs);
            return came;
        },
        [this](std::shared_ptr<Came> came) {
            rest();
            answer_ = std::move(came->answer);
            proved_ = came->of;
            if (!answer_) desk_.say(q(came->refused), true);
            show_answer();
            emit proved();
        });
}

void ProofPage::rest() {
    working_ = false;
    progress_.stop();
    prove_->setText(tr("Prove"));
}

void ProofPage::forget() {
    answer_.reset();
    doings_.clear();
    rest();
    desk_.forget("proof");
    show_answer();
}

void ProofPage::show_answer() {
    rows_->clear();
    swap_->hide();
    keep_->setVisible(answer_.has_value());
    swapped_ = {};
    verdict_->setVisible(answer_.has_value());
    show_outputs();
    const auto bits = [](const std::vector<std::string>& names, const std::vector<std::string>& values) {
        QStringList out;
        for (size_t i = 0; i < values.size(); ++i)
            out << (names.size() > 1 ? q(names[i]) + QLatin1Char(' ') + q(values[i]) : q(values[i]));
        return out.join(QStringLiteral("  "));
    };
    if (!answer_) {
        hint_->setText(
            tr("Inputs are set at the terminals they are meant for, outputs are read at theirs: a wrong peg shows as "
               "on the real board."));
        return;
    }
    const auto& p = answer_->proof;
    QTreeWidgetItem* first = nullptr;
    constexpr size_t most_shown = 5000;
    for (size_t i = 0; i < std::min(p.rows.size(), most_shown); ++i) {
        const auto& row = p.rows[i];
        auto* item =
            new QTreeWidgetItem(rows_, {bits(p.inputs, row.in), bits(p.outputs, row.want), bits(p.outputs, row.seen)});
        for (int c = 0; c < 3; ++c) {
            item->setFont(c, mono(11.5));
            item->setToolTip(c, item->text(c));
        }
        if (row.agrees) continue;
        if (!first) first = item;
        for (int c = 0; c < 3; ++c) item->setForeground(c, theme().stop);
        item->setText(2, QStringLiteral("■ ") + item->text(2));
    }
    for (int c = 0; c < 2; ++c) rows_->resizeColumnToContents(c);
    for (int c = 0; c < 2; ++c) rows_->setColumnWidth(c, std::min(rows_->columnWidth(c), 118));
    if (first) rows_->scrollToItem(first, QAbstractItemView::PositionAtCenter);
    hint_->setText(explained());
}

/// The verdict and a line for each output, those that are not proven first.
void ProofPage::show_outputs() {
    outputs_->clear();
    outputs_->setVisible(answer_.has_value());
    if (!answer_) return;
    using Output = verification::ProvedOutput;
    const auto proven = answer_->count(Output::proven), differ = answer_->count(Output::differs),
               open = answer_->count(Output::not_proven);
    auto lines = lines_of(answer_->outputs);
    const auto rank = [](const OutputLine& l) {
        return l.state == Output::differs ? 0 : l.state == Output::not_proven ? 1 : 2;
    };
    std::stable_sort(lines.begin(), lines.end(), [&](const auto& a, const auto& b) { return rank(a) < rank(b); });
    static const QString marks[] = {QStringLiteral("● "), QStringLiteral("■ "), QStringLiteral("▲ ")};
    const QColor colours[] = {theme().good, theme().stop, theme().caution};
    for (const auto& l : lines) {
        auto* item = new QTreeWidgetItem(outputs_, {q(l.name), marks[l.state] + q(verification::name_of(l.state)),
                                                    q(l.why.empty() ? "at " + list_names(l.terminals, 3) : l.why)});
        item->setFont(0, mono(11.5));
        item->setForeground(1, colours[l.state]);
        for (int c = 0; c < 3; ++c) item->setToolTip(c, item->text(c));
    }
    for (int c = 0; c < 2; ++c) outputs_->resizeColumnToContents(c);
    const auto all = answer_->outputs.size();
    verdict_->setText(differ ? tr("%1 of %2 outputs differ").arg(differ).arg(all)
                      : answer_->proven() && open == 0
                          ? tr("all %1 outputs proven").arg(all)
                          : tr("%1 of %2 outputs proven, %3 open").arg(proven).arg(all).arg(open));
    const auto colour = differ ? theme().stop : answer_->proven() && open == 0 ? theme().good : theme().caution;
    verdict_->setStyleSheet(QStringLiteral("color: %1; font-size: 13px;").arg(colour.name()));
}

/// What was asked, or what a difference comes from; a crossed pair can be swapped.
QString ProofPage::explained() {
    const auto& p = answer_->proof;
    QString text = tr("%1, against %2.").arg(q(answer_->what), q(p.against));
    text[0] = text[0].toUpper();
    if (!answer_->crossed.empty()) {
        const auto& pair = answer_->crossed.front();
        const auto a = port_at(desk_.session(), pair.a), b = port_at(desk_.session(), pair.b);
        text = tr("%1 and %2 are swapped: %3 and %4 are crossed.").arg(q(pair.a), q(pair.b), q(a), q(b));
        if (!a.empty() && !b.empty()) swapped_ = {a, b};
        swap_->setVisible(!a.empty() && !b.empty());
    } else if (const auto* row = p.first_difference()) {
        text = tr("First at %1 ms: %2").arg(q(fixed(row->ms, 4)), q(answer_->terminal));
        if (!answer_->port.empty())
            text +=
                tr(" (port %1, behind %2").arg(q(answer_->port), counted(static_cast<int>(answer_->cone.all), "cell")) +
                (answer_->cone.from.empty()
                     ? QString()
                     : tr(" from %1")
                           .arg(q(list_names({answer_->cone.from.begin(),
                                              answer_->cone.from.begin() + static_cast<long>(std::min<size_t>(
                                                                               3, answer_->cone.from.size()))})))) +
                QStringLiteral(").");
        else
            text += tr(", where no port is pegged.");
    }
    if (!p.seen.empty()) {
        text += QStringLiteral(" ") + q(p.seen.front());
        text += p.seen.size() > 1 ? tr("; and %1 more like it.").arg(p.seen.size() - 1) : QStringLiteral(".");
    }
    return text;
}

void ProofPage::refresh() {
    if (!desk_.has_session()) return;
    const auto& board = desk_.session().world().board;
    const bool vane =
        std::any_of(board.parts.begin(), board.parts.end(), [](const auto& p) { return p.kind == "vane"; });
    given_->setItemData(vane_alone, vane ? QVariant() : QVariant(0), Qt::UserRole - 1);  // nothing to turn: not offered
    if (!vane && given_->currentIndex() == vane_alone) given_->setCurrentIndex(all_hand);
    show_records();
    if (!answer_) show_answer();
}

ProofPage::Record ProofPage::record() const {
    auto out = Record::nothing;
    if (!desk_.has_session() || desk_.session().project().proofs.empty()) return out;
    const auto now = digest_.state(desk_.session());
    for (const auto& line : desk_.session().project().proofs)
        if (const auto note = proof_note(line)) {
            if (note->proven() && why_stale(*note, now).empty()) return Record::holds;
            out = Record::old;
        }
    return out;
}

void ProofPage::show_records() {
    records_->clear();
    const auto& lines = desk_.session().project().proofs;
    records_->setVisible(!lines.empty());
    if (lines.empty()) return;
    const auto now = digest_.state(desk_.session());
    for (auto line = lines.rbegin(); line != lines.rend(); ++line) {
        const auto note = proof_note(*line);
        if (!note) continue;
        const auto stale = why_stale(*note, now);
        auto* item = new QTreeWidgetItem(records_, {told(*note, stale), tr("%1, %2").arg(q(note->who), q(note->date))});
        for (int c = 0; c < 2; ++c) item->setToolTip(c, q(sentence_of(*note, now)));
        item->setForeground(0, !stale.empty()   ? theme().second
                               : note->differ   ? theme().stop
                               : note->proven() ? theme().good
                                                : theme().caution);
    }
    records_->setColumnWidth(0, 178);
}

void ProofPage::keep() {
    if (!answer_) return;
    desk_.apply(proof_record_edit(desk_.session().project(), *answer_, proved_, user_name(), local_time("%Y-%m-%d")));
}

void ProofPage::swap_pair() {
    const auto pair = swapped_;
    desk_.apply(swap_edit(desk_.session().project(), pair.first, pair.second));
}

}  // namespace kp::app
