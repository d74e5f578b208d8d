// SPDX-License-Identifier: GPL-3.0-or-later
// Lines are kept with their severity, so that the choice of which are shown holds for those of before too.
#include "app/log/build_log.hpp"

#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "core/base/text.hpp"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPlainTextEdit>
#include <QVBoxLayout>

namespace kp::app {

BuildLog::BuildLog(QWidget* parent)
    : QWidget(parent), now_(new QLabel), least_(new QComboBox), text_(new QPlainTextEdit) {
    setObjectName("build.log");
    now_->setObjectName("build.log.now");
    least_->setObjectName("build.log.least");
    least_->addItems({tr("all lines"), tr("cautions and stops"), tr("stops")});
    least_->setAccessibleName(tr("Which lines of the log are shown"));
    text_->setObjectName("build.log.text");
    text_->setAccessibleName(tr("Log of the build"));
    text_->setReadOnly(true);
    text_->setFont(mono(12));
    text_->setMaximumBlockCount(20000);
    auto* top = new QHBoxLayout;
    top->addWidget(now_, 1);
    top->addWidget(least_);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(0, 4, 0, 0);
    box->addLayout(top);
    box->addWidget(text_, 1);
    tick_.setInterval(200);
    connect(&tick_, &QTimer::timeout, this, [this] {
        now_->setText(tr("%1 s · %2").arg(q(fixed(seconds(), 1)), what_));
        emit ticked();
    });
    connect(least_, &QComboBox::currentIndexChanged, this, [this] { show_lines(); });
    now_->setText(tr("Nothing runs."));
}

void BuildLog::begin() {
    lines_.clear();
    text_->clear();
    ended_ = -1;
    since_.start();
    tick_.start();
}

void BuildLog::runs(const QString& what) {
    if (what == what_) return;
    what_ = what;
    add(Severity::note, what);
}

void BuildLog::add(Severity severity, const QString& text) {
    lines_.push_back({severity, QStringLiteral("%1 s  %2").arg(q(fixed(seconds(), 1)), 7).arg(text)});
    show(lines_.back());
}

void BuildLog::end(const QString& how) {
    ended_ = seconds();
    tick_.stop();
    what_.clear();
    now_->setText(tr("%1 after %2 s").arg(how, q(fixed(ended_, 1))));
}

double BuildLog::seconds() const {
    if (ended_ >= 0) return ended_;
    return since_.isValid() ? static_cast<double>(since_.elapsed()) / 1000 : 0;
}

void BuildLog::show_lines() {
    text_->clear();
    for (const auto& line : lines_) show(line);
}

void BuildLog::show(const Line& line) {
    if (static_cast<int>(line.severity) > 2 - least_->currentIndex()) return;
    const char* mark = line.severity == Severity::stop ? "■ " : line.severity == Severity::caution ? "▲ " : "";
    QString text = line.text;
    if (*mark) text.insert(text.indexOf(QStringLiteral(" s  ")) + 4, QString::fromUtf8(mark));
    text_->appendPlainText(text);
}

}  // namespace kp::app
