// SPDX-License-Identifier: GPL-3.0-or-later
// Reading is a job while a text is long. State: text, pattern and marks live here until the page is left; patterns
// that were kept live with the user (PatternMemory).
#include "app/pegs/lines_page.hpp"

#include "app/pegs/example_line.hpp"
#include "app/pegs/lines_model.hpp"
#include "app/shell/counted.hpp"
#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "app/shell/ask_files.hpp"
#include "core/base/bytes.hpp"
#include "core/base/output.hpp"
#include "core/base/text.hpp"
#include "core/inputs/pattern_memory.hpp"
#include "core/session/user_memory.hpp"

#include <QApplication>
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableView>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <set>

namespace kp::app {

namespace {
QLabel* second(const QString& text) {
    auto* label = new QLabel(text);
    label->setProperty("role", "second");
    return label;
}
}  // namespace

LinesPage::LinesPage(Desk& desk)
    : desk_(desk),
      model_(new LinesModel(this)),
      example_(new ExampleLine),
      list_(new QTableView),
      spellings_(new QTreeWidget),
      known_(new QComboBox),
      which_(new QComboBox),
      name_(new QLineEdit),
      comment_(new QLineEdit(QStringLiteral("#"))),
      prefix_(new QLineEdit),
      summary_(new QLabel),
      trouble_(new QLabel),
      add_(new QPushButton(tr("Learn this line as a new shape"))),
      forget_(new QPushButton(tr("Forget this shape"))),
      compare_(new QPushButton(tr("Compare with the plan"))),
      build_(new QPushButton(tr("As pins of a build"))),
      write_(new QPushButton(tr("Write for this design…"))),
      table_(new QPushButton(tr("Copy as table"))),
      keep_(new QPushButton(tr("Keep"))),
      unused_(new QCheckBox(tr("keep unused lines"))) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(16, 8, 16, 10);
    all->setSpacing(6);
    all->addLayout(make_top());
    all->addLayout(make_shape_bar());
    all->addWidget(example_);
    trouble_->setWordWrap(true);
    trouble_->setTextFormat(Qt::PlainText);
    all->addWidget(trouble_);
    auto* two = new QHBoxLayout;
    list_->setObjectName("lines.list");
    list_->setAccessibleName(tr("Lines of the text, and how each reads"));
    list_->setModel(model_);
    list_->setSelectionBehavior(QAbstractItemView::SelectRows);
    list_->setSelectionMode(QAbstractItemView::SingleSelection);
    list_->setShowGrid(false);
    list_->verticalHeader()->hide();
    list_->verticalHeader()->setDefaultSectionSize(22);
    list_->horizontalHeader()->setStretchLastSection(true);
    list_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    const int widths[] = {46, 176, 84, 50, 114};
    for (int i = 0; i < 5; ++i) list_->setColumnWidth(i, widths[i]);
    two->addWidget(list_, 3);
    spellings_->setObjectName("lines.spellings");
    spellings_->setAccessibleName(tr("How they spell it, and how we do"));
    spellings_->setHeaderLabels({tr("theirs"), tr("ours")});
    spellings_->setRootIsDecorated(false);
    spellings_->setFixedWidth(214);
    spellings_->setColumnWidth(0, 108);
    two->addWidget(spellings_);
    all->addLayout(two, 1);
    summary_->setObjectName("lines.summary");
    all->addWidget(summary_);
    all->addLayout(make_foot());
    soon_.setSingleShot(true);
    soon_.setInterval(150);
    connect_all();
    show_shape();
    say_trouble({});
    took(lines::Reading{});
}

QLayout* LinesPage::make_top() {
    auto* top = new QHBoxLayout;
    auto* open_button = new QPushButton(tr("Open a text…"));
    auto* paste_button = new QPushButton(tr("Paste"));
    open_button->setObjectName("lines.open");
    paste_button->setObjectName("lines.paste");
    for (auto* b : {open_button, paste_button}) top->addWidget(b);
    top->addWidget(second(tr("read as")));
    known_->setObjectName("lines.known");
    known_->setAccessibleName(tr("Patterns that were kept"));
    known_->setMinimumWidth(150);
    top->addWidget(known_);
    top->addStretch(1);
    top->addWidget(second(tr("comments begin with")));
    comment_->setObjectName("lines.comment");
    comment_->setAccessibleName(tr("What begins a comment"));
    comment_->setFixedWidth(44);
    top->addWidget(comment_);
    top->addWidget(second(tr("pin prefix")));
    prefix_->setObjectName("lines.prefix");
    prefix_->setAccessibleName(tr("Prefix of their pin names"));
    prefix_->setFixedWidth(64);
    top->addWidget(prefix_);
    connect(open_button, &QPushButton::clicked, this, &LinesPage::open);
    connect(paste_button, &QPushButton::clicked, this, &LinesPage::paste);
    return top;
}

