// SPDX-License-Identifier: GPL-3.0-or-later
// Fields come from the table of commands (core/format/sdc/table), so that a new option needs no code here. State:
// the fields until they are taken.
#include "app/tempo/command_form_page.hpp"

#include "app/shell/counted.hpp"
#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "core/base/text.hpp"
#include "core/constraints/forms.hpp"

#include <QEvent>
#include <QCheckBox>
#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace kp::app {

namespace {
constexpr int most_listed = 2000;  // objects; the filter finds the others
}  // namespace

CommandFormPage::CommandFormPage(Desk& desk)
    : desk_(desk),
      name_(new QComboBox),
      kind_(new QComboBox),
      help_(new QLabel),
      count_(new QLabel),
      scroll_(new QScrollArea),
      filter_(new QLineEdit),
      objects_(new QListWidget),
      write_(new QPushButton(tr("Write"))),
      put_(new QPushButton(tr("Put into the field"))) {
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(14, 6, 14, 6);
    auto* head = new QHBoxLayout;
    for (const auto& row : sdc::commands()) name_->addItem(QLatin1String(row.name));
    name_->setObjectName("tempo.form.name");
    name_->setAccessibleName(tr("Command"));
    head->addWidget(name_, 1);
    auto* back = new QPushButton(tr("Back"));
    back->setObjectName("tempo.form.back");
    head->addWidget(back);
    write_->setObjectName("tempo.form.write");
    write_->setProperty("primary", true);
    head->addWidget(write_);
    box->addLayout(head);
    help_->setWordWrap(true);
    help_->setProperty("role", "second");
    box->addWidget(help_);
    auto* sides = new QHBoxLayout;
    scroll_->setWidgetResizable(true);
    scroll_->setFrameShape(QFrame::NoFrame);
    sides->addWidget(scroll_, 3);
    auto* pick = new QVBoxLayout;
    for (const auto& kind : {tr("ports"), tr("pins"), tr("cells"), tr("nets"), tr("clocks")}) kind_->addItem(kind);
    kind_->setObjectName("tempo.form.kind");
    kind_->setAccessibleName(tr("Kind of objects"));
    filter_->setObjectName("tempo.form.filter");
    filter_->setAccessibleName(tr("Filter the objects"));
    filter_->setPlaceholderText(tr("name, * and ? fit"));
    objects_->setObjectName("tempo.form.objects");
    objects_->setAccessibleName(tr("Objects to choose"));
    objects_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    objects_->setUniformItemSizes(true);
    objects_->setFont(mono(12));
    put_->setObjectName("tempo.form.put");
    for (QWidget* w : {static_cast<QWidget*>(kind_), static_cast<QWidget*>(filter_), static_cast<QWidget*>(objects_),
                       static_cast<QWidget*>(count_), static_cast<QWidget*>(put_)})
        pick->addWidget(w);
    sides->addLayout(pick, 2);
    box->addLayout(sides, 1);
    connect(back, &QPushButton::clicked, this, &CommandFormPage::done);
    connect(write_, &QPushButton::clicked, this, &CommandFormPage::write);
    connect(put_, &QPushButton::clicked, this, &CommandFormPage::put_objects);
    connect(objects_, &QListWidget::itemActivated, this, &CommandFormPage::put_objects);
    connect(filter_, &QLineEdit::textChanged, this, &CommandFormPage::fill_objects);
    connect(kind_, &QComboBox::currentIndexChanged, this, &CommandFormPage::fill_objects);
    connect(name_, &QComboBox::currentTextChanged, this, [this](const QString& name) {
        if (!filling_) begin(name.toStdString());
    });
}

void CommandFormPage::show_command(const ListedCommand& command) {
    form_ = form_of(desk_.session().project(), command);
    if (!form_)
        return desk_.say(command.written_out ? tr("This command is not one that a form can edit.")
                                             : tr("It stands in a loop; write an override behind it instead."),
                         true);
    fill();
}

void CommandFormPage::begin(const std::string& name) {
    form_ = fresh_form(name);
    if (form_) fill();
}

