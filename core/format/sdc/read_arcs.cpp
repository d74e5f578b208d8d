// SPDX-License-Identifier: GPL-3.0-or-later
// Commands about loads, transitions, and which arcs count and by how much.
#include "core/format/sdc/interpreter.hpp"

#include "core/base/text.hpp"
#include "core/format/sdc/query.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp::sdc {

void Interpreter::load(const Arguments& a) {
    const auto v = number(*a.positional[0], "The load");
    const auto set = objects(*a.positional[1], {K::port, K::net});
    if (!v || failed_) return;
    if (a.has("-subtract_pin_load"))
        tell(Severity::caution, Code::not_used, "-subtract_pin_load is read, but pins count beside this load.");
    const auto f = edges(a);
    for (const auto& o : set) {
        auto at = std::find_if(out_.loads.begin(), out_.loads.end(), [&](const Load& old) { return old.object == o; });
        if (at == out_.loads.end()) at = out_.loads.insert(at, Load{o, {}});
        for (const int side : {0, 1})
            for (const int edge : {0, 1})
                if ((side == 0 ? f.min : f.max) && (edge == 0 ? f.rise : f.fall))
                    at->value[side][edge] = *v * load_unit_;
    }
}

void Interpreter::input_transition(const Arguments& a) {
    const auto v = number(*a.positional[0], "The transition");
    const auto set = objects(*a.positional[1], {K::port});
    const auto f = edges(a);
    if (!v || failed_) return;
    for (const auto& o : set)
        if (o.kind == K::port) out_.input_transitions.push_back({o.id, f.rise, f.fall, f.min, f.max, time(*v)});
}

void Interpreter::driving_cell(const Arguments& a) {
    DrivingCell d;
    const auto set = objects(*a.positional[0], {K::port});
    const auto* type = a.get("-lib_cell");
    if (!type) return fail("set_driving_cell needs -lib_cell.");
    const auto& named = type->elements.size() == 1 ? type->elements[0].text : type->text;
    d.cell = named.substr(named.rfind('/') + 1);
    const auto* cell = library_.cell(d.cell);
    if (!cell) return fail(said("There is no library cell '{}'.", d.cell));
    if (const auto* w = a.get("-pin")) d.pin = w->text;
    if (const auto* w = a.get("-from_pin")) d.from_pin = w->text;
    if (const auto* w = a.get("-input_transition_rise")) d.slew[0] = time(to_number(w->text).value_or(0));
    if (const auto* w = a.get("-input_transition_fall")) d.slew[1] = time(to_number(w->text).value_or(0));
    const auto f = edges(a);
    d.rise = f.rise;
    d.fall = f.fall;
    d.minimum = f.min;
    d.maximum = f.max;
    for (const auto& o : set)
        if (!failed_ && o.kind == K::port) {
            d.port = o.id;
            out_.driving_cells.push_back(d);
        }
}

void Interpreter::case_analysis(const Arguments& a) {
    static const std::map<std::string, CaseValue::Value> values{
        {"0", CaseValue::zero},       {"zero", CaseValue::zero},      {"1", CaseValue::one},
        {"one", CaseValue::one},      {"rise", CaseValue::rising},    {"rising", CaseValue::rising},
        {"fall", CaseValue::falling}, {"falling", CaseValue::falling}};
    const auto at = values.find(lower(a.positional[0]->text));
    if (at == values.end())
        return fail(said("set_case_analysis takes 0, 1, rising or falling, not '{}'.", a.positional[0]->text));
    hold_level(*a.positional[1], at->second);
}

void Interpreter::hold_level(const Word& word, CaseValue::Value value) {
    const auto set = objects(word, {K::port, K::pin});
    if (failed_) return;
    for (const auto& o : set) {
        std::erase_if(out_.cases, [&](const CaseValue& old) { return old.object == o; });
        out_.cases.push_back({o, value});
    }
}

ObjectSet Interpreter::objects_or_types(const Word& word, std::initializer_list<K> kinds,
                                        std::vector<std::string>& types, std::vector<std::string>* pins) {
    Word rest;
    rest.text = word.text;
    for (const auto& e : word.elements) {
        if (e.kind < 0 && !e.text.empty() && library_type(e.text, types, pins)) continue;
        rest.elements.push_back(e);
    }
    return objects(rest, kinds);
}

bool Interpreter::library_type(std::string name, std::vector<std::string>& types, std::vector<std::string>* pins) {
    if (index_.cell(name) != no_id || index_.pin(name) != no_id || index_.port(name) != no_id) return false;
    for (int cut = 0; cut < 2; ++cut) {
        if (library_.cell(name)) {
            types.push_back(name);
            return true;
        }
        const auto slash = name.find('/');
        if (slash == std::string::npos) return false;
        const auto* cell = library_.cell(name.substr(0, slash));
        if (pins && cell && cell->pin(name.substr(slash + 1)) >= 0) {
            pins->push_back(name);
            return true;
        }
        name = name.substr(slash + 1);
    }
    return false;
}

void Interpreter::disable(const Arguments& a) {
    DisabledArcs d;
    d.objects = objects_or_types(*a.positional[0], {K::port, K::pin, K::cell}, d.cell_types, &d.type_pins);
    if (const auto* w = a.get("-from")) d.from = w->text;
    if (const auto* w = a.get("-to")) d.to = w->text;
    if (!failed_) out_.disabled.push_back(std::move(d));
}

void Interpreter::derate(const Arguments& a) {
    Derate d;
    const auto v = number(*a.positional[0], "The factor");
    if (!v) return;
    d.value = *v;
    const auto both = [&](const char* x, const char* y, bool& p, bool& q) {
        const bool same = a.has(x) == a.has(y);
        p = same || a.has(x);
        q = same || a.has(y);
    };
    both("-early", "-late", d.early, d.late);
    both("-clock", "-data", d.clock, d.data);
    both("-rise", "-fall", d.rise, d.fall);
    const bool any = a.has("-cell_delay") || a.has("-net_delay") || a.has("-cell_check");
    d.cell = !any || a.has("-cell_delay");
    d.net = !any || a.has("-net_delay");
    d.check = a.has("-cell_check");
    if (a.positional.size() > 1)
        d.objects = objects_or_types(*a.positional[1], {K::cell, K::net}, d.cell_types, nullptr);
    if (!failed_) out_.derates.push_back(std::move(d));
}

}  // namespace kp::sdc
