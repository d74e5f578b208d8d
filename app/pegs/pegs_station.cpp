// SPDX-License-Identifier: GPL-3.0-or-later
// Holds the pages and the commands that work on what is selected. Legality is asked of a Trial, proposals of
// core/planning; each command is one edit. State: which page is in front.
#include "app/pegs/pegs_station.hpp"

#include "app/shell/ground.hpp"
#include "app/pegs/peg_asking.hpp"

#include "app/pegs/attribute_pane.hpp"
#include "app/pegs/footprint.hpp"
#include "app/pegs/footprint_side.hpp"
#include "app/pegs/lanes_page.hpp"
#include "app/pegs/lines_page.hpp"
#include "app/pegs/loom.hpp"
#include "app/pegs/out_page.hpp"
#include "app/pegs/place_page.hpp"
#include "app/pegs/sheet_view.hpp"
#include "app/shell/chooser.hpp"
#include "app/shell/counted.hpp"
#include "app/shell/ask_files.hpp"
#include "app/theme/text.hpp"
#include "core/base/text.hpp"
#include "core/planning/attributes.hpp"
#include "core/planning/meant.hpp"
#include "core/planning/roles.hpp"
#include "core/planning/ways.hpp"

#include <QHBoxLayout>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QStackedWidget>
#include <QTabBar>
#include <QVBoxLayout>
#include <algorithm>

