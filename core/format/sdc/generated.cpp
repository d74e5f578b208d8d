// SPDX-License-Identifier: GPL-3.0-or-later
// create_generated_clock: edges by number of the master, or divided and multiplied waveforms; docs/timing.md,
// sections 2 and 3.
#include "core/format/sdc/generated.hpp"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <set>

namespace kp::sdc {

namespace {

bool whole(double v) {
    return v >= 1 && v <= 1e9 && v == std::floor(v);
}

}  // namespace

std::string derive_clock(const ClockDefinition& master, const GeneratedForm& form, ClockDefinition& out) {
    const double rise = master.waveform[0], fall = master.waveform[1], period = master.period;
    double divide = form.divide.empty() ? 1 : form.divide[0], multiply = form.multiply.empty() ? 1 : form.multiply[0];
    if (!whole(divide)) return "-divide_by needs a whole number of at least 1.";
    if (!whole(multiply)) return "-multiply_by needs a whole number of at least 1.";
    // Both together mean their ratio: 5/4 of a master of 50 ns has 40 ns, and 2/4 is a division by 2.
    const auto common = std::gcd(static_cast<long long>(divide), static_cast<long long>(multiply));
    divide /= static_cast<double>(common);
    multiply /= static_cast<double>(common);
    double made = period;
    int by[2] = {0, 1};
    std::vector<double> wave{rise, fall};
    if (!form.edges.empty()) {
        std::vector<double> at;
        for (const double n : form.edges) {
            if (!whole(n)) return "-edges needs edge numbers of the master from 1 on.";
            const auto k = static_cast<long long>(n) - 1;
            at.push_back(static_cast<double>(k / 2) * period + (k % 2 ? fall : rise));
            if (at.size() <= 2) by[at.size() - 1] = static_cast<int>(k % 2);
        }
        for (size_t i = 0; i < std::min(at.size(), form.shift.size()); ++i) at[i] += form.shift[i];
        if (at.size() != 3 || !(at[0] < at[1] && at[1] < at[2]))
            return "-edges needs three edge numbers, each later than the one before.";
        made = at[2] - at[0];
        wave = {at[0], at[1]};
    } else if (divide > 1 && multiply == 1) {
        made = period * divide;
        const bool power = (static_cast<long long>(divide) & (static_cast<long long>(divide) - 1)) == 0;
        if (power) by[1] = 0;
        wave = power ? std::vector{rise, rise + made / 2} : std::vector{rise * divide, fall * divide};
    } else if (multiply > 1) {
        made = period * divide / multiply;
        wave = {rise * divide / multiply, fall * divide / multiply};
    }
    if (!form.duty.empty()) {
        if (!(form.duty[0] > 0 && form.duty[0] < 100)) return "-duty_cycle lies between 0 and 100 %.";
        wave[1] = wave[0] + made * form.duty[0] / 100;
    }
    if (form.invert) {
        wave = {wave[1], wave[0] + made};
        std::swap(by[0], by[1]);
    }
    out.period = made;
    out.waveform = wave;
    out.made_by[0] = by[0];
    out.made_by[1] = by[1];
    return {};
}

void ClockTracer::find_drivers() {
    drivers_.assign(n_.net_names.size(), ObjectRef{ObjectKind::net, no_id});
    for (std::uint32_t p = 0; p < n_.ports.size(); ++p)
        if (n_.ports[p].direction != Direction::out && n_.ports[p].net != no_id)
            drivers_[n_.ports[p].net] = {ObjectKind::port, p};
    for (std::uint32_t p = 0; p < n_.pins.size(); ++p) {
        const auto* cell = library_.cell(n_.type_of(n_.pins[p].cell));
        const int at = cell ? cell->pin(n_.pin_names[n_.pins[p].name]) : -1;
        if (at >= 0 && cell->pins[static_cast<size_t>(at)].direction == Direction::out && n_.pins[p].net != no_id)
            drivers_[n_.pins[p].net] = {ObjectKind::pin, p};
    }
}

ObjectSet ClockTracer::driven(ObjectSet objects) {
    if (drivers_.empty()) find_drivers();
    for (auto& o : objects)
        if (o.kind == ObjectKind::net) o = drivers_[o.id];
    std::erase_if(objects, [](const ObjectRef& o) { return o.id == no_id; });
    return objects;
}

std::vector<std::uint32_t> ClockTracer::clocks_at(ObjectRef from, const std::vector<ClockDefinition>& clocks) {
    if (drivers_.empty()) find_drivers();
    std::vector<std::uint32_t> found;
    std::vector<ObjectRef> open{from};
    std::set<ObjectRef> seen{from};
    const auto add = [&](ObjectRef next) {
        if (next.id != no_id && seen.insert(next).second) open.push_back(next);
    };
    for (size_t i = 0; i < open.size(); ++i) {
        const auto o = open[i];
        bool clocked = false;
        for (std::uint32_t c = 0; c < clocks.size(); ++c)
            if (std::find(clocks[c].sources.begin(), clocks[c].sources.end(), o) != clocks[c].sources.end()) {
                clocked = true;
                if (std::find(found.begin(), found.end(), c) == found.end()) found.push_back(c);
            }
        if (clocked || o.kind != ObjectKind::pin) continue;
        const auto& pin = n_.pins[o.id];
        const bool drives = pin.net != no_id && drivers_[pin.net] == o;
        if (!drives && pin.net != no_id) add(drivers_[pin.net]);
        const auto* cell = library_.cell(n_.type_of(pin.cell));
        if (drives && cell && !cell->flip_flop)
            for (auto p = n_.cells[pin.cell].first_pin, end = p + n_.cells[pin.cell].pin_count; p < end; ++p)
                if (p != o.id) add({ObjectKind::pin, p});
    }
    return found;
}

}  // namespace kp::sdc
