// SPDX-License-Identifier: GPL-3.0-or-later
// Contradictions between the inputs come from the findings; the board is drawn by paint/board_view. State: which
// page is in front, and a part's place while it is moved.
#include "app/site/site_station.hpp"

#include "app/site/part_making.hpp"

#include "app/site/cards.hpp"
#include "app/site/files_card.hpp"
#include "app/site/folder_page.hpp"
#include "app/site/new_page.hpp"
#include "app/site/reread_page.hpp"
#include "app/site/table_page.hpp"
#include "core/base/names.hpp"
#include "app/shell/ground.hpp"
#include "app/shell/counted.hpp"
#include "app/shell/ask_files.hpp"
#include "app/theme/text.hpp"
#include "core/base/text.hpp"
#include "core/format/bsdl/read.hpp"
#include "core/format/json/world_json.hpp"
#include "core/inputs/data_folder.hpp"

#include <QGridLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace kp::app {

namespace {
QString way_out(const Session& s, const Finding& f) {
    const auto fixes = s.fixes_of(f);
    return fixes.empty() ? QString() : QObject::tr("possible fix: %1").arg(q(fixes[0].text));
}
}  // namespace

std::vector<Disagreement> disagreements(const Session& s) {
    std::vector<Disagreement> out;
    for (const auto& f : s.findings())
        if ((f.rule == "D01" || f.rule == "D04") && !f.waived) out.push_back({f.severity, q(f.text), way_out(s, f)});
    for (const auto& lacking : still_missing(s.project())) out.push_back({lacking.severity, q(lacking.text), {}});
    for (const auto& note : s.world().notes) out.push_back({note.severity, q(note.sentence()), {}});
    return out;
}

SiteStation::SiteStation(Desk& desk, QWidget* parent)
    : Station(desk, parent),
      pages_(new QStackedWidget),
      part_(new PartCard(desk)),
      board_(new BoardCard(desk)),
      agreement_(new AgreementCard(desk)),
      files_(new FilesCard(desk)),
      new_(new NewPage(desk)),
      table_(new TablePage(desk)),
      reread_(new RereadPage(desk)),
      folder_(new FolderPage(desk)),
      code_(new QLineEdit(part_)),
      make_new_(new QPushButton(tr("New project…"), board_)),
      open_(new QPushButton(tr("Open a project…"), board_)),
      take_over_(new QPushButton(tr("Take over a folder…"), board_)),
      by_hand_(desk) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->addWidget(pages_);
    pages_->addWidget(overview());
    for (QWidget* page : {static_cast<QWidget*>(new_), static_cast<QWidget*>(table_), static_cast<QWidget*>(reread_),
                          static_cast<QWidget*>(folder_)})
        pages_->addWidget(page);
    connect(folder_, &FolderPage::done, this, [this] { show_page(0); });
    connect(new_, &NewPage::done, this, [this] { show_page(0); });
    connect(table_, &TablePage::done, this, [this] { show_page(0); });
    connect(reread_, &RereadPage::done, this, [this] { show_page(0); });
    connect(reread_, &RereadPage::ready, this, [this] { show_page(3); });
    connect(files_, &FilesCard::read_again_wanted, this, [this] { reread_->look(); });
    connect(files_, &FilesCard::top_wanted, this, &SiteStation::choose_top);
    connect(&desk_, &Desk::selected, this, [this] { board_->update(); });
    connect(&desk_, &Desk::disk_changed, this, [this] {
        if (const auto changed = desk_.changed_on_disk(); !changed.empty())
            desk_.say(tr("%1 changed on disk; Site shows what is different before anything is taken over.")
                          .arg(q(list_names(changed))));
        refresh();
    });
    connect(&desk_, &Desk::opened, this, [this] {
        if (pages_->currentIndex() != 0) show_page(0);
        make_new_->setVisible(!desk_.has_session());
        open_->setVisible(!desk_.has_session());
        take_over_->setVisible(!desk_.has_session());
        read_catalogue_soon();
        files_->refresh();
    });
    make_actions();
    files_->refresh();
}

