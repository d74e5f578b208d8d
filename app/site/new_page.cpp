// SPDX-License-Identifier: GPL-3.0-or-later
// Checked at every key by the function that makes the project, so that both say the same; what is typed is kept for
// the next start (settings).
#include "app/site/new_page.hpp"

#include "app/shell/counted.hpp"
#include "app/shell/settings.hpp"
#include "app/site/trouble_row.hpp"
#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "app/shell/ask_files.hpp"
#include "core/base/names.hpp"
#include "core/base/text.hpp"
#include "core/inputs/data_folder.hpp"
#include "core/inputs/world.hpp"

#include <QCheckBox>
#include <QComboBox>
#include <QDir>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

namespace kp::app {

NewPage::NewPage(Desk& desk)
    : desk_(desk),
      folder_(new QLineEdit),
      name_(new QLineEdit),
      top_(new QLineEdit),
      part_(new QComboBox),
      board_(new QComboBox),
      sources_(new QListWidget),
      copy_(new QCheckBox(tr("Copy them into the project's folder (else they are linked)"))),
      part_says_(new QLabel),
      ports_say_(new QLabel),
      troubles_(new QVBoxLayout),
      make_(new QPushButton(tr("Make the project"))),
      later_(new QPushButton(tr("Later; keep what is written"))) {
    auto* all = new QHBoxLayout(this);
    all->setContentsMargins(20, 14, 16, 12);
    all->setSpacing(24);
    auto* left = new QVBoxLayout;
    auto* heading = new QLabel(tr("A new project"));
    heading->setProperty("role", "heading");
    left->addWidget(heading);
    left->addWidget(form());
    auto* foot = new QHBoxLayout;
    foot->addWidget(make_);
    foot->addWidget(later_);
    foot->addStretch(1);
    left->addLayout(foot);
    left->addStretch(1);
    all->addLayout(left, 5);
    auto* right = new QVBoxLayout;
    auto* says = new QLabel(tr("Checks"));
    says->setProperty("role", "heading");
    right->addWidget(says);
    troubles_->setSpacing(0);
    right->addLayout(troubles_);
    right->addStretch(1);
    all->addLayout(right, 4);
    make_->setObjectName("new.make");
    connect(make_, &QPushButton::clicked, this, &NewPage::make);
    connect(later_, &QPushButton::clicked, this, &NewPage::done);
}

void NewPage::name_fields() {
    const auto named = [](QWidget* w, const char* id, const QString& name) {
        w->setObjectName(QLatin1String(id));
        w->setAccessibleName(name);
    };
    named(folder_, "new.folder", tr("Folder of the project"));
    named(name_, "new.name", tr("Name of the project"));
    named(part_, "new.part", tr("Ordering code of the part"));
    named(board_, "new.board", tr("Board"));
    named(top_, "new.top", tr("Top module"));
    named(sources_, "new.sources", tr("Sources of the design"));
}

QWidget* NewPage::form() {
    auto* box = new QWidget;
    auto* f = new QFormLayout(box);
    f->setContentsMargins(0, 6, 0, 6);
    f->setVerticalSpacing(10);
    name_fields();
    auto* with_folder = new QHBoxLayout;
    auto* browse = new QPushButton(tr("Choose…"));
    with_folder->addWidget(folder_, 1);
    with_folder->addWidget(browse);
    f->addRow(tr("Folder"), with_folder);
    f->addRow(tr("Name"), name_);
    part_->setEditable(true);
    part_->lineEdit()->setFont(mono(12));
    board_->setMinimumWidth(260);
    f->addRow(tr("Board"), board_);
    f->addRow(tr("Part"), part_);
    part_says_->setProperty("role", "second");
    part_says_->setWordWrap(true);
    f->addRow(QString(), part_says_);
    sources_->setFixedHeight(110);
    sources_->setFont(mono(12));
    sources_->setProperty("card", true);
    auto* files = new QHBoxLayout;
    auto* add = new QPushButton(tr("Add files…"));
    auto* remove = new QPushButton(tr("Take out"));
    files->addWidget(add);
    files->addWidget(remove);
    files->addStretch(1);
    auto* column = new QVBoxLayout;
    column->addWidget(sources_);
    column->addLayout(files);
    column->addWidget(copy_);
    f->addRow(tr("Sources"), column);
    top_->setPlaceholderText(tr("found by itself when there is one"));
    f->addRow(tr("Top"), top_);
    ports_say_->setProperty("role", "second");
    ports_say_->setWordWrap(true);
    f->addRow(QString(), ports_say_);
    connect(browse, &QPushButton::clicked, this, [this] {
        const auto path = ask_folder(this, tr("Folder of the project"), folder_->text());
        if (!path.isEmpty()) folder_->setText(path);
    });
    connect(add, &QPushButton::clicked, this, [this] {
        add_sources(ask_files(this, tr("Sources of the design"), folder_->text(),
                              tr("Design files (*.v *.sv *.vhd *.vhdl *.lib *.sdf *.sdc);;All files (*)")));
    });
    connect(remove, &QPushButton::clicked, this, [this] {
        qDeleteAll(sources_->selectedItems());
        changed();
    });
    follow_fields();
    return box;
}

void NewPage::follow_fields() {
    for (auto* line : {folder_, name_, top_}) connect(line, &QLineEdit::textChanged, this, &NewPage::changed);
    connect(part_, &QComboBox::currentTextChanged, this, &NewPage::changed);
    connect(board_, &QComboBox::currentIndexChanged, this, [this] {
        // A board brings its part, unless another one was chosen on purpose.
        if (!filling_)
            for (const auto& b : catalogue_.boards)
                if (q(b.file) == board_->currentData().toString()) part_->setCurrentText(q(b.part));
        changed();
    });
    connect(copy_, &QCheckBox::toggled, this, &NewPage::changed);
}

void NewPage::begin() {
    filling_ = true;
    ports_.reset();
    auto s = settings();
    const auto left = [&](const char* key) { return s.value(QStringLiteral("new/") + QLatin1String(key)); };
    folder_->setText(left("folder").toString());
    catalogue_ = read_catalogue(real_disk(), folder_->text().toStdString(), data_folder());
    name_->setText(left("name").toString());
    top_->setText(left("top").toString());
    part_->clear();
    for (const auto& code : catalogue_.codes()) part_->addItem(q(code));
    part_->setCurrentText(left("part").toString());
    board_->clear();
    board_->addItem(tr("none yet"), QString());
    for (const auto& b : catalogue_.boards) board_->addItem(tr("%1 (%2)").arg(q(b.name), q(b.part)), q(b.file));
    board_->setCurrentIndex(std::max(0, board_->findData(left("board").toString())));
    sources_->clear();
    sources_->addItems(left("sources").toStringList());
    copy_->setChecked(left("copy").isNull() || left("copy").toBool());
    filling_ = false;
    changed();
    (folder_->text().isEmpty() ? folder_ : name_)->setFocus();
}

void NewPage::add_sources(const QStringList& files) {
    sources_->addItems(files);
    changed();
}

NewProject NewPage::wanted() const {
    NewProject w;
    w.folder = folder_->text().trimmed().toStdString();
    w.name = name_->text().trimmed().toStdString();
    w.part = part_->currentText().trimmed().toUpper().toStdString();
    w.board = board_->currentData().toString().toStdString();
    for (int i = 0; i < sources_->count(); ++i) w.sources.push_back(sources_->item(i)->text().toStdString());
    w.copy = copy_->isChecked();
    w.top = top_->text().trimmed().toStdString();
    return w;
}

void NewPage::keep() const {
    const auto w = wanted();
    auto s = settings();
    const auto put = [&](const char* key, const QVariant& v) {
        s.setValue(QStringLiteral("new/") + QLatin1String(key), v);
    };
    put("folder", q(w.folder));
    put("name", q(w.name));
    put("part", q(w.part));
    put("board", q(w.board));
    put("top", q(w.top));
    put("copy", w.copy);
    QStringList sources;
    for (const auto& f : w.sources) sources << q(f);
    put("sources", sources);
}

void NewPage::changed() {
    if (filling_) return;
    keep();
    look();
}

void NewPage::look() {
    const auto w = wanted();
    clear_rows(troubles_);
    const auto found = check(real_disk(), w, catalogue_);
    bool can = true;
    for (const auto& m : found) {
        can = can && m.severity != Severity::stop;
        auto* row = new TroubleRow(m.severity, q(m.file.empty() ? m.text : file_name_of(m.file) + ": " + m.text));
        troubles_->addWidget(row);
        for (const auto& s : m.subjects) {
            if (s.meant.empty()) continue;
            auto* field = s.kind == Subject::folder ? folder_ : name_;
            row->add_way(tr("Take %1").arg(q(file_name_of(s.meant))), [field, s] { field->setText(q(s.meant)); });
        }
    }
    // The files are read when they or the top change, not at every key.
    auto read = w.sources;
    read.push_back(w.top);
    if (!ports_ || read != read_) {
        ports_ = ports_of(real_disk(), w);
        read_ = read;
    }
    if (!*ports_) {
        troubles_->addWidget(new TroubleRow(Severity::stop, q(ports_->first().sentence())));
        can = false;
    }
    const auto missing = [&](bool is, const QString& text) {
        if (is) troubles_->addWidget(new TroubleRow(Severity::note, text));
    };
    missing(w.board.empty(),
            tr("No board yet. Pegs can be given to balls; a board is chosen, or made from a table, at any time."));
    missing(w.part.empty() && w.board.empty(), tr("No part yet. Type what stands on the chip, or choose a board."));
    missing(w.sources.empty(),
            tr("No design yet. Its header is enough to plan pins; a netlist with delays comes later."));
    missing(can && found.empty(), tr("Ready to create."));
    make_->setEnabled(can);
    const auto* part = catalogue_.part_of(w.part);
    part_says_->setText(
        part ? tr("%1, %2, %3 logic cells")
                   .arg(counted(part->usable_pins(), "user pin"), counted(static_cast<int>(part->banks.size()), "bank"))
                   .arg(part->resources.logic_cells)
             : QString());
    const bool design = *ports_ && !ports_->value().top.empty();
    ports_say_->setText(design ? tr("%1: %2 in %3")
                                     .arg(q(ports_->value().top),
                                          counted(static_cast<int>(port_bits(ports_->value()).size()), "port"),
                                          q(ports_->value().language))
                               : QString());
}

void NewPage::make() {
    auto path = create_project(real_disk(), wanted(), catalogue_);
    if (!path) return desk_.say(q(path.first().sentence()), true);
    auto s = settings();
    s.remove(QStringLiteral("new"));
    if (desk_.open(q(path.value()))) emit done();
}

}  // namespace kp::app
