// SPDX-License-Identifier: GPL-3.0-or-later
// The tables of what a project keeps. A new field is a member in the header and a line here; the schema in data/schemas
// names it too, and tests/schemas.py compares.
#include "core/model/project.hpp"

#include <map>
#include <utility>

namespace kp {

UnusedPins Project::unused() const {
    static const std::map<std::string_view, UnusedPins> words{{"pull up", UnusedPins::pulled_up},
                                                              {"pull down", UnusedPins::pulled_down},
                                                              {"drive low", UnusedPins::driven_low}};
    const auto at = words.find(unused_pins);
    return at == words.end() ? UnusedPins::floating : at->second;
}

namespace {

using A = PortAttributes;
constexpr AttributeField attribute_table[] = {
    {"standard", &A::standard},
    {"standard_origin", &A::standard_origin},
    {"drive", &A::drive},
    {"slew", &A::slew},
    {"pull", &A::pull},
    {"note", &A::note},
    {"termination", &A::termination},
    {"partner", &A::partner},
    {"pad_register", &A::pad_register},
    {"pad_delay", &A::pad_delay},
    {"role", &A::role},
    {"sense", &A::sense},
    {"open", &A::open},
    {"tie", &A::tie},
    {"invert", &A::invert},
    {"meant", &A::meant},
};
std::span<const AttributeField> attributes_now = attribute_table;

using P = Project;
const ProjectField project_table[] = {
    {{"name", &P::name, Presence::required}, ProjectField::nothing},
    {{"part", &P::part, Presence::always}},
    {{"board", &P::board, Presence::always}},
    {{"top", &P::top, Presence::always}},
    {{"netlists", &P::netlists, Presence::required}},
    {{"libraries", &P::libraries, Presence::required}},
    {{"models", &P::models}},
    {{"delays", &P::delays, Presence::always}},
    {{"corners", &P::corners}},
    {{"pin_report", &P::pin_report}},
    {{"mode", &P::mode}, ProjectField::rules},  // modes are the part's, and rule P02 knows them
    {{"start_clock", &P::start_clock, Presence::if_set, "", "internal|external|jtag"}, ProjectField::rules},
    {{"load", &P::load, Presence::if_set, "", "stored|volatile"}, ProjectField::rules},
    {{"unused_pins", &P::unused_pins, Presence::if_set, "", "float|pull up|pull down|drive low"}, ProjectField::rules},
    {{"sources", &P::sources}},
    {{"modules", &P::modules}},
    {{"defines", &P::defines}},
    {{"parameters", &P::parameters}},
    {{"open_terminals", &P::open_terminals}, ProjectField::rules},
    {{"part_notes", &P::part_notes}, ProjectField::nothing},
    {{"part_places", &P::part_places}, ProjectField::nothing},
    {{"part_orders", &P::part_orders}},  // proposals follow it, so it is the board's
    {{"power_notes", &P::power_notes}, ProjectField::nothing},
    {{"proofs", &P::proofs}, ProjectField::nothing},
    {{"budgets", &P::budgets}, ProjectField::rules},
    {{"links", &P::links, Presence::apart}, ProjectField::rules},
    {{"ports", &P::ports}, ProjectField::nothing},
};

using W = Waiver;
const Field<Waiver> waiver_table[] = {
    {"rule", &W::rule, Presence::required},     {"objects", &W::objects, Presence::required},
    {"reason", &W::reason, Presence::required}, {"who", &W::who, Presence::always},
    {"date", &W::date, Presence::always},
};

using S = SdcFile;
const Field<SdcFile> sdc_file_table[] = {
    {"path", &S::path, Presence::required},       {"planning", &S::planning, Presence::always},
    {"analysis", &S::analysis, Presence::always}, {"handoff", &S::handoff, Presence::always},
    {"receives", &S::receives, Presence::always},
};

}  // namespace

const std::string& AttributeField::of(const PortAttributes& a) const {
    static const std::string none;
    if (member) return a.*member;
    const auto at = a.more.find(name);
    return at == a.more.end() ? none : at->second;
}

void AttributeField::set(PortAttributes& a, std::string value) const {
    if (member)
        a.*member = std::move(value);
    else if (value.empty())
        a.more.erase(name);
    else
        a.more[name] = std::move(value);
}

std::span<const AttributeField> attribute_fields() {
    return attributes_now;
}
OtherAttributeFields::OtherAttributeFields(std::span<const AttributeField> table) {
    attributes_now = table;
}
OtherAttributeFields::~OtherAttributeFields() {
    attributes_now = attribute_table;
}

std::span<const ProjectField> project_fields() {
    return project_table;
}
std::span<const Field<Waiver>> waiver_fields() {
    return waiver_table;
}
std::span<const Field<SdcFile>> sdc_file_fields() {
    return sdc_file_table;
}

}  // namespace kp