QLayout* LinesPage::make_shape_bar() {
    auto* bar = new QHBoxLayout;
    which_->setObjectName("lines.which");
    which_->setAccessibleName(tr("Shapes of lines"));
    add_->setObjectName("lines.add");
    forget_->setObjectName("lines.forget");
    bar->addWidget(which_);
    bar->addWidget(second(tr("Click a word and say what it is; the rest must match.")), 1);
    bar->addWidget(add_);
    bar->addWidget(forget_);
    return bar;
}

QLayout* LinesPage::make_foot() {
    auto* foot = new QHBoxLayout;
    name_->setObjectName("lines.name");
    name_->setAccessibleName(tr("Name of the pattern"));
    name_->setPlaceholderText(tr("name of the pattern"));
    name_->setMaximumWidth(170);
    keep_->setObjectName("lines.keep");
    compare_->setObjectName("lines.compare");
    write_->setObjectName("lines.write");
    table_->setObjectName("lines.table");
    unused_->setObjectName("lines.unused");
    unused_->setChecked(true);
    foot->addWidget(name_);
    foot->addWidget(keep_);
    foot->addStretch(1);
    foot->addWidget(unused_);
    for (auto* b : {write_, table_, build_, compare_}) foot->addWidget(b);
    build_->setObjectName("lines.build");
    compare_->setProperty("primary", true);
    return foot;
}

void LinesPage::connect_all() {
    connect(example_, &ExampleLine::changed, this, &LinesPage::example_changed);
    connect(add_, &QPushButton::clicked, this, &LinesPage::add_shape);
    connect(forget_, &QPushButton::clicked, this, &LinesPage::forget_shape);
    connect(&soon_, &QTimer::timeout, this, &LinesPage::read);
    connect(which_, &QComboBox::activated, this, [this](int i) {
        shape_ = static_cast<size_t>(std::max(0, i));
        show_shape();
    });
    connect(comment_, &QLineEdit::textEdited, this, [this] {
        pattern_.comment = comment_->text().toStdString();
        read_soon();
    });
    connect(prefix_, &QLineEdit::textEdited, this, [this] {
        pattern_.pin_prefix = prefix_->text().toStdString();
        read_soon();
    });
    connect(known_, &QComboBox::activated, this, [this](int i) {
        const auto all = PatternMemory(real_disk(), user_folder()).all();
        if (i > 0 && static_cast<size_t>(i) <= all.size()) use(all[static_cast<size_t>(i) - 1]);
    });
    connect(spellings_, &QTreeWidget::itemChanged, this, &LinesPage::spelled);
    connect(keep_, &QPushButton::clicked, this, &LinesPage::keep);
    connect(write_, &QPushButton::clicked, this, &LinesPage::write_out);
    connect(table_, &QPushButton::clicked, this, &LinesPage::copy_table);
    const auto sheet = [this] { return shown_words(sheet_of(model_->reading(), desk_.session().world().standards)); };
    const auto name = [this] { return file_.isEmpty() ? tr("pasted lines") : file_; };
    connect(compare_, &QPushButton::clicked, this, [this, sheet, name] { emit compare(sheet(), name()); });
    connect(build_, &QPushButton::clicked, this, [this, sheet, name] { emit compare_build(sheet(), name()); });
    connect(list_, &QTableView::activated, this, [this] { add_shape(); });
    fill_patterns();
}

void LinesPage::fill_patterns() {
    known_->clear();
    known_->addItem(tr("a new pattern"));
    for (const auto& p : PatternMemory(real_disk(), user_folder()).all()) known_->addItem(shown_words(p.name));
    known_->setCurrentText(shown_words(pattern_.name));
}

