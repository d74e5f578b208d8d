// SPDX-License-Identifier: GPL-3.0-or-later
// Corners are a field of the project, one line each; how each stands comes from the report. State: what is being
// typed.
#include "app/slack/corner_page.hpp"

#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "core/base/text.hpp"
#include "core/inputs/corners.hpp"

#include <QHBoxLayout>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>

namespace kp::app {

namespace {
QString figure(const CheckSummary& s) {
    if (!s.wns) return QObject::tr("none");
    return s.failing > 0 ? QObject::tr("%1 (%2 fail)").arg(q(fixed(*s.wns, 3))).arg(s.failing) : q(fixed(*s.wns, 3));
}
}  // namespace

CornerPage::CornerPage(Desk& desk)
    : desk_(desk),
      lines_(new QPlainTextEdit),
      standing_(new QTreeWidget),
      says_(new QLabel),
      take_(new QPushButton(tr("Analyse with these"))) {
    lines_->setObjectName("slack.corners");
    lines_->setAccessibleName(tr("Corners, a line each"));
    lines_->setFont(mono(12));
    lines_->setTabChangesFocus(true);
    lines_->setPlaceholderText(tr("a line each, such as\nslow,sdf=slow.sdf\nfast,sdf=fast.sdf,early=min,late=min"));
    standing_->setObjectName("slack.corner.list");
    standing_->setAccessibleName(tr("How each corner stands"));
    standing_->setHeaderLabels({tr("corner"), tr("setup, ns"), tr("hold, ns"), tr("recovery, ns"), tr("removal, ns")});
    standing_->setRootIsDecorated(false);
    const int widths[] = {96, 140, 110, 96};
    for (int i = 0; i < 4; ++i) standing_->setColumnWidth(i, widths[i]);
    says_->setWordWrap(true);
    says_->setProperty("role", "second");
    take_->setObjectName("slack.corner.take");
    take_->setProperty("primary", true);
    auto* left = new QVBoxLayout;
    left->addWidget(lines_, 1);
    left->addWidget(take_);
    auto* all = new QHBoxLayout;
    all->addLayout(left, 4);
    all->addWidget(standing_, 6);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(0, 0, 0, 0);
    box->addLayout(all, 1);
    box->addWidget(says_);
    connect(take_, &QPushButton::clicked, this, &CornerPage::take);
}

QString CornerPage::written() const {
    QString out;
    for (const auto& line : desk_.session().project().corners) out += q(line) + QLatin1Char('\n');
    return out.trimmed();
}

void CornerPage::refresh() {
    const auto now = written();
    if (now != shown_ || lines_->toPlainText().trimmed().isEmpty()) {
        if (lines_->toPlainText().trimmed() == shown_) lines_->setPlainText(now);
        shown_ = now;
    }
    standing_->clear();
    const auto& t = desk_.session().analysis().timing();
    for (const auto& c : t.corners)
        new QTreeWidgetItem(standing_,
                            {q(c.name), figure(c.setup), figure(c.hold), figure(c.recovery), figure(c.removal)});
    if (t.corners.empty())
        new QTreeWidgetItem(
            standing_, {tr("the only one"), figure(t.setup), figure(t.hold), figure(t.recovery), figure(t.removal)});
    says_->setText(tr("%1 Files are looked for beside the project. What a line leaves out is as for all.")
                       .arg(QLatin1String(corner_form)));
}

void CornerPage::take() {
    if (!desk_.has_session()) return;
    std::vector<std::string> lines;
    for (const auto& line : lines_->toPlainText().split(QLatin1Char('\n')))
        if (!line.trimmed().isEmpty()) lines.push_back(line.trimmed().toStdString());
    if (const auto parsed = parse_corners(lines, {}); !parsed)
        return desk_.say(q(parsed.first().text).remove(QStringLiteral("--corner ")), true);
    Edit edit{"set the corners", {}};
    edit.changes.emplace_back(set_field(desk_.session().project(), "corners", lines_of(lines)));
    const auto& change = std::get<FieldChange>(edit.changes[0]);
    if (change.before == change.after) return desk_.say(tr("The corners are these already."));
    desk_.apply(edit);
}

}  // namespace kp::app
