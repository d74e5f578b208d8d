// SPDX-License-Identifier: GPL-3.0-or-later
// Looking at a folder is a job (look_at_folder); what is chosen of it lives here until the project is made.
#include "app/site/folder_page.hpp"

#include "app/paint/canvas.hpp"
#include "app/shell/counted.hpp"
#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "app/shell/ask_files.hpp"
#include "core/base/bytes.hpp"
#include "core/base/names.hpp"
#include "core/base/text.hpp"
#include "core/inputs/data_folder.hpp"
#include "core/session/user_memory.hpp"

#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPointer>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace kp::app {

namespace {

constexpr size_t most_files_shown = 5000;  // lines of the tree
const char* const roles[] = {"hdl",   "netlist", "models", "cells", "delays", "constraints",
                             "table", "part",    "board",  "bench", "other"};

QString words_of(const std::string& role) {
    if (role == "hdl") return FolderPage::tr("HDL of the design");
    if (role == "netlist") return FolderPage::tr("netlist");
    if (role == "models") return FolderPage::tr("models of cells");
    if (role == "cells") return FolderPage::tr("cell library");
    if (role == "delays") return FolderPage::tr("delays");
    if (role == "constraints") return FolderPage::tr("constraints");
    if (role == "table") return FolderPage::tr("table of pins");
    if (role == "part") return FolderPage::tr("part");
    if (role == "board") return FolderPage::tr("board");
    if (role == "bench") return FolderPage::tr("simulation only");
    return FolderPage::tr("not taken");
}

}  // namespace

FolderPage::FolderPage(Desk& desk)
    : desk_(desk),
      files_(new QTreeWidget),
      tree_(new QTreeWidget),
      top_(new QComboBox),
      into_(new QLineEdit),
      name_(new QLineEdit),
      says_(new QLabel),
      comes_(new QLabel),
      make_(new QPushButton(tr("Make the project"))),
      add_(new QPushButton(tr("Add what is new to this project"))) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(20, 14, 16, 12);
    all->addLayout(make_top());
    says_->setProperty("role", "second");
    says_->setTextFormat(Qt::PlainText);
    says_->setWordWrap(true);
    all->addWidget(says_);
    auto* two = new QHBoxLayout;
    files_->setObjectName("folder.files");
    files_->setAccessibleName(tr("Files of the folder and what each is"));
    files_->setHeaderLabels({tr("file"), tr("type"), tr("reason")});
    files_->setRootIsDecorated(false);
    files_->setColumnWidth(0, 200);
    files_->setColumnWidth(1, 158);
    two->addWidget(files_, 3);
    tree_->setObjectName("folder.tree");
    tree_->setAccessibleName(tr("Tree of modules"));
    tree_->setHeaderLabels({tr("module"), tr("instances"), tr("file")});
    tree_->setColumnWidth(0, 180);
    tree_->setColumnWidth(1, 72);
    two->addWidget(tree_, 2);
    all->addLayout(two, 1);
    comes_->setObjectName("folder.comes");
    comes_->setWordWrap(true);
    all->addWidget(comes_);
    all->addLayout(make_foot());
    connect(&desk_, &Desk::opened, this, &FolderPage::preview);
    preview();
}

FolderPage::~FolderPage() = default;

QLayout* FolderPage::make_top() {
    auto* top = new QHBoxLayout;
    auto* heading = new QLabel(tr("Take over a folder"));
    heading->setProperty("role", "heading");
    auto* choose_button = new QPushButton(tr("Choose a folder…"));
    auto* back = new QPushButton(tr("Back to Site"));
    choose_button->setObjectName("folder.choose");
    top->addWidget(heading);
    top->addStretch(1);
    top->addWidget(choose_button);
    top->addWidget(back);
    connect(choose_button, &QPushButton::clicked, this, &FolderPage::choose);
    connect(back, &QPushButton::clicked, this, &FolderPage::done);
    return top;
}

QLayout* FolderPage::make_foot() {
    auto* foot = new QHBoxLayout;
    const auto field = [&](const QString& label, QWidget* w, const char* id, int width) {
        foot->addWidget(new QLabel(label));
        w->setObjectName(QLatin1String(id));
        w->setAccessibleName(label);
        w->setMinimumWidth(width);
        foot->addWidget(w);
    };
    field(tr("Top"), top_, "folder.top", 110);
    field(tr("Project in"), into_, "folder.into", 140);
    field(tr("named"), name_, "folder.name", 80);
    foot->addStretch(1);
    add_->setObjectName("folder.add");
    make_->setObjectName("folder.make");
    make_->setProperty("primary", true);
    foot->addWidget(add_);
    foot->addWidget(make_);
    connect(make_, &QPushButton::clicked, this, &FolderPage::make);
    connect(add_, &QPushButton::clicked, this, &FolderPage::add_to_project);
    for (auto* line : {into_, name_}) connect(line, &QLineEdit::textChanged, this, &FolderPage::preview);
    connect(top_, &QComboBox::activated, this, [this] {
        if (view_) view_->top = top_->currentText().toStdString();
        fill_tree();
        preview();
    });
    return foot;
}