QWidget* SiteStation::overview() {
    auto* page = new QWidget;
    auto* grid = new QGridLayout(page);
    grid->setContentsMargins(20, 14, 16, 10);
    grid->setSpacing(12);
    auto* top = new QHBoxLayout;
    part_->setFixedWidth(320);
    top->addWidget(part_);
    top->addWidget(board_, 1);
    grid->addLayout(top, 0, 0, 1, 2);
    grid->addWidget(agreement_, 1, 0);
    grid->addWidget(files_, 1, 1);
    grid->setRowStretch(0, 5);
    grid->setRowStretch(1, 3);
    grid->setColumnStretch(0, 1);
    grid->setColumnStretch(1, 1);
    code_->setGeometry(132, 5, 174, 27);
    code_->setFont(mono(12));
    code_->setObjectName("site.code");
    code_->setAccessibleName(tr("Ordering code of the part"));
    code_->setToolTip(
        tr("The ordering code as it stands on the chip; Enter takes it, Down lists those that are known"));
    connect(code_, &QLineEdit::textEdited, this, [this] { code_typed(); });
    connect(code_, &QLineEdit::returnPressed, this, [this] { take_code(code_->text()); });
    connect(part_, &PartCard::code_wanted, this, [this](const QString& code) { take_code(code); });
    make_new_->setGeometry(14, 96, 130, 30);
    open_->setGeometry(152, 96, 140, 30);
    take_over_->setGeometry(300, 96, 164, 30);
    take_over_->setObjectName("site.take_over");
    connect(take_over_, &QPushButton::clicked, this, [this] { show_page(4); });
    connect(make_new_, &QPushButton::clicked, this, [this] { show_page(1); });
    connect(open_, &QPushButton::clicked, this, [this] { desk_.run_command(QStringLiteral("project.open")); });
    return page;
}

void SiteStation::make_actions() {
    auto* fresh = new QAction(tr("New project…"), this);
    fresh->setObjectName("project.new");
    fresh->setShortcut(QKeySequence::New);
    connect(fresh, &QAction::triggered, this, [this] {
        desk_.go_to(Place::site);
        show_page(1);
    });
    addAction(fresh);
    add_action("site.code", tr("Type an ordering code"), {}, [this] {
        desk_.go_to(Place::site);
        show_page(0);
        code_->setFocus();
        code_->selectAll();
    });
    add_action("site.pick", tr("Pick an ordering code…"), {}, [this] { pick_code(); });
    add_action("site.board", tr("Take another board…"), {}, [this] { pick_board(); });
    add_action("site.module", tr("Fit a module to a header…"), {}, [this] { fit_module_action(); });
    add_action("site.top", tr("Name the top module…"), {}, [this] {
        const auto& s = desk_.session();
        std::vector<std::string> files;
        for (const auto* list : {&s.project().netlists, &s.project().sources})
            for (const auto& path : *list) files.push_back(join_path(s.document().folder(), path));
        choose_top({}, module_names(real_disk(), files));
    });
    add_action("site.table", tr("Make a board or a part from a table…"), {}, [this] {
        desk_.go_to(Place::site);
        show_page(2);
    });
    add_action("site.folder", tr("Take over a folder that exists…"), {}, [this] {
        desk_.go_to(Place::site);
        show_page(4);
    });
    add_action("site.part_note", tr("Write a note beside a board part…"), {}, [this] { by_hand_.note_part(); });
    add_action("site.part_order", tr("Order the terminals of a board part…"), {}, [this] { by_hand_.order_part(); });
    add_action("site.before_power", tr("Tick or add a check before power-on…"), {},
               [this] { by_hand_.before_power(); });
    add_action("site.bsdl", tr("Make a part from BSDL…"), {}, [this] { part_from_bsdl(); });
    make_setting_actions();
    add_action("site.reread", tr("Show what changed on disk"), QKeySequence(QStringLiteral("Ctrl+Shift+R")), [this] {
        desk_.go_to(Place::site);
        reread_->look();
    });
}

void SiteStation::pick_setting(const std::string& field, const QString& prompt,
                               const std::vector<std::pair<std::string, QString>>& values) {
    std::vector<Chooser::Item> items;
    const auto now = field_text(desk_.session().project(), field);
    for (const auto& [value, says] : values)
        items.push_back({value.empty() ? tr("not decided here") : q(value),
                         value == now ? tr("now; %1").arg(says) : says, [this, field, value] {
                             const auto& p = desk_.session().project();
                             desk_.apply(Edit{"set " + field + " to " + (value.empty() ? "nothing" : value),
                                              {set_field(p, field, value)}});
                         }});
    choose(prompt, std::move(items));
}

