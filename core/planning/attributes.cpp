// SPDX-License-Identifier: GPL-3.0-or-later
// What is legal for an attribute follows from standard, bank and direction; the reasons are those of the rules.
#include "core/planning/attributes.hpp"

#include "core/base/text.hpp"
#include "core/planning/place.hpp"
#include "core/planning/roles.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <array>
#include <cmath>

namespace kp {

const char* word_of(AttributeOrigin origin) {
    constexpr const char* words[] = {"none chosen", "chosen", from_the_board, "missing", "not needed"};
    return words[static_cast<size_t>(origin)];
}

namespace {

using A = PortAttributes;
constexpr std::array<AttributeKind, 15> kinds{{
    {"standard", "I/O standard", "The voltages that count as high and low on this wire; both ends have to agree.", "",
     &A::standard, false, true},
    {"drive", "drive strength",
     "The current an output can give or take while it keeps its levels; more makes the edge steeper and noisier.", "mA",
     &A::drive, false, true},
    {"slew", "slew rate", "How steep the edges of an output are; slow is quieter, fast is for short bit times.", "",
     &A::slew, false, true},
    {"pull", "pull resistor", "A weak resistor in the pad that holds the wire when nobody drives it.", "", &A::pull,
     false, false},
    {"termination", "termination",
     "A resistor in the pad that ends the line as its impedance asks, so that an edge does not come back.", "Ω",
     &A::termination, false, false},
    {"partner", "differential partner", "The port on the other half of the pair; the two carry one signal.", "",
     &A::partner, false, false},
    {"pad_register", "pad register",
     "The register beside the pad; it makes the delay between register and pin short and the same in every build.", "",
     &A::pad_register, false, false},
    {"pad_delay", "pad delay", "Steps of the delay line in the pad, to move an input against its clock.", "steps",
     &A::pad_delay, false, false},
    {"note", "note", "Your own words; they go into the pin sheet.", "", &A::note, true, false},
    {"role", "role", "What the port is for; rules and proposals look at it.", "", &A::role, false, false},
    {"sense", "active level", "The level at which the design takes it as active; without it the name says.", "",
     &A::sense, false, false},
    {"open", "open on purpose", "Why it has no pin; then nobody asks for one.", "", &A::open, true, false},
    {"tie", "tie", "What an input holds that is open on purpose.", "", &A::tie, false, false},
    {"invert", "inverter", "Who inverts where design and board are active at different levels.", "", &A::invert, false,
     false},
    {"meant", "meant terminal", "The terminal of the board that the port is for; proofs and rules look there.", "",
     &A::meant, false, false},
}};

bool is(const AttributeKind& kind, const char* key) {
    return std::string_view(kind.key) == key;
}
bool same_volts(double a, double b) {
    return std::fabs(a - b) < 0.005;
}

PortAttributes attributes_of(const AttributeInput& in, const std::string& port) {
    const auto at = in.project.attributes.find(port);
    return at == in.project.attributes.end() ? PortAttributes{} : at->second;
}

/// The port with all that its peg leads to; null where there is none.
struct Here {
    const Port* port = nullptr;
    const Pin* pin = nullptr;
    const Bank* bank = nullptr;
    const IoStandard* standard = nullptr;
    Board::Found wired;
    std::optional<double> rail;
    [[nodiscard]] bool drives() const { return port->direction != Direction::in; }
    [[nodiscard]] bool reads() const { return port->direction != Direction::out; }
};

Here here_of(const AttributeInput& in, const std::string& name) {
    Here h;
    h.port = in.port(name);
    h.standard = in.standards.find(attributes_of(in, name).standard);
    if (const auto peg = in.project.pegs.find(name); peg != in.project.pegs.end()) {
        h.pin = in.part.pin(peg->second.pin);
        h.wired = in.board.at_pin(peg->second.pin);
    }
    if (h.pin) {
        h.bank = in.part.bank(h.pin->bank);
        h.rail = in.board.rail(h.pin->bank);
    }
    return h;
}

/// The standards its bank can carry and its rail allows; all of them while it is adrift.
std::vector<std::string> standards_for(const AttributeInput& in, const Here& h) {
    std::vector<std::string> out;
    for (const auto& s : in.standards.rows) {
        if ((s.direction == "in" && h.drives()) || (s.direction == "out" && h.reads())) continue;
        if (h.bank && !h.bank->standards.empty() &&
            std::find(h.bank->standards.begin(), h.bank->standards.end(), s.name) == h.bank->standards.end())
            continue;
        const bool elsewhere =
            !h.drives() && h.rail && std::any_of(s.input_at.begin(), s.input_at.end(), [&](const std::string& v) {
                return same_volts(to_number(v).value_or(0), *h.rail);
            });
        if (h.rail && !same_volts(s.supply, *h.rail) && !elsewhere) continue;
        out.push_back(s.name);
    }
    return out;
}

/// Ports that may be the other half: the one on the other pin of the pair, otherwise those that go the same way and
/// whose name differs in little.
std::vector<std::string> partners_for(const AttributeInput& in, const Here& h) {
    std::vector<std::string> out;
    if (h.pin && !h.pin->pair.empty())
        for (const auto& [port, peg] : in.project.pegs)
            if (peg.pin == h.pin->pair) out.push_back(port);
    if (!out.empty()) return out;
    for (const auto& p : in.ports)
        if (&p != h.port && p.direction == h.port->direction && p.index == h.port->index &&
            edit_distance(p.bus, h.port->bus) <= 3)
            out.push_back(p.name);
    return out;
}

/// Terminals that are wired to the chip and go the port's way.
std::vector<std::string> terminals_for(const AttributeInput& in, const Port& port) {
    std::vector<std::string> out;
    for (const auto& net : in.board.nets)
        if (const auto at = in.board.at_terminal(net.terminal);
            at && !contradicts(port.direction, at.terminal->direction))
            out.push_back(net.terminal);
    std::sort(out.begin(), out.end(), natural_less);
    return out;
}

void drive_state(const Here& h, AttributeState& s) {
    if (!h.standard) return void(s.remark = "Choose the I/O standard first; it decides which drives there are.");
    for (const int ma : h.standard->drive_ma) s.legal.push_back(std::to_string(ma));
    if (h.standard->differential) {
        s.origin = AttributeOrigin::not_needed;
        s.remark = "A differential output has one drive.";
    } else if (h.wired && h.wired.terminal->current_ma > 0)
        s.remark = said("{} takes {} mA.", h.wired.net->terminal, shortest(h.wired.terminal->current_ma));
}

void pull_state(const Here& h, AttributeState& s) {
    if (!h.reads())
        return void((s.origin = AttributeOrigin::not_needed, s.remark = "An output holds its wire itself."));
    s.legal = {"up", "down", "keeper"};
    if (h.wired && !h.wired.net->pull.empty())
        s.remark = said("The board has {} Ω {} on this wire.", shortest(h.wired.net->pull_ohm), h.wired.net->pull);
}

void register_state(const Here& h, AttributeState& s) {
    if (h.reads()) s.legal.push_back("in");
    if (h.drives()) s.legal.push_back("out");
    if (h.reads() && h.drives()) s.legal.push_back("both");
}

void delay_state(const Here& h, AttributeState& s) {
    if (!h.reads())
        return void((s.origin = AttributeOrigin::not_needed, s.remark = "The delay line is on the way in."));
    if (!h.bank) return void(s.remark = "Which delays there are depends on the bank.");
    if (h.bank->delay_steps == 0)
        return void((s.origin = AttributeOrigin::not_needed,
                     s.remark = said("The pads of bank {} have no delay line.", h.bank->name)));
    for (int i = 0; i <= h.bank->delay_steps; ++i) s.legal.push_back(std::to_string(i));
}

void termination_state(const Here& h, AttributeState& s) {
    if (!h.reads())
        return void((s.origin = AttributeOrigin::not_needed,
                     s.remark = "An output is terminated at its start, by a resistor in series."));
    if (!h.bank) return void(s.remark = "Which there are depends on the bank.");
    for (const double ohm : h.bank->termination_ohm) s.legal.push_back(shortest(ohm));
    if (s.legal.empty()) {
        s.origin = AttributeOrigin::not_needed;
        s.remark = said("Bank {} has none.", h.bank->name);
    }
}

void fill(const AttributeInput& in, const AttributeKind& kind, const Here& h, bool with_legal, AttributeState& s) {
    if (is(kind, "standard")) {
        if (with_legal) s.legal = standards_for(in, h);
        if (h.wired && !h.wired.terminal->standard.empty())
            s.remark = said("{} wants {}.", h.wired.net->terminal, h.wired.terminal->standard);
    } else if (is(kind, "drive") || is(kind, "slew")) {
        if (!h.drives()) return void((s.origin = AttributeOrigin::not_needed, s.remark = "Only an output drives."));
        if (is(kind, "drive"))
            drive_state(h, s);
        else
            s.legal = h.bank && !h.bank->slews.empty() ? h.bank->slews : std::vector<std::string>{"slow", "fast"};
    } else if (is(kind, "pull")) {
        pull_state(h, s);
    } else if (is(kind, "termination")) {
        termination_state(h, s);
    } else if (is(kind, "partner")) {
        if (h.standard && !h.standard->differential)
            return void((s.origin = AttributeOrigin::not_needed, s.remark = h.standard->name + " needs one wire."));
        if (with_legal) s.legal = partners_for(in, h);
    } else if (is(kind, "pad_register")) {
        register_state(h, s);
    } else if (is(kind, "pad_delay")) {
        delay_state(h, s);
    } else if (is(kind, "role")) {
        s.legal.assign(role_names().begin(), role_names().end());
    } else if (is(kind, "sense")) {
        s.legal = {"high", "low"};
    } else if (is(kind, "tie")) {
        if (!h.reads())
            return void((s.origin = AttributeOrigin::not_needed, s.remark = "An output that is open holds nothing."));
        s.legal = {"0", "1"};
    } else if (is(kind, "invert")) {
        s.legal = {"adapter"};
    } else if (is(kind, "meant") && with_legal) {
        s.legal = terminals_for(in, *h.port);
    }
}

}  // namespace

AttributeInput::AttributeInput(const Part& p, const Board& b, const StandardTable& s, const std::vector<Port>& o,
                               const Project& j)
    : part(p), board(b), standards(s), ports(o), project(j) {
    by_name_.reserve(ports.size());
    for (const auto& port : ports) by_name_.emplace(port.name, &port);
}

const Port* AttributeInput::port(const std::string& name) const {
    const auto at = by_name_.find(name);
    return at == by_name_.end() ? nullptr : at->second;
}

constexpr size_t of_pads = 9;  // the first ones

std::span<const AttributeKind> attribute_kinds() {
    return std::span(kinds).first(of_pads);
}

std::span<const AttributeKind> intent_kinds() {
    return std::span(kinds).subspan(of_pads);
}

const AttributeKind* attribute_kind(std::string_view key) {
    for (const auto& kind : kinds)
        if (kind.key == key) return &kind;
    return nullptr;
}

AttributeState attribute_state(const AttributeInput& in, const std::string& port, const AttributeKind& kind,
                               bool with_legal) {
    AttributeState s;
    const auto h = here_of(in, port);
    if (!h.port) {
        s.origin = AttributeOrigin::not_needed;
        return s;
    }
    const auto attributes = attributes_of(in, port);
    s.value = attributes.*(kind.field);
    fill(in, kind, h, with_legal, s);
    // What was chosen stays visible even where it is of no use: it can be taken back.
    if (!s.value.empty())
        s.origin =
            is(kind, "standard") && !attributes.standard_chosen() ? AttributeOrigin::board : AttributeOrigin::chosen;
    else if (s.origin == AttributeOrigin::none_chosen && kind.needed)
        s.origin = AttributeOrigin::missing;
    return s;
}

std::vector<std::string> legal_for_all(const AttributeInput& in, const std::vector<std::string>& ports,
                                       const AttributeKind& kind) {
    std::vector<std::string> out;
    if (ports.size() > 1 && is(kind, "partner")) return out;
    for (size_t i = 0; i < ports.size() && (i == 0 || !out.empty()); ++i) {
        const auto legal = attribute_state(in, ports[i], kind).legal;
        if (i == 0)
            out = legal;
        else
            std::erase_if(
                out, [&](const std::string& v) { return std::find(legal.begin(), legal.end(), v) == legal.end(); });
    }
    return out;
}

Result<Edit> attribute_edit(const AttributeInput& in, const std::vector<std::string>& ports, const AttributeKind& kind,
                            const std::string& value) {
    Edit edit;
    edit.title =
        (value.empty() ? "take back the " + std::string(kind.label)
                       : std::string(kind.label) + " " + value + (*kind.unit ? " " + std::string(kind.unit) : "")) +
        (ports.size() == 1 ? " of " + ports[0] : " of " + counted(ports.size(), "port"));
    for (const auto& port : ports) {
        const auto before = attributes_of(in, port);
        auto after = before;
        after.*(kind.field) = value;
        if (is(kind, "standard")) after.standard_origin = value.empty() ? "" : "chosen";
        if (after == before) continue;
        const auto state = attribute_state(in, port, kind);
        if (!kind.free_text && !value.empty() && value != state.value &&
            std::find(state.legal.begin(), state.legal.end(), value) == state.legal.end()) {
            const std::string can =
                state.legal.empty() ? "Nothing can be chosen there" + (state.remark.empty() ? "." : ": " + state.remark)
                                    : said("It can be {}.", list_names(state.legal, 8));
            return Message{Severity::stop, Code::attribute,
                           said("{} cannot have the {} '{}'. {}{}", port, kind.label, value, can,
                                did_you_mean(value, state.legal))};
        }
        edit.changes.emplace_back(AttributeChange{port, before, after});
    }
    return edit;
}

CopiedAttributes copy_attributes(const AttributeInput& in, const std::string& from,
                                 const std::vector<std::string>& to) {
    CopiedAttributes out;
    out.edit.title = said("give {} the attributes of {}", (to.size() == 1 ? to[0] : counted(to.size(), "port")), from);
    const auto given = attributes_of(in, from);
    Project next = in.project;
    const AttributeInput after_all(in.part, in.board, in.standards, in.ports, next);
    for (const auto& port : to) {
        if (port == from || !in.port(port)) continue;
        const auto before = attributes_of(in, port);
        for (const auto& kind : attribute_kinds()) {
            if (is(kind, "partner") || is(kind, "note") || given.*(kind.field) == next.attributes[port].*(kind.field))
                continue;
            // The standard comes first: it decides which drives are legal.
            const auto edit = attribute_edit(after_all, {port}, kind, given.*(kind.field));
            if (!edit)
                out.left_out.push_back(std::string(kind.label) + " of " + port);
            else
                next.attributes[port].*(kind.field) = given.*(kind.field);
        }
        auto after = next.attributes[port];
        after.standard_origin = after.standard == before.standard ? before.standard_origin
                                : after.standard.empty()          ? ""
                                                                  : "chosen";
        if (after != before) out.edit.changes.emplace_back(AttributeChange{port, before, after});
    }
    return out;
}

}  // namespace kp