void FolderPage::choose() {
    const auto path = ask_folder(this, tr("A folder to take over"), folder_);
    if (!path.isEmpty()) look(path);
}

void FolderPage::look(const QString& folder) {
    folder_ = folder;
    looking_ = true;
    view_.reset();
    files_->clear();
    tree_->clear();
    says_->setText(tr("Looking at %1 …").arg(folder));
    preview();
    const int ticket = ++tickets_;
    thread_ = std::jthread(
        [guard = QPointer<FolderPage>(this), this, ticket, path = folder.toStdString()](const std::stop_token& stop) {
            auto view = std::make_shared<Result<FolderView>>(look_at_folder(real_disk(), path, stop));
            if (stop.stop_requested()) return;
            // The page outlives the thread, which it joins; the call is dropped with the page.
            QMetaObject::invokeMethod(
                this,
                [guard, ticket, view] {
                    if (guard && ticket == guard->tickets_) guard->took(std::move(*view));
                },
                Qt::QueuedConnection);
        });
}

void FolderPage::took(Result<FolderView> view) {
    looking_ = false;
    if (!view) {
        says_->setText(shown_words(view.first().sentence()));
        return;
    }
    view_ = view.take();
    const auto& v = *view_;
    says_->setText(v.messages.empty() ? tr("%1 in %2").arg(counted(static_cast<int>(v.files.size()), "file"), folder_)
                                      : shown_words(v.messages.front().sentence()));
    top_->clear();
    for (const auto& name : v.candidates) top_->addItem(shown_words(name));
    top_->setCurrentText(shown_words(v.top));
    if (v.top.empty()) top_->setCurrentIndex(-1);
    const auto name = v.top.empty() ? file_name_of(folder_.toStdString()) : v.top;
    if (into_->text().isEmpty()) into_->setText(folder_ + QStringLiteral("/plan"));
    if (name_->text().isEmpty()) name_->setText(shown_words(portable_name(name)));
    fill_files();
    fill_tree();
    preview();
}

void FolderPage::fill_files() {
    filling_ = true;
    files_->clear();
    for (const auto& f : view_->files) {
        auto* item = new QTreeWidgetItem(files_, {shown_words(f.path), QString(), shown_words(f.why)});
        item->setFont(0, mono(12));
        item->setToolTip(0, shown_words(f.path));
        item->setToolTip(2, shown_words(f.why));
        const bool taken = f.role != "other" && f.role != "bench";
        for (const int c : {0, 2}) item->setForeground(c, taken && c == 0 ? theme().ink : theme().second);
        if (static_cast<size_t>(files_->topLevelItemCount()) > most_files_shown) break;
        auto* role = new QComboBox;
        for (const char* one : roles) role->addItem(words_of(one), QLatin1String(one));
        role->setCurrentText(words_of(f.role));
        role->setAccessibleName(tr("What %1 is").arg(shown_words(f.path)));
        files_->setItemWidget(item, 1, role);
        connect(role, &QComboBox::activated, this,
                [this, role, path = shown_words(f.path)] { set_role(path, role->currentData().toString()); });
    }
    filling_ = false;
}

void FolderPage::set_role(const QString& path, const QString& role) {
    if (!view_) return;
    view_->set_role(path.toStdString(), role.toStdString());
    for (int i = 0; i < files_->topLevelItemCount(); ++i)
        if (auto* item = files_->topLevelItem(i); item->text(0) == path) {
            item->setText(2, tr("as you said"));
            if (auto* box = qobject_cast<QComboBox*>(files_->itemWidget(item, 1)))
                box->setCurrentText(words_of(role.toStdString()));
        }
    preview();
}