/// What is decided of the part as a whole; rules L10, L12, P02 and P03 look at it.
void SiteStation::make_setting_actions() {
    add_action("site.mode", tr("Choose the configuration mode…"), {}, [this] {
        const auto& w = desk_.session().world();
        std::vector<std::pair<std::string, QString>> values{
            {"", tr("the board is made for %1").arg(w.board.mode.empty() ? tr("none") : q(w.board.mode))}};
        for (const auto& m : w.part.modes) values.emplace_back(m.name, tr("%1 start-up clock").arg(q(m.start_clock)));
        pick_setting("mode", tr("a configuration mode"), values);
    });
    add_action("site.start_clock", tr("Choose the start-up clock…"), {}, [this] {
        pick_setting("start_clock", tr("a start-up clock"),
                     {{"", tr("the one of the mode")},
                      {"internal", tr("the oscillator on the part")},
                      {"external", tr("the clock that brings the design")},
                      {"jtag", tr("the clock of the cable")}});
    });
    add_action("site.load", tr("Choose how the design is loaded…"), {}, [this] {
        pick_setting("load", tr("how the design is loaded"),
                     {{"", tr("open")},
                      {"stored", tr("kept on the board, loaded at power-on")},
                      {"volatile", tr("by cable, lost with power")}});
    });
    add_action("site.unused", tr("Choose what unused pins do…"), {}, [this] {
        pick_setting("unused_pins", tr("what unused pins do"),
                     {{"", tr("they float")},
                      {"float", tr("inputs without a pull")},
                      {"pull up", tr("inputs with a weak pull")},
                      {"pull down", tr("inputs with a weak pull")},
                      {"drive low", tr("outputs at ground")}});
    });
}

void SiteStation::show_page(int page) {
    pages_->setCurrentIndex(page);
    if (page == 1) new_->begin();
    if (page == 2) table_->begin();
    if (page == 0 && desk_.has_session()) {
        read_catalogue_soon();
        refresh();
    }
}

void SiteStation::code_typed() {
    const auto typed = code_->text().trimmed().toUpper().toStdString();
    const auto& grammar = !desk_.has_session() || desk_.session().world().part.ordering.empty()
                              ? (catalogue().parts.empty() ? std::vector<CodeElement>{} : catalogue().parts[0].ordering)
                              : desk_.session().world().part.ordering;
    part_->show_typed(typed, catalogue().part_of(typed) ? catalogue().part_of(typed)->ordering : grammar,
                      catalogue().codes());
}

/// Reads parts and boards beside the window, so that they are there when somebody asks.
void SiteStation::read_catalogue_soon() {
    catalogue_.reset();
    desk_.later<Catalogue>(
        "catalogue", this,
        [](const std::shared_ptr<const Snapshot>& now, const std::stop_token&) {
            return read_catalogue(*now->grounds->disk, now->grounds->folder, now->grounds->data);
        },
        [this](Catalogue read) { catalogue_ = std::move(read); });
}

/// Who asks before it was read waits for it.
const Catalogue& SiteStation::catalogue() {
    if (!catalogue_)
        catalogue_ = read_catalogue(
            real_disk(), desk_.has_session() ? desk_.session().document().folder() : std::string(), data_folder());
    return *catalogue_;
}

void SiteStation::take_code(const QString& text) {
    if (!desk_.has_session()) return;
    const auto now = desk_.session().project().part;
    const auto wanted = text.trimmed().toUpper().toStdString();
    if (wanted == now) return part_->show_typed("", {});
    desk_.apply(
        Edit{"take the part " + wanted, {FieldChange{"part", now, wanted}}},
        [this, wanted] {
            part_->show_typed("", {});
            code_->setText(q(wanted));
        },
        [this, wanted] {
            // What was typed stays to be mended; the card shows it letter by letter beside the nearest code.
            code_->setText(q(wanted));
            code_typed();
        });
}

/// The window's one chooser.
void SiteStation::choose(const QString& prompt, std::vector<Chooser::Item> items) {
    desk_.choose(prompt, std::move(items));
}

void SiteStation::choose_top(const Edit& edit, const std::vector<std::string>& modules) {
    if (modules.empty()) return desk_.say(tr("No file of the design has a module with ports."), true);
    std::vector<Chooser::Item> items;
    for (const auto& name : modules)
        items.push_back(
            {q(name), name == desk_.session().project().top ? tr("top now") : QString(), [this, edit, name] {
                 Edit all = edit;
                 if (all.title.empty()) all.title = "take " + name + " as the top";
                 if (name != desk_.session().project().top)
                     all.changes.push_back(set_field(desk_.session().project(), "top", name));
                 // The top goes first: the files are read with it.
                 std::rotate(all.changes.begin(), all.changes.end() - (all.changes.empty() ? 0 : 1), all.changes.end());
                 desk_.apply(all);
             }});
    choose(tr("which module is the top?"), std::move(items));
}