namespace kp::app {

PegsStation::PegsStation(Desk& desk, QWidget* parent)
    : Station(desk, parent),
      tabs_(new QTabBar),
      views_(new QStackedWidget),
      loom_(new Loom(desk)),
      loom_area_(new QScrollArea),
      footprint_(new Footprint(desk)),
      side_(new FootprintSide(desk, *footprint_)),
      sheet_(new SheetView(desk)),
      compare_(new ComparePage(desk)),
      out_(new OutPage(desk)),
      lines_(new LinesPage(desk)),
      rest_(new PlacePage(desk)),
      lanes_(new LanesPage(desk)),
      attributes_(new AttributePane(desk)),
      filter_(new QLineEdit),
      place_(new QLineEdit),
      match_(new QPushButton(tr("Match names"))),
      accept_(new QPushButton),
      columns_(new QPushButton(tr("all columns"))),
      looks_(new QWidget) {
    auto* bar = new QWidget;
    build_bar(bar);
    build_views();
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(2);
    all->addWidget(bar);
    all->addWidget(views_, 1);
    connect(tabs_, &QTabBar::currentChanged, this, [this](int i) {
        views_->setCurrentIndex(i);
        show_tools(i);
        if (desk_.has_session()) refresh();
        if (i == loom_view) loom_->show_selected();
    });
    connect(filter_, &QLineEdit::textChanged, this, [this] {
        if (desk_.has_session()) refresh();
    });
    connect(place_, &QLineEdit::returnPressed, this, &PegsStation::type_place);
    connect(match_, &QPushButton::clicked, this, &PegsStation::match);
    connect(accept_, &QPushButton::clicked, this, &PegsStation::accept);
    connect(columns_, &QPushButton::toggled, sheet_, &SheetView::show_all_columns);
    connect(&desk_, &Desk::selected, this, [this] {
        if (tabs_->currentIndex() == loom_view && desk_.selection().also.isEmpty()) loom_->show_selected();
        loom_->update();
        footprint_->update();
        side_->tray().update();
    });
    add_actions();
    add_intents();
    show_tools(0);
}

void PegsStation::build_bar(QWidget* page) {
    for (const auto& name : {tr("Loom"), tr("Footprint"), tr("Sheet"), tr("Compare"), tr("Export"), tr("Lines"),
                             tr("Places"), tr("Lanes")})
        tabs_->addTab(name);
    tabs_->setObjectName("pegs.tabs");
    tabs_->setUsesScrollButtons(false);
    tabs_->setStyleSheet(QStringLiteral("QTabBar::tab { padding-left: 8px; padding-right: 8px; }"));
    filter_->setPlaceholderText(tr("filter"));
    filter_->setAccessibleName(tr("Filter ports, pins and parts"));
    filter_->setObjectName("pegs.filter");
    filter_->setMaximumWidth(110);
    place_->setPlaceholderText(tr("pin, K1..K8, bus=D1"));
    place_->setAccessibleName(tr("Pin, terminal or range for the selected port, or PORT=PIN"));
    place_->setObjectName("pegs.place");
    place_->setFixedWidth(168);
    match_->setObjectName("pegs.match");
    accept_->setObjectName("pegs.accept");
    columns_->setObjectName("pegs.columns");
    columns_->setCheckable(true);
    auto* row = new QHBoxLayout(page);
    row->setContentsMargins(12, 6, 16, 0);
    row->setSpacing(7);
    row->addWidget(tabs_);
    row->addStretch(1);
    for (QWidget* w : {static_cast<QWidget*>(looks_), static_cast<QWidget*>(columns_), static_cast<QWidget*>(filter_),
                       static_cast<QWidget*>(place_), static_cast<QWidget*>(match_), static_cast<QWidget*>(accept_)})
        row->addWidget(w);
    auto* looks = new QHBoxLayout(looks_);
    looks->setContentsMargins(0, 0, 0, 0);
    looks->setSpacing(4);
    const auto button = [&](const char* id, const QString& name, const QString& tip, const std::function<void()>& run) {
        auto* b = new QPushButton(name);
        b->setObjectName(QLatin1String(id));
        b->setToolTip(tip);
        b->setAccessibleName(tip);
        b->setStyleSheet(QStringLiteral("padding: 4px 5px;"));
        looks->addWidget(b);
        connect(b, &QPushButton::clicked, this, run);
        return b;
    };
    button("footprint.over", tr("flip"), tr("See the package from the other side"),
           [this] { footprint_->turn_over(); });
    button("footprint.rotate", tr("rotate"), tr("A quarter turn clockwise"), [this] { footprint_->rotate(); });
    button("footprint.all", tr("fit"), tr("See all of the package"), [this] { footprint_->show_all(); });
    button("footprint.to", tr("to selection"), tr("Zoom to selection"), [this] {
        if (desk_.has_session()) footprint_->zoom_to_selection();
    });
    auto* save = button("footprint.save", tr("save…"), tr("Write the drawing to a file, or to paper to scale"), [] {});
    auto* menu = new QMenu(save);
    for (const auto& [name, ending] :
         {std::pair{tr("Drawing (SVG)"), "svg"}, {tr("Picture (PNG)"), "png"}, {tr("Paper, to scale (PDF)"), "pdf"}})
        menu->addAction(name, this, [this, ending = ending] { export_as(ending); });
    save->setMenu(menu);
}

void PegsStation::build_views() {
    loom_area_->setWidget(loom_);
    loom_area_->setWidgetResizable(true);
    views_->addWidget(loom_area_);
    connect(loom_, &Loom::wants_visible, this, [this](const QRectF& r) {
        loom_area_->ensureVisible(static_cast<int>(r.left()), static_cast<int>(r.center().y()), 10, 60);
    });
    auto* package = new QWidget;
    auto* two = new QHBoxLayout(package);
    two->setContentsMargins(14, 0, 0, 0);
    two->setSpacing(8);
    two->addWidget(footprint_, 1);
    two->addWidget(side_);
    views_->addWidget(package);
    auto* table = new QWidget;
    auto* one = new QVBoxLayout(table);
    one->setContentsMargins(16, 8, 16, 8);
    one->addWidget(sheet_);
    views_->addWidget(table);
    views_->addWidget(compare_);
    views_->addWidget(out_);
    views_->addWidget(lines_);
    views_->addWidget(rest_);
    views_->addWidget(lanes_);
    connect(lines_, &LinesPage::compare, this, [this](const QString& sheet, const QString& name) {
        show_view(compare_view);
        compare_->compare_sheet(sheet, name);
    });
    connect(lines_, &LinesPage::compare_build, this, [this](const QString& report, const QString& name) {
        show_view(compare_view);
        compare_->compare_obtained_pins(report, name);
    });
}

void PegsStation::intend(const char* key, const QString& prompt,
                         const std::vector<std::pair<std::string, QString>>& values) {
    const auto ports = desk_.chosen_ports();
    if (ports.empty()) return desk_.say(tr("Select one or more ports first."), true);
    const auto take = [this, ports, key](const QString& value) {
        const auto edit =
            attribute_edit(desk_.session().plan().attributes(), ports, *attribute_kind(key), value.toStdString());
        if (!edit) return desk_.say(q(edit.first().text), true);
        desk_.apply(edit.value());
    };
    std::vector<Chooser::Item> items;
    for (const auto& [value, says] : values)
        items.push_back(
            {value.empty() ? tr("take it back") : q(value), says, [take, value = value] { take(q(value)); }});
    // A reason is anybody's words; what else is meant has its own few.
    const bool words = std::string_view(key) == "open";
    desk_.choose(prompt, std::move(items), words ? Services::Typed(take) : nullptr);
}

/// A terminal for one port, the terminals of a part for several; typed: terminals with commas.
void PegsStation::mean() {
    const auto ports = desk_.chosen_ports();
    if (ports.empty()) return desk_.say(tr("Select one or more ports first."), true);
    const auto take = [this, ports](const QString& text) {
        const auto edit = meant_edit(desk_.session().plan().attributes(), ports, text.toStdString());
        if (!edit) return desk_.say(q(edit.first().text), true);
        desk_.apply(edit.value());
    };
    std::vector<Chooser::Item> items{
        {tr("take it back"), tr("as names, order and clocks suggest"), [take] { take({}); }}};
    const auto& board = desk_.session().world().board;
    if (ports.size() == 1) {
        const auto legal =
            attribute_state(desk_.session().plan().attributes(), ports[0], *attribute_kind("meant")).legal;
        for (const auto& terminal : legal) {
            const auto at = board.at_terminal(terminal);
            items.push_back({q(terminal), tr("%1, pin %2").arg(q(at.part->label), q(at.net->pin)),
                             [take, terminal] { take(q(terminal)); }});
        }
    } else {
        for (const auto& part : board.parts) {
            const auto wired = std::count_if(part.terminals.begin(), part.terminals.end(), [&](const Terminal& t) {
                return board.at_terminal(part.ref + "." + t.name).net != nullptr;
            });
            if (static_cast<size_t>(wired) == ports.size())
                items.push_back({q(part.ref), tr("%1, its terminals in order").arg(q(part.label)),
                                 [take, ref = part.ref] { take(q(ref)); }});
        }
    }
    desk_.choose(tr("what %1 is meant for").arg(q(list_names(ports, 3))), std::move(items), Services::Typed(take));
}

/// The terminal that is selected, or that on the selected pin.
void PegsStation::leave_terminal() {
    const auto& s = desk_.session();
    const auto& selected = desk_.selection();
    auto name = selected.name.toStdString();
    if (selected.kind == QLatin1String("pin"))
        if (const auto at = s.world().board.at_pin(name)) name = at.net->terminal;
    if (!s.world().board.at_terminal(name).net)
        return desk_.say(tr("Select a terminal of the board, or the pin it is wired to."), true);
    const auto take = [this, name](const QString& reason) {
        auto open = desk_.session().project().open_terminals;
        open.erase(name);
        if (!reason.isEmpty()) open[name] = reason.toStdString();
        desk_.apply(Edit{"leave " + name + " unused on purpose",
                         {set_field(desk_.session().project(), "open_terminals", field_text(open))}});
    };
    std::vector<Chooser::Item> items;
    for (const auto& [reason, says] :
         {std::pair{tr("not fitted on this board"), tr("nobody misses it")},
          std::pair{tr("not used by this design"), tr("it may float or be held by the board")},
          std::pair{QString(), tr("it is used or held")}})
        items.push_back(
            {reason.isEmpty() ? tr("take it back") : reason, says, [take, reason = reason] { take(reason); }});
    desk_.choose(tr("why it stays unused"), std::move(items), take);
}

/// Turned round (0), or shifted along the board part; who is pushed off a pin is said.
void PegsStation::move_bus(int by) {
    const auto& s = desk_.session();
    const auto ports = desk_.chosen_ports();
    const auto moved = by == 0 ? turn_round(s.project(), s.world().board, ports)
                               : shift_along(s.project(), s.world().board, ports, by);
    if (!moved) return desk_.say(q(moved.first().text), true);
    if (!desk_.apply(moved.value().edit)) return;
    std::vector<std::string> gone;
    for (const auto& [port, pin] : moved.value().evicted) gone.push_back(port + " (" + pin + ")");
    if (!gone.empty()) desk_.say(tr("Set adrift by it: %1.").arg(q(list_names(gone))));
}

/// What is meant with ports.
void PegsStation::add_intents() {
    add_action("pegs.open", tr("Let the selected ports stay open on purpose…"), {}, [this] {
        intend("open", tr("why they stay open"),
               {{"not on this board", tr("the board has nothing for it")},
                {"for debugging only", tr("used on the bench")},
                {"used by another build", tr("the same design elsewhere")},
                {"", tr("they need a pin")}});
    });
    add_action("pegs.open_terminal", tr("Let the selected terminal of the board stay unused on purpose…"), {},
               [this] { leave_terminal(); });
    add_action("pegs.tie", tr("Say what open inputs hold…"), {}, [this] {
        intend("tie", tr("the level"), {{"0", tr("low")}, {"1", tr("high")}, {"", tr("low, as nothing says")}});
    });
    add_action("pegs.role", tr("Say what the selected ports are for…"), {}, [this] {
        std::vector<std::pair<std::string, QString>> values;
        for (const char* name : role_names()) values.emplace_back(name, QString());
        values.emplace_back("", tr("as netlist, board and name suggest"));
        intend("role", tr("what they are for"), values);
    });
    add_action("pegs.meant", tr("Say which terminal the selected ports are meant for…"), {}, [this] { mean(); });
    add_action("pegs.invert", tr("Say who inverts where design and board differ…"), {}, [this] {
        intend("invert", tr("who inverts"),
               {{"adapter", tr("the handoff's adapter, around the design")}, {"", tr("nobody; a finding says so")}});
    });
    add_action("pegs.sense", tr("Say at which level the selected ports are active…"), {}, [this] {
        intend("sense", tr("the active level"),
               {{"high", {}}, {"low", {}}, {"", tr("as the name says: _n or _b at its end is low")}});
    });
}

void PegsStation::show_tools(int view) {
    looks_->setVisible(view == footprint_view);
    filter_->setVisible(view == loom_view || view == sheet_view);
    columns_->setVisible(view == sheet_view);
    place_->setVisible(view < compare_view);  // places are typed where pins are seen
    match_->setVisible(view == loom_view || view == sheet_view);
}

void PegsStation::add_actions() {
    add_action("pegs.match", tr("Match names: propose pegs from the board's names"),
               QKeySequence(QStringLiteral("Ctrl+M")), [this] { match(); });
    add_action("pegs.accept", tr("Accept what is loose; in Compare: take what is ticked"),
               QKeySequence(QStringLiteral("Ctrl+Return")), [this] { accept(); });
    add_action("pegs.unpeg", tr("Set the selected ports adrift"), QKeySequence(Qt::Key_Delete),
               [this] { clear_pegs(); });
    add_action("pegs.swap", tr("Swap the pins of two selected ports"), QKeySequence(QStringLiteral("Ctrl+Shift+X")),
               [this] { swap(); });
    add_action("pegs.turn", tr("Reverse the selected bus"), {}, [this] { move_bus(0); });
    add_action("pegs.shift_up", tr("Shift the selected ports one terminal on"), {}, [this] { move_bus(1); });
    add_action("pegs.shift_down", tr("Shift the selected ports one terminal back"), {}, [this] { move_bus(-1); });
    add_action("pegs.attributes", tr("Give the first selected port's attributes to the others"),
               QKeySequence(QStringLiteral("Ctrl+Shift+C")), [this] { copy_attributes_to_rest(); });
    add_action("pegs.type", tr("Type a pin for the selected port"), QKeySequence(QStringLiteral("Ctrl+P")), [this] {
        desk_.go_to(Place::pegs);
        if (tabs_->currentIndex() > sheet_view) show_view(loom_view);
        place_->setFocus();
        place_->selectAll();
    });
    static const char* names[] = {"loom", "footprint", "sheet", "compare", "out", "lines", "places", "lanes"};
    const QString says[] = {tr("Show the loom"),
                            tr("Show the footprint"),
                            tr("Show the sheet"),
                            tr("Compare the plan with something else"),
                            tr("Export pins as text"),
                            tr("Read somebody's lines as you show by an example"),
                            tr("Show places for the rest"),
                            tr("Show lanes")};
    for (int i = 0; i < 8; ++i)
        add_action(qPrintable(QStringLiteral("pegs.%1").arg(QLatin1String(names[i]))), says[i],
                   QKeySequence(QStringLiteral("Ctrl+%1").arg(i + 1)), [this, i] { show_view(i); });
    add_action("pegs.paste", tr("Compare with rows on the clipboard"), QKeySequence(QStringLiteral("Ctrl+Shift+V")),
               [this] {
                   show_view(compare_view);
                   compare_->compare(ComparePage::With::clipboard);
               });
    add_action("footprint.over", tr("Footprint: flip"), QKeySequence(QStringLiteral("Ctrl+T")),
               [this] { footprint_->turn_over(); });
    add_action("footprint.rotate", tr("Footprint: a quarter turn"), QKeySequence(QStringLiteral("Ctrl+R")),
               [this] { footprint_->rotate(); });
    add_action("footprint.closer", tr("Footprint: zoom to what is selected"),
               QKeySequence(QStringLiteral("Ctrl+Shift+E")), [this] { footprint_->zoom_to_selection(); });
    for (const char* ending : {"svg", "png", "pdf"})
        add_action(qPrintable(QStringLiteral("footprint.") + QLatin1String(ending)),
                   tr("Footprint: write %1").arg(QLatin1String(ending)), {}, [this, ending] { export_as(ending); });
    add_place_actions();
    add_action("sheet.fill", tr("Sheet: fill down"), {}, [this] { sheet_->fill_down(); });
}

void PegsStation::add_place_actions() {
    add_action("pegs.place", tr("Place the rest: legal places for all that is adrift or loose"),
               QKeySequence(QStringLiteral("Ctrl+Shift+P")), [this] {
                   show_view(place_view);
                   rest_->ask();
               });
    add_action("pegs.why_not", tr("Why not: every place of the selected port, by what speaks against it"), {}, [this] {
        show_view(place_view);
        rest_->why_not();
    });
    add_action("pegs.only", tr("Loom: only the interface of the selected port or pin, and all again"),
               QKeySequence(QStringLiteral("Ctrl+Shift+N")), [this] { show_only(); });
    add_action("pegs.wire", tr("Lock the selected pegs as wired, or unlock them"), {}, [this] { turn_wired(); });
    add_action("lanes.solve", tr("Lanes: solve all links"), {}, [this] {
        show_view(lanes_view);
        lanes_->solve(false);
    });
    add_action("lanes.take", tr("Lanes: take the places"), {}, [this] { lanes_->take(); });
    add_action("lanes.add", tr("Lanes: add a link…"), {}, [this] {
        show_view(lanes_view);
        lanes_->add();
    });
    add_action("lanes.peg", tr("Lanes: peg or loosen the link"), {}, [this] { lanes_->turn_peg(); });
    add_action("lanes.off", tr("Lanes: exclude or include its peg"), {}, [this] { lanes_->turn_off(); });
    add_action("lanes.remove", tr("Lanes: remove the link"), {}, [this] { lanes_->remove(); });
}

QWidget* PegsStation::side() {
    return attributes_;
}

void PegsStation::show_view(int view) {
    desk_.go_to(Place::pegs);
    tabs_->setCurrentIndex(view);
    if (view == sheet_view)
        sheet_->setFocus();
    else if (view == loom_view)
        loom_->setFocus();
    else if (view == footprint_view)
        footprint_->setFocus();
}

void PegsStation::refresh() {
    tabs_->setTabVisible(lanes_view, !desk_.session().world().part.lane_blocks.empty());
    int loose = 0;
    for (const auto& [port, peg] : desk_.session().project().pegs) loose += peg.state == PegState::loose;
    accept_->setText(tr("Accept %1 loose").arg(loose));
    accept_->setVisible(loose > 0 && tabs_->currentIndex() != out_view && tabs_->currentIndex() != compare_view);
    switch (tabs_->currentIndex()) {
        case loom_view: loom_->refresh(filter_->text()); break;
        case footprint_view: {
            const PlanView plan(desk_.session());
            footprint_->refresh(plan);
            side_->refresh(plan);
            break;
        }
        case sheet_view: sheet_->refresh(filter_->text()); break;
        case compare_view: compare_->refresh(); break;
        case place_view: rest_->refresh(); break;
        case lanes_view: lanes_->refresh(); break;
        default: out_->refresh(); break;
    }
    attributes_->refresh();
}

void PegsStation::clear_pegs() {
    if (tabs_->currentIndex() == sheet_view && sheet_->hasFocus()) return sheet_->clear_cells();
    const auto ports = desk_.chosen_ports();
    Edit edit{
        ports.size() == 1 ? "set " + ports[0] + " adrift" : "set " + kp::counted(ports.size(), "port") + " adrift", {}};
    for (const auto& port : ports)
        for (auto& change : unpeg_edit(desk_.session().project(), port).changes)
            edit.changes.push_back(std::move(change));
    desk_.apply(edit);
}

/// The board part that what is selected leads to, with its pins and ports alone.
void PegsStation::show_only() {
    show_view(loom_view);
    if (filter_->text().startsWith(QLatin1String("part:"))) return filter_->clear();
    const auto& s = desk_.session();
    auto name = desk_.selection().name.toStdString();
    if (desk_.selection().kind == QLatin1String("part")) return filter_->setText(QStringLiteral("part:") + q(name));
    if (desk_.selection().kind == QLatin1String("terminal"))
        name = s.world().board.at_terminal(name).net ? s.world().board.at_terminal(name).net->pin : "";
    for (const auto& port : desk_.chosen_ports())
        if (const auto* seat = s.plan().seat(port); seat && seat->at) name = seat->on;
    const auto at = s.world().board.at_pin(name);
    if (!at) return desk_.say(tr("Select a port, pin or terminal that leads to a part of the board."), true);
    filter_->setText(QStringLiteral("part:") + q(at.part->ref));
}

/// A wired peg is soldered: it does not move, and nothing takes its pin unasked.
void PegsStation::turn_wired() {
    const auto& s = desk_.session();
    std::vector<std::string> ports;
    bool all = true;
    for (const auto& port : desk_.chosen_ports())
        if (const auto at = s.project().pegs.find(port); at != s.project().pegs.end()) {
            ports.push_back(port);
            all = all && at->second.wired;
        }
    if (ports.empty()) return desk_.say(tr("Select ports that are pegged first."), true);
    Edit edit{(all ? "unlock " : "lock as wired ") + list_names(ports), {}};
    for (const auto& port : ports) {
        const auto before = s.project().pegs.at(port);
        auto after = before;
        after.wired = !all;
        after.state = after.wired ? PegState::pegged : before.state;
        if (!(before == after)) edit.changes.emplace_back(PegChange{port, before, after});
    }
    desk_.apply(edit);
}

void PegsStation::swap() {
    const auto ports = desk_.chosen_ports();
    if (ports.size() != 2)
        return desk_.say(tr("Select two ports to swap their pins; %1 selected.").arg(ports.size()), true);
    desk_.apply(swap_edit(desk_.session().project(), ports[0], ports[1]));
}

void PegsStation::copy_attributes_to_rest() {
    const auto& s = desk_.session();
    const auto ports = desk_.chosen_ports();
    const auto from = desk_.selection().kind == QLatin1String("port") ? desk_.selection().name.toStdString()
                      : ports.empty()                                 ? ""
                                                                      : ports[0];
    if (ports.size() < 2)
        return desk_.say(tr("Select the port that has the attributes, then the others with Ctrl or Shift."), true);
    const auto copied = copy_attributes(
        {s.world().part, s.world().board, s.world().standards, s.world().netlist.ports, s.project()}, from, ports);
    if (copied.edit.empty() && copied.left_out.empty()) return desk_.say(tr("They have the same attributes already."));
    if (desk_.apply(copied.edit) && !copied.left_out.empty())
        desk_.say(tr("Left out, since it is not legal there: %1").arg(q(list_names(copied.left_out, 5))));
}

void PegsStation::export_as(const char* ending) {
    if (!desk_.has_session()) return;
    const PlanView plan(desk_.session());
    footprint_->refresh(plan);
    const auto path = ask_where_to_save(
        this, tr("Write the footprint"),
        q(desk_.session().document().folder()) + QStringLiteral("/footprint.") + QLatin1String(ending));
    if (path.isEmpty()) return;
    if (const auto status = export_footprint(*footprint_, path); !status)
        return desk_.say(q(status.first().text), true);
    desk_.say(tr("%1 written").arg(path));
}

/// Those named before '=', or, without it, from the selected port on as many bits of its bus as pins were typed.
Result<std::vector<std::string>> PegsStation::typed_ports(const std::string& left, size_t pins) {
    const auto& ports = desk_.session().world().netlist.ports;
    if (!left.empty()) return find_ports(left, ports);
    auto chosen = desk_.chosen_ports();
    if (chosen.size() > 1) return chosen;
    if (chosen.empty())
        return Message{Severity::stop, Code::place,
                       "Select a port first, or type PORT=PIN: lamp=k1..k8, data[7:4]=D1."};
    const auto at = std::find_if(ports.begin(), ports.end(), [&](const Port& p) { return p.name == chosen[0]; });
    std::vector<std::string> out;
    for (auto p = at; p != ports.end() && p->bus == at->bus && out.size() < std::max<size_t>(1, pins); ++p)
        out.push_back(p->name);
    return out;
}

void PegsStation::type_place() {
    if (!desk_.has_session() || place_->text().trimmed().isEmpty()) return;
    const auto& s = desk_.session();
    const auto typed = place_->text().trimmed().toStdString();
    const auto equals = typed.find('=');
    const auto pins =
        find_places(equals == std::string::npos ? typed : typed.substr(equals + 1), s.world().part, s.world().board);
    if (!pins) return desk_.say(q(pins.first().text), true);
    const auto wanted = typed_ports(equals == std::string::npos ? "" : typed.substr(0, equals), pins.value().size());
    if (!wanted) return desk_.say(q(wanted.first().text), true);
    const auto& ports = wanted.value();
    // Who holds a pin now is asked about first; the text stays until then.
    const auto many = peg_many(s.project(), s.world().board, ports, pins.value(), "by hand");
    peg_asking(desk_, ports, pins.value(), [this, many, ports] { pegged_by_text(many, ports.size()); });
}

void PegsStation::pegged_by_text(const ManyPegs& many, size_t wanted) {
    place_->clear();
    if (place_->hasFocus() && parentWidget()) parentWidget()->setFocus();  // the keys are the plan's again
    if (!many.ports_left.empty())
        desk_.say(tr("%1 pegged; no pin was left for %2.")
                      .arg(wanted - many.ports_left.size())
                      .arg(q(list_names(many.ports_left, 6))));
    else if (!many.pins_left.empty())
        desk_.say(tr("%1 pegged; no port was left for %2.").arg(wanted).arg(q(list_names(many.pins_left, 6))));
}

void PegsStation::match() {
    show_view(compare_view);
    compare_->compare(ComparePage::With::names);
}

void PegsStation::accept() {
    if (tabs_->currentIndex() == compare_view && isVisible()) return compare_->take_ticked();
    desk_.apply(accept_edit(desk_.session().project()));
}

KnotState PegsStation::standing() const {
    const auto& s = desk_.session();
    size_t pegged = 0;
    for (const auto& port : s.world().netlist.ports) {
        const auto at = s.project().pegs.find(port.name);
        pegged += at != s.project().pegs.end() && at->second.state == PegState::pegged;
    }
    const auto all = s.world().netlist.ports.size();
    if (const auto missing = missing_ground(s); s.project().part.empty() || all == 0)
        return {tr("Pegs"), missing, Standing::open};
    return {tr("Pegs"), tr("%1 of %2").arg(pegged).arg(all), pegged == all ? Standing::good : Standing::open};
}

QString PegsStation::status() const {
    const auto& s = desk_.session();
    int pegged = 0, loose = 0, adrift = 0;
    for (const auto& port : s.world().netlist.ports) {
        const auto at = s.project().pegs.find(port.name);
        ++(at == s.project().pegs.end() ? adrift : at->second.state == PegState::pegged ? pegged : loose);
    }
    const auto c = count(s.findings());
    return tr("%1: %2 pegged, %3 loose, %4 adrift · %5, %6")
        .arg(counted(pegged + loose + adrift, "port"))
        .arg(pegged)
        .arg(loose)
        .arg(adrift)
        .arg(counted(c.stops, "stop"), counted(c.cautions, "caution"));
}

}  // namespace kp::app
