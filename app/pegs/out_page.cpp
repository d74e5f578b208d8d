// SPDX-License-Identifier: GPL-3.0-or-later
// Shows the text exactly as it would be written. State: the chosen kind and template.
#include "app/pegs/out_page.hpp"

#include "app/shell/counted.hpp"
#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "app/shell/ask_files.hpp"
#include "core/base/output.hpp"
#include "core/handoff/adapter.hpp"
#include "core/handoff/handoff.hpp"
#include "core/inputs/data_folder.hpp"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSplitter>
#include <QVBoxLayout>

namespace kp::app {

OutPage::OutPage(Desk& desk)
    : desk_(desk),
      kinds_(new QListWidget),
      fields_(new QListWidget),
      template_(new QPlainTextEdit),
      preview_(new QPlainTextEdit),
      template_box_(new QWidget),
      state_(new QLabel),
      path_(new QLabel),
      despite_(new QCheckBox(tr("write although stops are open; the file will say so"))),
      polarity_(new QCheckBox(tr("turn polarity where the board asks for it"))),
      write_(new QPushButton(tr("Write…"))) {
    setObjectName("out");
    build();
    soon_.setSingleShot(true);
    soon_.setInterval(120);
    connect(&soon_, &QTimer::timeout, this, &OutPage::make);
    connect(kinds_, &QListWidget::currentRowChanged, this, [this] { refresh(); });
    connect(template_, &QPlainTextEdit::textChanged, this, [this] { soon_.start(); });
    connect(despite_, &QCheckBox::toggled, this, &OutPage::make);
    connect(polarity_, &QCheckBox::toggled, this, &OutPage::make);
    connect(write_, &QPushButton::clicked, this, &OutPage::write);
    connect(fields_, &QListWidget::itemActivated, this, [this](QListWidgetItem* item) {
        const auto name = item->text().section(QStringLiteral(" / "), -1).section(' ', 0, 0);
        template_->insertPlainText(QStringLiteral("{{%1}}").arg(name));
        template_->setFocus();
    });
}

void OutPage::build() {
    auto* all = new QHBoxLayout(this);
    all->setContentsMargins(16, 10, 16, 10);
    all->setSpacing(12);
    auto* left = new QVBoxLayout;
    kinds_->setObjectName("out.kinds");
    kinds_->setAccessibleName(tr("What is written"));
    kinds_->addItems({tr("Pin sheet (CSV)"), tr("Table (Markdown)"), tr("Page (HTML)"), tr("Your own template"),
                      tr("Adapter top (Verilog)"), tr("Adapter top (VHDL)")});
    kinds_->setFixedSize(184, 6 * 25 + 8);
    left->addWidget(kinds_);
    polarity_->setObjectName("out.polarity");
    polarity_->setChecked(true);
    polarity_->setText(tr("turn polarity as the\nboard asks for it"));
    left->addWidget(polarity_);
    left->addStretch(1);
    all->addLayout(left);
    auto* right = new QVBoxLayout;
    right->setSpacing(6);
    auto* split = new QSplitter(Qt::Vertical);
    build_template_box();
    split->addWidget(template_box_);
    preview_->setObjectName("out.preview");
    preview_->setAccessibleName(tr("The text as it would be written"));
    preview_->setReadOnly(true);
    preview_->setLineWrapMode(QPlainTextEdit::NoWrap);
    preview_->setProperty("mono", true);
    template_->setLineWrapMode(QPlainTextEdit::NoWrap);
    split->addWidget(preview_);
    right->addWidget(split, 1);
    auto* foot = new QHBoxLayout;
    write_->setObjectName("out.write");
    write_->setProperty("primary", true);
    despite_->setObjectName("out.despite");
    foot->addWidget(write_);
    foot->addWidget(despite_);
    foot->addWidget(state_, 1);
    right->addLayout(foot);
    all->addLayout(right, 1);
    kinds_->setCurrentRow(0);
}

void OutPage::build_template_box() {
    auto* box = new QVBoxLayout(template_box_);
    box->setContentsMargins(0, 0, 0, 0);
    auto* bar = new QHBoxLayout;
    auto* open = new QPushButton(tr("Open a template…"));
    open->setObjectName("out.open");
    connect(open, &QPushButton::clicked, this, &OutPage::open_template);
    path_->setProperty("role", "second");
    bar->addWidget(open);
    bar->addWidget(path_, 1);
    box->addLayout(bar);
    auto* pair = new QHBoxLayout;
    template_->setObjectName("out.template");
    template_->setAccessibleName(tr("Template text (Mustache)"));
    template_->setProperty("mono", true);
    pair->addWidget(template_, 1);
    fields_->setObjectName("out.fields");
    fields_->setAccessibleName(tr("Fields; Enter puts one into the template"));
    fields_->setFixedWidth(250);
    fields_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    fields_->setTextElideMode(Qt::ElideRight);
    for (const auto& f : template_fields()) {
        auto* item = new QListWidgetItem(q(f.name) + QStringLiteral("  ") + q(f.meaning), fields_);
        item->setToolTip(q(f.meaning));
    }
    pair->addWidget(fields_);
    box->addLayout(pair, 1);
}

OutPage::Kind OutPage::kind() const {
    return static_cast<Kind>(std::max(0, kinds_->currentRow()));
}
void OutPage::choose(Kind kind) {
    kinds_->setCurrentRow(kind);
}
QString OutPage::preview() const {
    return made_;
}

void OutPage::use_template(const QString& text, const QString& path) {
    template_->setPlainText(text);
    path_->setText(path);
    choose(own);
    make();
}

void OutPage::refresh() {
    if (!desk_.has_session()) return;
    template_box_->setVisible(kind() == own);
    polarity_->setVisible(kind() == verilog || kind() == vhdl);
    if (kind() == own && template_->toPlainText().isEmpty()) {
        // One of the examples that ship, so that there is something to change.
        if (const auto text = real_disk().read(data_folder() + "/templates/pins.list.mustache"))
            return use_template(q(text.value()), tr("an example that ships with Kite Peg"));
    }
    make();
}

void OutPage::make() {
    if (!desk_.has_session()) return;
    const auto& s = desk_.session();
    const auto counts = count(s.findings());
    const auto input = template_input(s, counts.stops);
    Result<std::string> text{std::string()};
    switch (kind()) {
        case csv: text = stops_remark(counts.stops, "") + write_sheet(input.rows); break;
        case markdown: text = markdown_sheet(input); break;
        case html: text = html_sheet(input); break;
        case own:
            text = render_template(template_->toPlainText().toStdString(), path_->text().toStdString(), input);
            break;
        case verilog:
        case vhdl:
            text = adapter_text(plan_adapter(s.world().netlist.ports, s.world().netlist.top, s.world().board,
                                             s.project(), s.world().standards, polarity_->isChecked()),
                                kind() == verilog ? AdapterLanguage::verilog : AdapterLanguage::vhdl);
            if (text) text = stops_remark(counts.stops, text.value()) + text.value();
            break;
    }
    good_ = text.ok();
    made_ = good_ ? q(text.value()) : QString();
    const auto shown = good_ ? made_ : q(text.first().sentence());
    if (preview_->toPlainText() != shown) preview_->setPlainText(shown);
    despite_->setVisible(counts.stops > 0);
    write_->setEnabled(good_ && (counts.stops == 0 || despite_->isChecked()));
    state_->setText(!good_ ? tr("nothing can be written")
                    : counts.stops > 0 && !despite_->isChecked()
                        ? tr("%1 open: nothing is written").arg(counted(counts.stops, "stop"))
                    : kind() == verilog || kind() == vhdl ? tr("read back and compared: it is as planned")
                                                          : QString());
    state_->setProperty("role", !good_ || (counts.stops > 0 && !despite_->isChecked()) ? "stop" : "second");
    state_->setStyleSheet(!good_ || (counts.stops > 0 && !despite_->isChecked())
                              ? QStringLiteral("color: %1;").arg(theme().stop.name())
                              : QString());
}

void OutPage::open_template() {
    const auto path = ask_file(this, tr("A template"), q(data_folder() + "/templates"),
                               tr("Mustache templates (*.mustache);;All files (*)"));
    if (path.isEmpty()) return;
    const auto text = real_disk().read(path.toStdString(), size_t{16} << 20);
    if (!text) return desk_.say(q(text.first().sentence()), true);
    use_template(q(text.value()), path);
}

void OutPage::write() {
    static const char* endings[] = {"pins.csv", "pins.md", "pins.html", "pins.txt", "adapter.v", "adapter.vhd"};
    const auto path = ask_where_to_save(this, tr("Write"),
                                        q(desk_.session().document().folder()) + '/' + QLatin1String(endings[kind()]));
    if (!path.isEmpty()) write_to(path);
}

bool OutPage::write_to(const QString& path) {
    make();
    if (!write_->isEnabled()) {
        desk_.say(state_->text(), true);
        return false;
    }
    std::vector<std::string> own{desk_.session().document().path()};
    for (const auto& f : desk_.session().project().constraints)
        own.push_back(join_path(desk_.session().document().folder(), f.path));
    for (const auto& f : desk_.session().world().files) own.push_back(f.full);
    auto status = check_outputs({path.toStdString()}, own);
    if (status) status = write_output(path.toStdString(), made_.toStdString());
    if (!status) {
        desk_.say(q(status.first().sentence()), true);
        return false;
    }
    if (kind() != verilog && kind() != vhdl) {
        desk_.say(tr("%1 written").arg(path));
        return true;
    }
    // The adapter's constraints speak its names; they lie beside it.
    const auto& s = desk_.session();
    auto sdc = path.toStdString();
    sdc = sdc.substr(0, sdc.rfind('.')) + ".sdc";
    status = check_outputs({sdc}, own);
    if (status)
        status = write_output(
            sdc, adapter_constraints(plan_adapter(s.world().netlist.ports, s.world().netlist.top, s.world().board,
                                                  s.project(), s.world().standards, polarity_->isChecked()),
                                     s.project()));
    if (!status) {
        desk_.say(q(status.first().sentence()), true);
        return false;
    }
    desk_.say(tr("%1 written, and its constraints as %2").arg(path, q(file_name_of(sdc))));
    return true;
}

}  // namespace kp::app
