// SPDX-License-Identifier: GPL-3.0-or-later
// Names that every language behind takes. Buses are judged once, by the words of three languages and by case; VHDL is
// the strictest, so its rules of identifiers are the ones used (IEEE 1076-2008, 15.4). Linear in the ports.
#include "core/base/reserved_words.hpp"
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

#include <cctype>
#include <map>
#include <set>

namespace kp::rules {

namespace {

/// Why a name fits not every language; empty when it does.
std::string trouble_of(const std::string& name) {
    if (name.empty()) return "is empty";
    if (std::isdigit(static_cast<unsigned char>(name[0]))) return "starts with a digit";
    for (const char c : name)
        if (!std::isalnum(static_cast<unsigned char>(c)) && c != '_')
            return said("holds '{}'; names of letters, digits and underscores go through every tool", c);
    // VHDL: no underscore at either end, no two in a row (IEEE 1076-2008, 15.4).
    if (name.front() == '_' || name.back() == '_' || name.find("__") != std::string::npos)
        return "has an underscore at its start or end, or two in a row, which VHDL does not take";
    if (is_verilog_word(name)) return "is a word of Verilog";
    if (is_vhdl_word(name)) return "is a word of VHDL";
    if (is_tcl_word(name)) return "is a command of Tcl, in which constraints are written";
    return {};
}

void paths(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    const auto& p = in.project;
    std::vector<std::string> all{p.delays, p.pin_report};
    for (const auto* list : {&p.netlists, &p.libraries, &p.models, &p.sources})
        all.insert(all.end(), list->begin(), list->end());
    for (const auto& file : p.constraints) all.push_back(file.path);
    for (const auto& path : all)
        if (path.find_first_of(" \t") != std::string::npos)
            out.push_back(finding(
                row, said("The file name '{}' holds a blank; scripts of the tools behind would take it for two.", path),
                {{Subject::file, path}}));
}

}  // namespace

void d02(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    std::map<std::string, std::string> by_lower;  // of each bus, once
    std::set<std::string> seen;
    for (const auto& port : in.ports) {
        if (!seen.insert(port.bus).second) continue;
        if (const auto why = trouble_of(port.bus); !why.empty())
            out.push_back(finding(row, said("The port name '{}' {}.", port.bus, why), {{Subject::port, port.bus}}));
        const auto [at, fresh] = by_lower.emplace(lower(port.bus), port.bus);
        if (!fresh)
            out.push_back(finding(
                row, said("The ports {} and {} differ in case only; VHDL takes them for one.", at->second, port.bus),
                {{Subject::port, port.bus}, {Subject::port, at->second}}));
    }
    paths(in, row, out);
}

}  // namespace kp::rules
