// SPDX-License-Identifier: GPL-3.0-or-later
// Buttons and dials are made from the controls the part itself names, so that a new part needs no code here. A hand
// that holds a key is let go when the card loses the focus.
#include "app/bench/bench_card.hpp"

#include "app/theme/text.hpp"

#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

namespace kp::app {

namespace {

QString object_name(const BoardPart& part, const std::string& control) {
    return QStringLiteral("bench.%1.%2").arg(q(part.ref), q(control));
}

/// What all of several names begin with, up to where they differ.
size_t shared_start(const std::vector<board_sim::Control>& controls) {
    if (controls.size() < 2) return 0;
    size_t n = controls[0].name.size();
    for (const auto& c : controls) {
        size_t k = 0;
        while (k < n && k < c.name.size() && c.name[k] == controls[0].name[k]) ++k;
        n = k;
    }
    return n;
}

/// Off, 0 and 1 in a small button that goes on at each click.
bool is_three_way(const board_sim::Control& c) {
    return c.kind == board_sim::Control::choose && c.choices == std::vector<std::string>{"off", "0", "1"};
}

}  // namespace

BenchCard::BenchCard(const board_sim::BoardModel& model, board_sim::SimulatedPart& part, Work work)
    : part_(part), work_(std::move(work)), face_(new PartFace(model, part)), mark_(new QLabel) {
    setProperty("card", true);
    setObjectName(QStringLiteral("bench.card.") + q(part.part().ref));
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(9, 6, 9, 8);
    box->setSpacing(4);
    auto* title = new QLabel(tr("%1 %2").arg(q(part.part().label), q(part.part().ref)));
    title->setFont(words(12, true));
    title->setWordWrap(true);
    box->addWidget(title);
    mark_->setObjectName(QStringLiteral("bench.mark.") + q(part.part().ref));
    mark_->setWordWrap(true);
    mark_->setFont(words(11));
    mark_->hide();
    box->addWidget(mark_);
    box->addWidget(face_);
    add_controls();
    box->addStretch(1);
    connect(face_, &PartFace::turned, this, [this](int steps) {
        for (const auto& c : part_.controls())
            if (c.kind == board_sim::Control::dial)
                return this->work(c.name, (steps > 0 ? "+" : "") + std::to_string(steps));
    });
}

void BenchCard::mark(const QString& why) {
    mark_->setText(why.isEmpty() ? QString() : QStringLiteral("▲ ") + why);
    mark_->setStyleSheet(QStringLiteral("color: %1;").arg(theme().caution.name()));
    mark_->setVisible(!why.isEmpty());
}

void BenchCard::work(const std::string& control, const std::string& value) {
    work_(part_.part().ref, control, value);
    look();
}

void BenchCard::add_controls() {
    auto* box = static_cast<QVBoxLayout*>(layout());
    std::vector<board_sim::Control> row;
    const auto flush = [&] {
        if (!row.empty()) box->addWidget(row_of_buttons(row));
        row.clear();
    };
    for (const auto& c : part_.controls()) {
        if (c.kind == board_sim::Control::hold || c.kind == board_sim::Control::flip || is_three_way(c)) {
            row.push_back(c);
            continue;
        }
        flush();
        box->addWidget(c.kind == board_sim::Control::dial     ? dial(c)
                       : c.kind == board_sim::Control::choose ? choice(c)
                                                              : typed(c));
    }
    flush();
}

QWidget* BenchCard::row_of_buttons(const std::vector<board_sim::Control>& controls) {
    auto* all = new QWidget;
    auto* grid = new QGridLayout(all);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setSpacing(3);
    const auto start = controls.size() > 2 ? shared_start(controls) : 0;
    size_t longest = 0;
    for (const auto& c : controls) longest = std::max(longest, c.name.size() - start);
    const int per_row = longest <= 3 ? 4 : longest <= 8 ? 2 : 1;
    int i = 0;
    for (const auto& c : controls) {
        auto* button = new QPushButton(q(c.name.substr(start)));
        button->setObjectName(object_name(part_.part(), c.name));
        button->setAccessibleName(tr("%1 of %2").arg(q(c.name), q(part_.part().ref)));
        button->setToolTip(q(c.name));
        button->setMinimumWidth(24);
        button->setProperty("small", true);
        const auto name = c.name;
        if (c.kind == board_sim::Control::hold) {
            connect(button, &QPushButton::pressed, this, [this, name] { work(name, "1"); });
            connect(button, &QPushButton::released, this, [this, name] { work(name, "0"); });
            followers_.emplace_back([](const board_sim::Control&) {});
        } else if (c.kind == board_sim::Control::flip) {
            button->setCheckable(true);
            button->setChecked(c.value == "1");
            connect(button, &QPushButton::clicked, this, [this, name](bool on) { work(name, on ? "1" : "0"); });
            followers_.emplace_back([button](const board_sim::Control& now) { button->setChecked(now.value == "1"); });
        } else {
            const auto shown = q(c.name.substr(start));
            const auto label = [shown](const std::string& value) {
                return value == "off" ? shown : QStringLiteral("%1=%2").arg(shown, q(value));
            };
            button->setText(label(c.value));
            connect(button, &QPushButton::clicked, this, [this, name] {
                for (const auto& now : part_.controls())
                    if (now.name == name) return work(name, now.value == "off" ? "0" : now.value == "0" ? "1" : "off");
            });
            followers_.emplace_back(
                [button, label](const board_sim::Control& now) { button->setText(label(now.value)); });
        }
        grid->addWidget(button, i / per_row, i % per_row);
        ++i;
    }
    return all;
}

QWidget* BenchCard::dial(const board_sim::Control& c) {
    auto* all = new QWidget;
    auto* row = new QHBoxLayout(all);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(3);
    auto* less = new QPushButton(QStringLiteral("−"));
    auto* more = new QPushButton(QStringLiteral("+"));
    auto* line = new QLineEdit(q(c.value));
    line->setObjectName(object_name(part_.part(), c.name));
    line->setAccessibleName(tr("%1 of %2").arg(q(c.name), q(part_.part().ref)));
    line->setToolTip(q(c.name));
    line->setMaximumWidth(74);
    const auto name = c.name;
    for (auto* button : {less, more}) {
        button->setFixedWidth(26);
        button->setAutoRepeat(true);
        button->setProperty("small", true);
        button->setAccessibleName(button == less ? tr("less %1").arg(q(name)) : tr("more %1").arg(q(name)));
        connect(button, &QPushButton::clicked, this,
                [this, name, up = button == more] { work(name, up ? "+1" : "-1"); });
    }
    less->setObjectName(object_name(part_.part(), c.name + ".less"));
    more->setObjectName(object_name(part_.part(), c.name + ".more"));
    connect(line, &QLineEdit::returnPressed, this, [this, name, line] {
        line->setModified(false);
        work(name, line->text().trimmed().toStdString());
    });
    auto* title = new QLabel(q(name));
    title->setFont(words(11.5));
    title->setWordWrap(true);
    row->addWidget(title, 1);
    row->addWidget(less);
    row->addWidget(line);
    row->addWidget(more);
    // What is being typed stays.
    followers_.emplace_back([line](const board_sim::Control& now) {
        if (!line->isModified() && line->text() != q(now.value)) line->setText(q(now.value));
    });
    return all;
}

QWidget* BenchCard::choice(const board_sim::Control& c) {
    auto* all = new QWidget;
    auto* row = new QHBoxLayout(all);
    row->setContentsMargins(0, 0, 0, 0);
    auto* box = new QComboBox;
    box->setObjectName(object_name(part_.part(), c.name));
    box->setAccessibleName(tr("%1 of %2").arg(q(c.name), q(part_.part().ref)));
    for (const auto& one : c.choices) box->addItem(q(one));
    box->setCurrentText(q(c.value));
    const auto name = c.name;
    connect(box, &QComboBox::textActivated, this,
            [this, name](const QString& text) { work(name, text.toStdString()); });
    auto* title = new QLabel(q(name));
    title->setFont(words(11.5));
    title->setWordWrap(true);
    row->addWidget(title, 1);
    row->addWidget(box);
    followers_.emplace_back([box](const board_sim::Control& now) {
        if (box->currentText() != q(now.value)) box->setCurrentText(q(now.value));
    });
    return all;
}

QWidget* BenchCard::typed(const board_sim::Control& c) {
    auto* line = new QLineEdit;
    line->setObjectName(object_name(part_.part(), c.name));
    line->setAccessibleName(tr("%1 by %2").arg(q(c.name), q(part_.part().ref)));
    line->setPlaceholderText(tr("%1, then Enter").arg(q(c.name)));
    const auto name = c.name;
    connect(line, &QLineEdit::returnPressed, this, [this, name, line] {
        work(name, (line->text() + QLatin1Char('\n')).toStdString());
        line->clear();
    });
    followers_.emplace_back([](const board_sim::Control&) {});
    return line;
}

void BenchCard::look() {
    face_->look();
    const auto now = part_.controls();
    for (size_t i = 0; i < std::min(now.size(), followers_.size()); ++i) followers_[i](now[i]);
}

}  // namespace kp::app