void SiteStation::pick_code() {
    std::vector<Chooser::Item> items;
    for (const auto& code : catalogue().codes()) {
        const auto* part = catalogue().part_of(code);
        items.push_back({q(code), part ? tr("%1 user pins").arg(part->usable_pins()) : QString(),
                         [this, code] { take_code(q(code)); }});
    }
    choose(tr("an ordering code"), std::move(items));
}

void SiteStation::pick_board() {
    std::vector<Chooser::Item> items;
    for (const auto& b : catalogue().boards)
        items.push_back({q(b.name), q(b.part), [this, b] {
                             const auto& p = desk_.session().project();
                             Edit edit{"take the board " + b.name, {set_field(p, "board", b.file)}};
                             if (p.part.empty()) edit.changes.push_back(set_field(p, "part", b.part));
                             desk_.apply(edit);
                         }});
    choose(tr("a board"), std::move(items));
}

void SiteStation::fit_module_action() {
    std::vector<Chooser::Item> items;
    const auto& board = desk_.session().world().board;
    for (const auto& part : board.parts) {
        if (part.kind != "header" || !part.module.empty()) continue;
        const auto here = std::find_if(board.fitted.begin(), board.fitted.end(),
                                       [&](const std::string& f) { return f.ends_with("@" + part.ref); });
        const auto change = [this](const std::string& title, std::vector<std::string> list) {
            desk_.apply(Edit{title, {set_field(desk_.session().project(), "modules", lines_of(list))}});
        };
        const auto now = desk_.session().project().modules;
        if (here != board.fitted.end()) {
            auto rest = now;
            rest.erase(std::remove_if(rest.begin(), rest.end(),
                                      [&](const std::string& f) { return f.ends_with("@" + part.ref); }),
                       rest.end());
            items.push_back({tr("take %1 off %2").arg(q(here->substr(0, here->find('@'))), q(part.ref)), q(part.label),
                             [change, rest, ref = part.ref] { change("take the module off " + ref, rest); }});
            continue;
        }
        for (const auto& module : catalogue().modules) {
            auto more = now;
            more.push_back(module + "@" + part.ref);
            items.push_back({tr("%1 on %2").arg(q(module), q(part.ref)), q(part.label),
                             [change, more, module, ref = part.ref] { change("fit " + module + " on " + ref, more); }});
        }
    }
    if (items.empty()) return desk_.say(tr("This board has no header that takes a module."), true);
    choose(tr("a module and a header"), std::move(items));
}

void SiteStation::part_from_bsdl() {
    const auto path = ask_file(this, tr("Open BSDL"), {}, tr("BSDL (*.bsd *.bsdl *.bsm);;All files (*)"));
    if (path.isEmpty()) return;
    auto text = real_disk().read(path.toStdString(), size_t{32} << 20);
    if (!text) return desk_.say(q(text.first().sentence()), true);
    auto bsdl = read_bsdl(text.value(), file_name_of(path.toStdString()));
    if (!bsdl) return desk_.say(q(bsdl.first().sentence()), true);
    auto part = kp::part_from_bsdl(bsdl.value());
    if (!part) return desk_.say(q(part.first().sentence()), true);
    take_part(desk_, part.value(), [this] {
        desk_.say(
            tr("The part is written; BSDL knows no banks, standards and limits: join its pin list, or add them in the "
               "file."));
    });
}

void SiteStation::refresh() {
    if (!desk_.has_session()) return;
    if (!code_->hasFocus()) code_->setText(q(desk_.session().project().part));
    for (QWidget* w : {static_cast<QWidget*>(part_), static_cast<QWidget*>(board_), static_cast<QWidget*>(agreement_)})
        w->update();
    files_->refresh();
}

KnotState SiteStation::standing() const {
    const auto list = disagreements(desk_.session());
    const auto of = [&](Severity severity) {
        return std::count_if(list.begin(), list.end(), [&](const auto& d) { return d.severity == severity; });
    };
    const auto stops = of(Severity::stop), open = stops + of(Severity::caution);
    if (const auto missing = missing_ground(desk_.session()); stops == 0 && !missing.isEmpty())
        return {tr("Site"), missing, Standing::open};
    if (open == 0) return {tr("Site"), tr("agrees"), Standing::good};
    return {tr("Site"), tr("%1 open").arg(open), stops ? Standing::stop : Standing::caution};
}

QString SiteStation::status() const {
    const auto& s = desk_.session();
    return tr("%1, %2, top %3")
        .arg(counted(static_cast<int>(s.world().netlist.ports.size()), "port"),
             counted(static_cast<int>(s.world().netlist.cells.size()), "cell"), q(s.world().netlist.top));
}

}  // namespace kp::app
