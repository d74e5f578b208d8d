// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/site/site_station.hpp"

#include "app/site/cards.hpp"

#include <QGridLayout>
#include <QLineEdit>
#include <QVBoxLayout>

namespace kp::app {

namespace {
QString q(const std::string& s) { return QString::fromStdString(s); }
}  // namespace

std::vector<Disagreement> disagreements(const Session& s) {
    std::vector<Disagreement> out;
    for (const auto& f : s.findings())
        if (f.rule == "D01" && !f.waived) out.push_back({f.severity, q(f.text), f.fixes.empty() ? QString() : QObject::tr("way out: %1").arg(q(f.fixes[0].text))});
    const auto& ports = s.world().netlist.ports;
    const int pins = s.world().part.usable_pins();
    if (static_cast<int>(ports.size()) > pins) out.push_back({Severity::stop, QObject::tr("The design has %1 ports, the part %2 user pins.").arg(ports.size()).arg(pins), {}});
    for (const auto& net : s.world().board.nets)
        if (!s.world().part.pin(net.pin)) out.push_back({Severity::stop, QObject::tr("The board wires %1 to pin %2, which %3 does not have.").arg(q(net.terminal), q(net.pin), q(s.world().part.name)), {}});
    for (const auto& rail : s.world().board.rails)
        if (!s.world().part.bank(rail.bank)) out.push_back({Severity::stop, QObject::tr("The board feeds bank %1, which %2 does not have.").arg(q(rail.bank), q(s.world().part.name)), {}});
    for (const auto& f : s.findings())
        if (f.rule == "D04" && !f.waived) out.push_back({f.severity, q(f.text), QObject::tr("mend it in Findings or Tempo")});
    for (const auto& note : s.world().notes) out.push_back({note.severity, q(note.sentence()), {}});
    return out;
}

SiteStation::SiteStation(Desk& desk, QWidget* parent) : Station(desk, parent), part_(new PartCard(desk)), board_(new BoardCard(desk)), agreement_(new AgreementCard(desk)), files_(new FilesCard(desk)), code_(new QLineEdit(part_)) {
    auto* grid = new QGridLayout(this);
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
    code_->setToolTip(tr("The ordering code as it stands on the chip; Enter takes it"));
    connect(code_, &QLineEdit::returnPressed, this, [this] {
        if (!desk_.has_session()) return;
        const auto& now = desk_.session().project().part;
        const auto wanted = code_->text().trimmed().toUpper().toStdString();
        if (wanted != now && !desk_.apply(Edit{"take the part " + wanted, {FieldChange{"part", now, wanted}}})) code_->setText(q(now));
    });
    add_action("site.code", tr("Type an ordering code"), {}, [this] {
        desk_.go_to(0);
        code_->setFocus();
        code_->selectAll();
    });
    connect(&desk_, &Desk::selected, this, [this] { board_->update(); });
}

void SiteStation::refresh() {
    if (!code_->hasFocus()) code_->setText(q(desk_.session().project().part));
    for (QWidget* w : {static_cast<QWidget*>(part_), static_cast<QWidget*>(board_), static_cast<QWidget*>(agreement_), static_cast<QWidget*>(files_)}) w->update();
}

KnotState SiteStation::standing() const {
    const auto list = disagreements(desk_.session());
    if (list.empty()) return {tr("Site"), tr("agrees"), Standing::good};
    const bool stop = std::any_of(list.begin(), list.end(), [](const Disagreement& d) { return d.severity == Severity::stop; });
    return {tr("Site"), tr("%1 to settle").arg(list.size()), stop ? Standing::stop : Standing::caution};
}

QString SiteStation::status() const {
    const auto& s = desk_.session();
    return tr("%1 ports, %2 cells, top %3").arg(s.world().netlist.ports.size()).arg(s.world().netlist.cells.size()).arg(q(s.world().netlist.top));
}

}  // namespace kp::app
