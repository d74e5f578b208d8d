// SPDX-License-Identifier: GPL-3.0-or-later
// Time passes in slices that take a few milliseconds of the window's thread at most; what a slice costs sets how long
// the next one is.
#include "app/bench/run_bar.hpp"

#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "core/base/text.hpp"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <algorithm>

namespace kp::app {

namespace {

constexpr int tick_ms = 40, work_ms = 28;
// Faster than life would be no use to anybody: a vane would turn before it was seen to.
constexpr double fastest = 1.0;

/// How board time passes against ours.
QString share_text(double share) {
    if (share <= 0) return {};
    if (share >= 0.95) return RunBar::tr("real time");
    const double slower = 1 / share;
    return RunBar::tr("1/%1 of real time")
        .arg(slower < 20 ? q(fixed(slower, 1)) : QString::number(std::llround(slower)));
}

}  // namespace

RunBar::RunBar()
    : run_(new QPushButton(tr("Pause"))),
      step_(new QPushButton(tr("Step"))),
      to_(new QLineEdit),
      until_(new QComboBox),
      time_(new QLabel) {
    run_->setObjectName("bench.run");
    step_->setObjectName("bench.step");
    to_->setObjectName("bench.to");
    to_->setPlaceholderText(tr("to … ms"));
    to_->setAccessibleName(tr("Run to this board time, milliseconds"));
    to_->setFixedWidth(70);
    until_->setObjectName("bench.until");
    until_->setAccessibleName(tr("Run until this wire changes"));
    until_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    until_->setMinimumContentsLength(7);
    time_->setObjectName("bench.time");
    time_->setFont(mono(12));
    time_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    time_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);  // in a narrow window it gives way
    time_->setMinimumWidth(60);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    row->addWidget(run_);
    row->addWidget(step_);
    row->addWidget(to_);
    row->addWidget(until_);
    row->addWidget(time_, 1);
    for (auto* button : {run_, step_}) button->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed);
    timer_.setInterval(tick_ms);
    connect(&timer_, &QTimer::timeout, this, &RunBar::tick);
    connect(run_, &QPushButton::clicked, this, [this] { runs() ? pause() : run(); });
    connect(step_, &QPushButton::clicked, this, &RunBar::step);
    connect(to_, &QLineEdit::returnPressed, this, [this] {
        bool good = false;
        const double ms = to_->text().trimmed().toDouble(&good);
        if (good) run_to(ms);
    });
    connect(until_, &QComboBox::activated, this, [this](int i) {
        if (i > 0) run_until(until_->itemData(i).toString().toStdString(), i % 2 == 1);
    });
    show_bench(nullptr);
}

void RunBar::show_bench(BoardBench* bench) {
    bench_ = bench;
    goal_ = board_sim::never;
    wanted_.reset();
    share_ = 0;
    slice_ = 10 * board_sim::nanosecond;  // a large design shows by the first ones what they cost
    until_->clear();
    until_->addItem(tr("until …"));
    if (bench_) {
        const auto& model = bench_->model();
        for (std::uint32_t t = 0; t < model.terminal_count(); ++t)
            if (!model.pin_of(t).empty())
                for (const auto& way : {tr("%1 rises"), tr("%1 falls")})
                    until_->addItem(way.arg(q(model.name_of(t))), q(model.name_of(t)));
    }
    for (QWidget* w : {static_cast<QWidget*>(run_), static_cast<QWidget*>(step_), static_cast<QWidget*>(to_),
                       static_cast<QWidget*>(until_)})
        w->setEnabled(bench_ != nullptr);
    if (bench_)
        run();
    else
        pause();
}

void RunBar::run() {
    if (!bench_) return;
    run_->setText(tr("Pause"));
    since_.start();
    timer_.start();
    show_time();
}

void RunBar::pause() {
    timer_.stop();
    run_->setText(tr("Run"));
    goal_ = board_sim::never;
    wanted_.reset();
    until_->setCurrentIndex(0);
    show_time();
}

void RunBar::step() {
    if (!bench_) return;
    pause();
    if (bench_->has_clock())
        bench_->run(1);
    else
        bench_->run_for(board_sim::microsecond);
    show_time();
    emit passed();
}

void RunBar::run_to(double ms) {
    if (!bench_) return;
    const auto goal =
        static_cast<board_sim::Time>(std::clamp(ms, 0.0, 3.6e6) * static_cast<double>(board_sim::millisecond));
    if (goal <= bench_->model().now()) {
        time_->setText(tr("it is %1 ms already").arg(q(fixed(bench_->seconds() * 1e3, 3))));
        return;
    }
    wanted_.reset();
    goal_ = goal;
    run();
}

void RunBar::run_until(const std::string& terminal, bool rises) {
    if (!bench_) return;
    const auto t = bench_->model().terminal(terminal);
    if (t == no_id) return;
    bench_->model().record(t);
    goal_ = board_sim::never;
    wanted_ = {t, rises};
    before_ = bench_->model().level(t);
    run();
}

void RunBar::tick() {
    if (!bench_ || !isVisible()) {
        since_.start();
        return;
    }
    auto& model = bench_->model();
    QElapsedTimer spent;
    spent.start();
    const auto begun = model.now();
    // Life passes too: no more board time than that.
    const auto most = begun + static_cast<board_sim::Time>(fastest * static_cast<double>(since_.nsecsElapsed()) *
                                                           static_cast<double>(board_sim::nanosecond));
    bool reached = false;
    while (!reached && model.now() < most && spent.elapsed() < work_ms) {
        QElapsedTimer one;
        one.start();
        const auto until = std::min({model.now() + slice_, most, goal_});
        const auto kept = wanted_ ? model.edges(wanted_->first).size() : 0;
        model.run_until(until);
        reached = model.now() >= goal_;
        if (wanted_) {
            const auto& edges = model.edges(wanted_->first);
            for (size_t i = std::max<size_t>(1, kept); i < edges.size(); ++i)
                reached |= (edges[i].level == Level::high) == wanted_->second &&
                           (edges[i].level == Level::high || edges[i].level == Level::low);
        }
        // About 3 ms a slice, whatever the design costs; finer while a wire is waited for.
        const double ms = static_cast<double>(one.nsecsElapsed()) / 1e6;
        if (ms < 1.5) slice_ = std::min(slice_ * 2, 10 * board_sim::millisecond);
        if (ms > 4) slice_ = std::max<board_sim::Time>(slice_ / 2, 10 * board_sim::nanosecond);
    }
    const double life = static_cast<double>(std::max<qint64>(1, since_.nsecsElapsed())) * 1e-9;
    const double passed_s = static_cast<double>(model.now() - begun) / static_cast<double>(board_sim::second);
    share_ = share_ == 0 ? passed_s / life : 0.9 * share_ + 0.1 * passed_s / life;
    since_.start();
    if (reached) pause();
    show_time();
    emit passed();
}

void RunBar::show_time() {
    if (!bench_) return time_->setText({});
    const auto ms = q(fixed(bench_->seconds() * 1e3, bench_->seconds() < 1 ? 3 : 1));
    const auto share = share_text(share_);
    time_->setText(!runs()           ? tr("%1 ms, paused").arg(ms)
                   : share.isEmpty() ? tr("%1 ms").arg(ms)
                                     : tr("%1 ms, %2").arg(ms, share));
}

}  // namespace kp::app