void LinesPage::open() {
    const auto path = ask_file(this, tr("A text with a line for each pin"));
    if (path.isEmpty()) return;
    auto text = real_disk().read(path.toStdString(), size_t{256} << 20);
    if (!text) return desk_.say(shown_words(text.first().sentence()), true);
    file_ = path;
    model_->set_text(text.take());
    show_text({}, {});
}

void LinesPage::paste() {
    show_text(QApplication::clipboard()->text(), {});
}

void LinesPage::show_text(const QString& text, const QString& file) {
    if (!text.isNull()) {
        file_ = file;
        model_->set_text(text.toStdString());
    }
    if (pattern_.shapes.empty()) {
        // The first line with several words that is not a sentence of remarks: most likely one of those to learn from.
        for (int row = 0; row < std::min(model_->rowCount(), 2000); ++row) {
            const auto line = model_->line(row);
            if (trim(line).empty() || trim(line).starts_with(pattern_.comment)) continue;
            list_->selectRow(row);
            break;
        }
        if (!list_->currentIndex().isValid() && model_->rowCount() > 0) list_->selectRow(0);
        add_shape();
    }
    read_soon();
}

void LinesPage::use(const lines::Pattern& pattern) {
    pattern_ = pattern;
    shape_ = 0;
    name_->setText(shown_words(pattern.name));
    comment_->setText(shown_words(pattern.comment));
    prefix_->setText(shown_words(pattern.pin_prefix));
    show_shape();
    read_soon();
}

void LinesPage::add_shape() {
    const auto line = model_->line(list_->currentIndex().row());
    if (trim(line).empty()) return desk_.say(tr("Choose a line of the text first."), true);
    // A shape without any mark is only a line that was looked at; it gives way.
    if (!pattern_.shapes.empty() && pattern_.shapes[shape_].marks.empty())
        pattern_.shapes[shape_] = {line, {}};
    else {
        pattern_.shapes.push_back({line, {}});
        shape_ = pattern_.shapes.size() - 1;
    }
    show_shape();
    example_->setFocus();
}

void LinesPage::forget_shape() {
    if (pattern_.shapes.empty()) return;
    pattern_.shapes.erase(pattern_.shapes.begin() + static_cast<std::ptrdiff_t>(shape_));
    shape_ = pattern_.shapes.empty() ? 0 : std::min(shape_, pattern_.shapes.size() - 1);
    show_shape();
    read_soon();
}

void LinesPage::show_shape() {
    which_->clear();
    for (size_t i = 0; i < pattern_.shapes.size(); ++i)
        which_->addItem(tr("shape %1 of %2").arg(i + 1).arg(pattern_.shapes.size()));
    which_->setVisible(pattern_.shapes.size() > 1);
    which_->setCurrentIndex(static_cast<int>(shape_));
    forget_->setEnabled(!pattern_.shapes.empty());
    example_->show_shape(pattern_.shapes.empty() ? lines::Shape{} : pattern_.shapes[shape_]);
}

void LinesPage::example_changed() {
    if (pattern_.shapes.empty()) return;
    pattern_.shapes[shape_] = example_->shape();
    read_soon();
}

void LinesPage::read_soon() {
    soon_.start();
}

/// Shapes that are marked already; one that is only begun reads nothing.
void LinesPage::read() {
    auto pattern = pattern_;
    std::erase_if(pattern.shapes, [](const lines::Shape& s) {
        return std::none_of(s.marks.begin(), s.marks.end(), [](const auto& m) { return m.field == "port"; });
    });
    if (pattern.shapes.empty()) {
        say_trouble(pattern_.shapes.empty() ? QString() : tr("Mark the word that is the port."));
        return took(lines::Reading{});
    }
    if (!desk_.has_session()) return;
    desk_.later<Result<lines::Reading>>(
        "lines", this,
        [pattern, text = model_->whole()](const std::shared_ptr<const Snapshot>&, const std::stop_token&) {
            return lines::read(pattern, text, "");
        },
        [this](Result<lines::Reading> reading) {
            say_trouble(reading ? QString() : shown_words(reading.first().text));
            if (reading) took(std::move(reading));
        });
}

void LinesPage::say_trouble(const QString& text) {
    trouble_->setText(text);
    trouble_->setVisible(!text.isEmpty());
}

