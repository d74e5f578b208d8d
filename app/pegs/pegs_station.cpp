// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/pegs/pegs_station.hpp"

#include "app/pegs/footprint.hpp"
#include "app/pegs/loom.hpp"
#include "app/shell/counted.hpp"
#include "core/base/text.hpp"
#include "core/pegs/ways.hpp"

#include <QButtonGroup>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QTabBar>
#include <QVBoxLayout>

namespace kp::app {

namespace {
QString q(const std::string& s) { return QString::fromStdString(s); }
}

PegsStation::PegsStation(Desk& desk, QWidget* parent)
    : Station(desk, parent), tabs_(new QTabBar), views_(new QStackedWidget), loom_(new Loom(desk)), footprint_(new Footprint(desk)), filter_(new QLineEdit), place_(new QLineEdit), standard_(new QComboBox), match_(new QPushButton(tr("Match names"))), accept_(new QPushButton), shades_(new QWidget) {
    tabs_->addTab(tr("Loom"));
    tabs_->addTab(tr("Footprint"));
    tabs_->setObjectName("pegs.tabs");
    tabs_->setUsesScrollButtons(false);
    filter_->setPlaceholderText(tr("filter"));
    filter_->setAccessibleName(tr("Filter ports, pins and parts"));
    filter_->setObjectName("pegs.filter");
    filter_->setMaximumWidth(110);
    place_->setPlaceholderText(tr("pin, K1..K8, bus=D1"));
    place_->setAccessibleName(tr("Pin, terminal or range for the selected port, or PORT=PIN"));
    place_->setObjectName("pegs.place");
    place_->setFixedWidth(150);
    standard_->setObjectName("pegs.standard");
    standard_->setAccessibleName(tr("I/O standard of the selected port"));
    standard_->setFixedWidth(132);
    match_->setObjectName("pegs.match");
    accept_->setObjectName("pegs.accept");
    auto* bar = new QHBoxLayout;
    bar->setContentsMargins(12, 6, 16, 0);
    bar->setSpacing(7);
    bar->addWidget(tabs_);
    bar->addStretch(1);
    bar->addWidget(shades_);
    for (QWidget* w : {static_cast<QWidget*>(filter_), static_cast<QWidget*>(place_), static_cast<QWidget*>(standard_), static_cast<QWidget*>(match_), static_cast<QWidget*>(accept_)}) bar->addWidget(w);
    auto* shade_box = new QHBoxLayout(shades_);
    shade_box->setContentsMargins(0, 0, 0, 0);
    shade_box->setSpacing(4);
    auto* group = new QButtonGroup(this);
    for (const auto& [name, shade] : {std::pair{tr("bank"), Footprint::Shade::bank}, {tr("kind"), Footprint::Shade::kind}, {tr("finding"), Footprint::Shade::finding}}) {
        auto* b = new QPushButton(name);
        b->setCheckable(true);
        b->setChecked(shade == Footprint::Shade::bank);
        group->addButton(b);
        shade_box->addWidget(b);
        connect(b, &QPushButton::clicked, this, [this, shade] { footprint_->set_shade(shade); });
    }
    auto* over = new QPushButton(tr("turn over"));
    shade_box->addWidget(over);
    connect(over, &QPushButton::clicked, footprint_, &Footprint::turn_over);
    auto* scroll = new QScrollArea;
    scroll->setWidget(loom_);
    scroll->setWidgetResizable(true);
    views_->addWidget(scroll);
    views_->addWidget(footprint_);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->addLayout(bar);
    all->addWidget(views_, 1);
    shades_->hide();

    connect(tabs_, &QTabBar::currentChanged, this, [this](int i) {
        views_->setCurrentIndex(i);
        shades_->setVisible(i == 1);
        filter_->setVisible(i == 0);
    });
    connect(filter_, &QLineEdit::textChanged, this, [this] {
        if (desk_.has_session()) refresh();
    });
    connect(place_, &QLineEdit::returnPressed, this, &PegsStation::type_place);
    connect(standard_, &QComboBox::activated, this, [this](int i) {
        if (!selected_port().empty()) desk_.apply(standard_edit(desk_.session().project(), selected_port(), i == 0 ? "" : standard_->itemText(i).toStdString()));
    });
    connect(match_, &QPushButton::clicked, this, &PegsStation::match);
    connect(accept_, &QPushButton::clicked, this, &PegsStation::accept);
    connect(&desk_, &Desk::selected, this, &PegsStation::show_selected);
    add_action("pegs.match", tr("Match names: propose pegs from the board's names"), QKeySequence(QStringLiteral("Ctrl+M")), [this] { match(); });
    add_action("pegs.accept", tr("Accept what is loose"), QKeySequence(QStringLiteral("Ctrl+Return")), [this] { accept(); });
    add_action("pegs.unpeg", tr("Set the selected port adrift"), QKeySequence(Qt::Key_Delete), [this] {
        if (!selected_port().empty()) desk_.apply(unpeg_edit(desk_.session().project(), selected_port()));
    });
    add_action("pegs.type", tr("Type a pin for the selected port"), QKeySequence(QStringLiteral("Ctrl+P")), [this] {
        desk_.go_to(1);
        place_->setFocus();
        place_->selectAll();
    });
    add_action("pegs.loom", tr("Show the loom"), QKeySequence(QStringLiteral("Ctrl+1")), [this] { show_view(0); });
    add_action("pegs.footprint", tr("Show the footprint"), QKeySequence(QStringLiteral("Ctrl+2")), [this] { show_view(1); });
}

void PegsStation::show_view(int view) {
    desk_.go_to(1);
    tabs_->setCurrentIndex(view);
}

std::string PegsStation::selected_port() const { return desk_.selection().kind == QLatin1String("port") ? desk_.selection().name.toStdString() : std::string(); }

void PegsStation::refresh() {
    int loose = 0;
    for (const auto& [port, peg] : desk_.session().project().pegs) loose += peg.state == PegState::loose;
    accept_->setText(tr("Accept %1 loose").arg(loose));
    accept_->setEnabled(loose > 0);
    if (standard_->count() != static_cast<int>(desk_.session().world().standards.rows.size()) + 1) {
        standard_->clear();
        standard_->addItem(tr("no standard"));
        for (const auto& s : desk_.session().world().standards.rows) standard_->addItem(q(s.name));
    }
    loom_->refresh(filter_->text());
    footprint_->update();
    show_selected();
}

void PegsStation::show_selected() {
    if (!desk_.has_session()) return;
    const auto port = selected_port();
    const auto& a = desk_.session().project().attributes;
    const auto at = a.find(port);
    standard_->setEnabled(!port.empty());
    standard_->setCurrentIndex(at == a.end() || at->second.standard.empty() ? 0 : std::max(0, standard_->findText(q(at->second.standard))));
    loom_->update();
    footprint_->update();
}

void PegsStation::type_place() {
    const auto& s = desk_.session();
    const auto& ports = s.world().netlist.ports;
    const auto typed = place_->text().trimmed().toStdString();
    const auto equals = typed.find('=');
    const auto where = equals == std::string::npos ? typed : typed.substr(equals + 1);
    const auto pins = find_places(where, s.world().part, s.world().board);
    if (!pins) return desk_.say(q(pins.first().text), true);
    std::vector<std::string> wanted;
    if (equals != std::string::npos) {
        auto named = find_ports(typed.substr(0, equals), ports);
        if (!named) return desk_.say(q(named.first().text), true);
        wanted = named.take();
    } else {
        // From the selected port on, as many bits of its bus as pins were typed.
        const auto port = selected_port();
        if (port.empty()) return desk_.say(tr("Select a port first, or type PORT=PIN: lamp=k1..k8, data[7:4]=D1."), true);
        const auto at = std::find_if(ports.begin(), ports.end(), [&](const Port& p) { return p.name == port; });
        for (auto p = at; p != ports.end() && p->bus == at->bus && wanted.size() < std::max<size_t>(1, pins.value().size()); ++p) wanted.push_back(p->name);
        if (wanted.empty()) wanted.push_back(port);
    }
    const auto many = peg_many(s.project(), s.world().board, wanted, pins.value(), "by hand");
    if (!desk_.apply(many.edit)) return;
    place_->clear();
    if (!many.ports_left.empty()) desk_.say(tr("%1 pegged; no pin was left for %2.").arg(wanted.size() - many.ports_left.size()).arg(q(list_names(many.ports_left, 6))));
    else if (!many.pins_left.empty()) desk_.say(tr("%1 pegged; no port was left for %2.").arg(wanted.size()).arg(q(list_names(many.pins_left, 6))));
}

/// Proposals are loose: dashed, to be looked at, and pegged by Accept.
void PegsStation::match() {
    const auto& s = desk_.session();
    Edit edit{"match names", {}};
    const auto matches = match_names(s.world().netlist.ports, s.world().board, s.project().pegs);
    for (const auto& m : matches) {
        auto one = peg_edit(s.project(), s.world().board, m.port, m.pin, "by name");
        for (auto& change : one.changes) {
            if (auto* peg = std::get_if<PegChange>(&change)) peg->after->state = PegState::loose;
            edit.changes.push_back(change);
        }
    }
    if (edit.empty()) return desk_.say(tr("No adrift port has a name that the board knows."));
    desk_.apply(edit);
    desk_.say(tr("%1 ports placed by name; they are loose until accepted").arg(matches.size()));
}

void PegsStation::accept() { desk_.apply(accept_edit(desk_.session().project())); }

KnotState PegsStation::standing() const {
    const auto& s = desk_.session();
    size_t pegged = 0;
    for (const auto& port : s.world().netlist.ports) {
        const auto at = s.project().pegs.find(port.name);
        pegged += at != s.project().pegs.end() && at->second.state == PegState::pegged;
    }
    const auto all = s.world().netlist.ports.size();
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
    return tr("%1: %2 pegged, %3 loose, %4 adrift · %5, %6").arg(counted(pegged + loose + adrift, "port")).arg(pegged).arg(loose).arg(adrift).arg(counted(c.stops, "stop"), counted(c.cautions, "caution"));
}

}  // namespace kp::app