/// A module below another, with how often; what is in no file of the folder is a leaf.
void FolderPage::add_below(QTreeWidgetItem* item, const std::string& module, int level) {
    const auto& all = view_->hierarchy;
    const auto at = std::lower_bound(all.begin(), all.end(), module,
                                     [](const FolderModule& m, const std::string& name) { return m.module < name; });
    if (at == all.end() || at->module != module || level > 32) return;
    item->setText(2, shown_words(at->file));
    if (!at->only_simulated.empty()) {
        item->setText(0, item->text(0) + tr(" (simulation only)"));
        item->setToolTip(0, shown_words(at->only_simulated));
        item->setForeground(0, theme().second);
    }
    for (const auto& [type, count] : at->instances) {
        if (++shown_ > most_files_shown) return;
        auto* below =
            new QTreeWidgetItem(item, {shown_words(type), count > 1 ? QString::number(count) : QString(), QString()});
        below->setFont(0, mono(12));
        if (type != module) add_below(below, type, level + 1);
    }
}

void FolderPage::fill_tree() {
    tree_->clear();
    shown_ = 0;
    std::vector<std::string> roots;
    if (!view_->top.empty()) roots.push_back(view_->top);
    for (const auto& name : view_->candidates)
        if (name != view_->top) roots.push_back(name);
    for (const auto& m : view_->hierarchy)
        if (!m.only_simulated.empty()) roots.push_back(m.module);
    for (const auto& name : roots) {
        auto* item = new QTreeWidgetItem(tree_, {shown_words(name), QString(), QString()});
        item->setFont(0, mono(12, name == view_->top));
        add_below(item, name, 0);
        item->setExpanded(name == view_->top);
    }
}

NewProject FolderPage::wanted() const {
    auto w = project_of(*view_, folder_.toStdString());
    w.folder = into_->text().trimmed().toStdString();
    w.name = name_->text().trimmed().toStdString();
    return w;
}

/// What would come of it, in a sentence; nothing is written.
void FolderPage::preview() {
    add_->setVisible(desk_.has_session());
    make_->setEnabled(false);
    add_->setEnabled(false);
    if (!view_) return comes_->setText(looking_ ? QString() : tr("Nothing is made before you have seen it."));
    QStringList parts;
    for (const char* role : {"netlist", "models", "cells", "delays", "constraints", "hdl"})
        if (const auto n = view_->with_role(role).size(); n > 0)
            parts << QStringLiteral("%1 × %2").arg(n).arg(words_of(role));
    const auto w = wanted();
    const auto troubles = check(real_disk(), w, {});
    const auto stop =
        std::find_if(troubles.begin(), troubles.end(), [](const Message& m) { return m.severity == Severity::stop; });
    make_->setEnabled(stop == troubles.end() && !w.sources.empty());
    QString text =
        parts.isEmpty()
            ? tr("Nothing in it is taken.")
            : tr("The project would link %1; files stay where they are.").arg(parts.join(QStringLiteral(", ")));
    if (const auto tables = view_->with_role("table"); !tables.empty())
        text += tr(" Tables of pins are compared on Pegs, or make a board: %1.").arg(shown_words(list_names(tables)));
    if (desk_.has_session()) {
        const auto& s = desk_.session();
        const auto c =
            compare_folder(real_disk(), s.project(), s.document().folder(), w.sources, folder_.toStdString());
        add_->setEnabled(!c.fresh.empty());
        text += tr(" %1 would get %2.")
                    .arg(shown_words(s.project().name), counted(static_cast<int>(c.fresh.size()), "new file"));
        if (!c.gone.empty()) text += tr(" Gone: %1.").arg(shown_words(list_names(c.gone)));
    } else if (stop != troubles.end()) {
        text += QStringLiteral(" ") + shown_words(stop->text);
    }
    comes_->setText(text);
}

void FolderPage::make() {
    if (!view_) return;
    const auto w = wanted();
    const auto path = create_project(real_disk(), w, read_catalogue(real_disk(), w.folder, data_folder()));
    if (!path) return desk_.say(shown_words(path.first().sentence()), true);
    // Its files lie outside of its folder, and its maker has just chosen them.
    std::vector<std::string> real{real_disk().real_path(folder_.toStdString())};
    if (const auto status = UserMemory(real_disk(), user_folder()).allow(real_disk().real_path(path.value()), real);
        !status)
        desk_.say(shown_words(status.first().sentence()), true);
    if (desk_.open(path.value())) emit done();
}

void FolderPage::add_to_project() {
    if (!view_ || !desk_.has_session()) return;
    const auto& s = desk_.session();
    const auto w = wanted();
    const auto changes =
        compare_folder(real_disk(), s.project(), s.document().folder(), w.sources, folder_.toStdString());
    if (!desk_.allow({folder_.toStdString()})) return;
    const auto edit = add_files(real_disk(), s.project(), s.document().folder(), changes.fresh, false,
                                s.world().library, nullptr, w.netlists);
    if (!edit) return desk_.say(shown_words(edit.first().sentence()), true);
    desk_.apply(edit.value(), [this] { preview(); });
}

}  // namespace kp::app