void CommandFormPage::fill() {
    filling_ = true;
    name_->setCurrentText(q(form_->name));
    name_->setEnabled(form_->span.end == form_->span.begin);
    help_->setText(q(form_->help));
    write_->setText(form_->span.end > form_->span.begin ? tr("Change the command") : tr("Add the command"));
    lines_.clear();
    target_ = nullptr;
    auto* page = new QWidget;
    auto* layout = new QFormLayout(page);
    layout->setContentsMargins(0, 0, 6, 0);
    layout->setVerticalSpacing(3);
    for (const auto& f : form_->fields) {
        Line line;
        line.given = new QCheckBox(f.option.empty() ? tr("objects, value") : q(f.option));
        line.given->setChecked(f.given);
        line.given->setFont(mono(12));
        if (f.takes != sdc::Takes::flag) {
            line.value = new QLineEdit(q(f.value));
            line.value->setFont(mono(12));
            line.value->setAccessibleName(line.given->text());
            line.value->setObjectName(QStringLiteral("tempo.form.value%1").arg(q(f.option)));
            // Who types a value means it.
            connect(line.value, &QLineEdit::textEdited, line.given,
                    [box = line.given](const QString& text) { box->setChecked(!text.trimmed().isEmpty()); });
            line.value->installEventFilter(this);
            if (f.option.empty()) target_ = line.value;
        }
        layout->addRow(line.given, line.value ? static_cast<QWidget*>(line.value) : new QWidget);
        lines_.push_back(line);
    }
    scroll_->setWidget(page);
    fields_ = page;
    filling_ = false;
    fill_objects();
}

ObjectKind CommandFormPage::picked_kind() const {
    return static_cast<ObjectKind>(kind_->currentIndex());
}

void CommandFormPage::fill_objects() {
    if (!desk_.has_session()) return;
    objects_->clear();
    const auto& s = desk_.session();
    const auto& n = s.world().netlist;
    auto pattern = filter_->text().trimmed().toStdString();
    const bool wild = pattern.find_first_of("*?") != std::string::npos;
    const auto fits = [&](const std::string& name) {
        return pattern.empty() || (wild ? glob_match(pattern, name) : name.find(pattern) != std::string::npos);
    };
    size_t all = 0, shown = 0;
    QStringList names;
    const auto offer = [&](const std::string& name) {
        if (!fits(name)) return;
        ++all;
        if (shown < static_cast<size_t>(most_listed)) names << q(name), ++shown;
    };
    switch (picked_kind()) {
        case ObjectKind::port:
            for (const auto& p : n.ports) offer(p.name);
            break;
        case ObjectKind::pin:
            for (std::uint32_t p = 0; p < n.pins.size(); ++p) offer(n.pin_name(p));
            break;
        case ObjectKind::cell:
            for (std::uint32_t c = 0; c < n.cells.size(); ++c) offer(n.cell_names[c]);
            break;
        case ObjectKind::net:
            for (const auto& name : n.net_names) offer(name);
            break;
        case ObjectKind::clock:
            for (const auto& c : s.analysis().constraints().clocks) offer(c.name);
            break;
    }
    objects_->addItems(names);
    count_->setText(shown < all ? tr("%1 of %2 shown").arg(shown).arg(all) : counted(static_cast<int>(all), "object"));
}

void CommandFormPage::put_objects() {
    std::vector<std::string> chosen;
    for (const auto* item : objects_->selectedItems()) chosen.push_back(item->text().toStdString());
    for (auto& line : lines_)
        if (line.value && line.value->property("last").toBool()) target_ = line.value;
    if (chosen.empty() || !target_) return desk_.say(tr("Choose objects, and a field for them."), true);
    target_->setText(q(query_of(picked_kind(), chosen)));
    for (auto& line : lines_)
        if (line.value == target_) line.given->setChecked(true);
}

CommandForm CommandFormPage::typed() const {
    CommandForm out = *form_;
    for (size_t i = 0; i < lines_.size() && i < out.fields.size(); ++i) {
        out.fields[i].given = lines_[i].given->isChecked();
        if (lines_[i].value) out.fields[i].value = lines_[i].value->text().trimmed().toStdString();
    }
    return out;
}

void CommandFormPage::write() {
    if (!form_ || !desk_.has_session()) return;
    const auto now = typed();
    if (form_->span.end > form_->span.begin) {
        const auto edit = form_edit(desk_.session().project(), *form_, now);
        if (!edit) return desk_.say(q(edit.first().text), true);
        if (edit.value().empty() || desk_.apply(edit.value())) emit done();
        return;
    }
    const auto text = form_text(now);
    if (!text) return desk_.say(q(text.first().text), true);
    const auto edit = add_line(desk_.session(), text.value(), "add " + now.name);
    if (edit.empty()) return desk_.say(tr("There is no constraint file for new commands yet; make one first."), true);
    if (desk_.apply(edit)) emit done();
}

bool CommandFormPage::eventFilter(QObject* watched, QEvent* event) {
    // The picker fills the field that was worked in last.
    if (event->type() == QEvent::FocusIn)
        for (auto& line : lines_)
            if (line.value) line.value->setProperty("last", line.value == watched);
    return QWidget::eventFilter(watched, event);
}

}  // namespace kp::app
