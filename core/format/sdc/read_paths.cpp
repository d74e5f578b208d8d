// SPDX-License-Identifier: GPL-3.0-or-later
// Commands about port delays and paths.
#include "core/format/sdc/interpreter.hpp"

#include "core/base/text.hpp"
#include "core/format/sdc/query.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cmath>

namespace kp::sdc {

void Interpreter::input_delay(const Arguments& a) {
    io_delay(a, true);
}

void Interpreter::output_delay(const Arguments& a) {
    io_delay(a, false);
}

void Interpreter::io_delay(const Arguments& a, bool input) {
    const char* what = input ? "The input delay" : "The output delay";
    const auto v = number(*a.positional[0], what);
    if (!v) return;
    IoDelay d;
    d.input = input;
    d.span = call_->span;
    d.value = time(*v);
    const auto f = edges(a);
    d.early = f.min;
    d.late = f.max;
    d.rise = f.rise;
    d.fall = f.fall;
    d.clock_fall = a.has("-clock_fall");
    d.add = a.has("-add_delay");
    d.source_latency_included = a.has("-source_latency_included");
    d.network_latency_included = a.has("-network_latency_included");
    if (const auto* w = a.get("-clock")) {
        const auto ids = clocks_of(*w);
        if (ids.empty()) return;
        d.clock = ids[0];
    }
    if (a.has("-reference_pin"))
        tell(Severity::caution, Code::not_used, "-reference_pin is read, but this version's analysis does not use it.");
    const auto set = objects(*a.positional[1], {K::port});
    for (const auto& o : set) {
        if (o.kind != K::port) {
            fail(said("{} goes on ports; '{}' is none.", what, object_name(n_, o.kind, o.id)));
            continue;
        }
        const auto& port = n_.ports[o.id];
        if (port.direction == (input ? Direction::out : Direction::in)) {
            fail(said("Port {} is an {} is meant for it.", port.name,
                      (input ? "output; set_output_delay" : "input; set_input_delay")));
            continue;
        }
        d.port = o.id;
        keep(d);
    }
}

void Interpreter::keep(const IoDelay& d) {
    auto& list = out_.io_delays;
    if (d.add) return list.push_back(d);
    // The newer one stands where the older stood, so that a value said twice is only another value to who compares
    // texts.
    size_t at = list.size();
    std::vector<IoDelay> now, rest;
    for (const auto& old : list) {
        const bool same_port = old.port == d.port && old.input == d.input;
        if (!same_port || (old.clock == d.clock && old.clock_fall != d.clock_fall)) {
            now.push_back(old);
            continue;
        }
        at = std::min(at, now.size());
        if (old.clock != d.clock) continue;
        // What the newer one does not cover stays: a piece for each side that has an edge left.
        for (const bool side_early : {true, false}) {
            if (!(side_early ? old.early : old.late)) continue;
            const bool covered = side_early ? d.early : d.late;
            IoDelay piece = old;
            piece.rise = old.rise && !(covered && d.rise);
            piece.fall = old.fall && !(covered && d.fall);
            piece.early = side_early;
            piece.late = !side_early;
            if (piece.rise || piece.fall) rest.push_back(piece);
        }
    }
    rest.push_back(d);
    now.insert(now.begin() + static_cast<long>(std::min(at, now.size())), rest.begin(), rest.end());
    list = std::move(now);
}

std::optional<PathException::Point> Interpreter::point(const Arguments& a, const char* plain, const char* rise,
                                                       const char* fall, std::initializer_list<K> kinds) {
    for (const auto& [name, r, f] :
         {std::tuple{plain, true, true}, std::tuple{rise, true, false}, std::tuple{fall, false, true}}) {
        const auto* w = a.get(name);
        if (!w) continue;
        PathException::Point p{objects(*w, kinds), r, f};
        if (p.objects.empty() && !failed_)
            tell(Severity::stop, Code::no_match, std::string(name) + " of this command names nothing.");
        return p;
    }
    return std::nullopt;
}

void Interpreter::exception(const Arguments& a, PathException e) {
    e.span = call_->span;
    e.from = point(a, "-from", "-rise_from", "-fall_from", {K::clock, K::port, K::pin, K::cell});
    e.to = point(a, "-to", "-rise_to", "-fall_to", {K::clock, K::port, K::pin, K::cell});
    // The order of several -through is kept within one spelling, which is how they are written in practice.
    for (const auto& [name, r, f] : {std::tuple{"-through", true, true}, std::tuple{"-rise_through", true, false},
                                     std::tuple{"-fall_through", false, true}})
        if (const auto at = a.options.find(name); at != a.options.end())
            for (const auto* w : at->second)
                e.through.push_back({objects(*w, {K::port, K::pin, K::cell, K::net}), r, f});
    if (a.has("-rise") != a.has("-fall")) {
        if (!e.to) e.to = PathException::Point{};  // every endpoint, one edge
        e.to->rise = a.has("-rise");
        e.to->fall = a.has("-fall");
    }
    if (!e.from && !e.to && e.through.empty())
        return fail(call_->name + " needs -from, -through or -to; without them it would hold for every path.");
    constexpr size_t most_exceptions = 50'000;  // ten times what large designs have; a loop without end writes more
    if (out_.exceptions.size() >= most_exceptions)
        return fail("There are 50,000 path exceptions already, the limit of this program; this one is left out.");
    if (!failed_) out_.exceptions.push_back(std::move(e));
}

void Interpreter::false_path(const Arguments& a) {
    PathException e;
    setup_hold(a, e);
    exception(a, std::move(e));
}

void Interpreter::multicycle(const Arguments& a) {
    PathException e;
    e.kind = PathException::multicycle;
    setup_hold(a, e);
    e.only_setup_given = !a.has("-setup") && !a.has("-hold");
    e.start_given = a.has("-start");
    e.end_given = a.has("-end");
    const auto v = number(*a.positional[0], "The number of cycles");
    if (!v) return;
    if (*v != std::floor(*v) || *v < 0 || *v > 100000)
        return fail(said("The number of cycles is a whole number, not {}.", a.positional[0]->text));
    e.value = *v;
    exception(a, std::move(e));
}

void Interpreter::max_delay(const Arguments& a) {
    bound(a, PathException::max_delay);
}

void Interpreter::min_delay(const Arguments& a) {
    bound(a, PathException::min_delay);
}

void Interpreter::bound(const Arguments& a, PathException::Kind kind) {
    PathException e;
    e.kind = kind;
    e.setup = kind == PathException::max_delay;
    e.hold = !e.setup;
    const auto v = number(*a.positional[0], "The delay");
    if (!v) return;
    e.value = time(*v);
    exception(a, std::move(e));
}

void Interpreter::data_check(const Arguments& a) {
    DataCheck d;
    const auto v = number(*a.positional[0], "The time");
    if (!v) return;
    d.value = time(*v);
    const bool both = a.has("-setup") == a.has("-hold");
    d.setup = both || a.has("-setup");
    d.hold = both || a.has("-hold");
    const auto end = [&](const char* any, const char* rise, const char* fall, PathException::Point& p) {
        for (const char* o : {any, rise, fall})
            if (const auto* w = a.get(o)) {
                p.objects = objects(*w, {K::pin, K::port});
                p.rise = o != fall;
                p.fall = o != rise;
            }
    };
    end("-from", "-rise_from", "-fall_from", d.from);
    end("-to", "-rise_to", "-fall_to", d.to);
    if (const auto* w = a.get("-clock"))
        if (const auto ids = clocks_of(*w); !ids.empty()) d.clock = ids[0];
    if (failed_) return;
    if (d.from.objects.empty() || d.to.objects.empty()) return fail("set_data_check needs -from and -to, both pins.");
    out_.data_checks.push_back(std::move(d));
}

}  // namespace kp::sdc