void LinesPage::took(Result<lines::Reading> reading) {
    model_->set_reading(reading.take(), pattern_.comment);
    const auto& r = model_->reading();
    const auto commented = std::count_if(r.rows.begin(), r.rows.end(), [](const auto& row) { return row.commented; });
    QString said = tr("%1 read, %2 known and not used, %3 not read; %4")
                       .arg(counted(static_cast<int>(r.rows.size()), "line"), QString::number(commented),
                            QString::number(r.unread.size()), counted(static_cast<int>(r.joined.size()), "signal"));
    if (!r.messages.empty())
        said += QStringLiteral(". ") + shown_words(r.messages.front().text);
    else if (!r.unread.empty() && !r.rows.empty())
        said += tr(". Line %1 is not read: %2").arg(r.unread.front().line).arg(shown_words(r.unread.front().why));
    summary_->setText(said);
    for (auto* b : {compare_, build_, write_, table_}) b->setEnabled(!r.joined.empty());
    show_spellings();
}

void LinesPage::show_spellings() {
    if (!desk_.has_session()) return;
    const auto& standards = desk_.session().world().standards;
    filling_ = true;
    spellings_->clear();
    // What they write, by field: values that are turned into ours already are found among the spellings.
    std::map<std::string, std::set<std::string>> theirs;
    for (const auto& row : model_->reading().rows)
        for (const char* field : {"standard", "slew", "pull"})
            if (const auto at = row.values.find(field); at != row.values.end()) theirs[field].insert(at->second);
    for (const auto& [field, table] : pattern_.spellings)
        for (const auto& [their, our] : table) {
            theirs[field].erase(our);
            theirs[field].insert(their);
        }
    for (const auto& [field, words] : theirs)
        for (const auto& word : words) {
            const auto& known = pattern_.spellings[field];
            const auto at = known.find(word);
            auto our = at == known.end() ? word : at->second;
            const bool unknown = field == "standard" && !standards.find(our);
            if (unknown)
                if (const auto likely = lines::likely_standard(word, standards); !likely.empty()) our = likely;
            auto* item = new QTreeWidgetItem(spellings_, {shown_words(word), shown_words(our)});
            item->setFlags(item->flags() | Qt::ItemIsEditable);
            item->setData(0, Qt::UserRole, shown_words(field));
            item->setToolTip(0, tr("a %1 as the text spells it").arg(shown_words(field)));
            if (field == "standard" && !standards.find(our)) item->setForeground(1, theme().stop);
        }
    filling_ = false;
}

void LinesPage::spelled(QTreeWidgetItem* item, int column) {
    if (filling_ || column != 1) return;
    pattern_.spellings[item->data(0, Qt::UserRole).toString().toStdString()][item->text(0).toStdString()] =
        item->text(1).trimmed().toStdString();
    read_soon();
}

void LinesPage::keep() {
    pattern_.name = name_->text().trimmed().toStdString();
    // What was proposed and left as it is counts as said.
    if (desk_.has_session())
        for (int i = 0; i < spellings_->topLevelItemCount(); ++i) {
            const auto* item = spellings_->topLevelItem(i);
            if (item->text(0) != item->text(1))
                pattern_.spellings[item->data(0, Qt::UserRole).toString().toStdString()][item->text(0).toStdString()] =
                    item->text(1).toStdString();
        }
    const auto status = PatternMemory(real_disk(), user_folder()).keep(pattern_);
    if (!status) return desk_.say(shown_words(status.first().sentence()), true);
    fill_patterns();
    desk_.say(tr("The pattern %1 is kept for you; other projects can use it.").arg(name_->text().trimmed()));
}

std::string LinesPage::rewritten() const {
    const auto& s = desk_.session();
    const auto& r = model_->reading();
    return lines::rewrite(pattern_, model_->whole(), r, lines::used_by(r, s.world().netlist.ports, s.project()),
                          unused_->isChecked());
}

void LinesPage::write_out() {
    const auto path = ask_where_to_save(this, tr("Where the text goes"), file_);
    if (path.isEmpty()) return;
    const auto status = write_output(path.toStdString(), rewritten());
    if (!status) return desk_.say(shown_words(status.first().sentence()), true);
    desk_.say(tr("%1 is written.").arg(path));
}

void LinesPage::copy_table() {
    QApplication::clipboard()->setText(shown_words(sheet_of(model_->reading(), desk_.session().world().standards)));
    desk_.say(tr("The table is on the clipboard; Site makes a board or a part of it (From a table, Paste)."));
}

}  // namespace kp::app
