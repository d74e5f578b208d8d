// SPDX-License-Identifier: GPL-3.0-or-later
// Kinds are words of board files; a kind that several sorts of parts share is told apart by its terminals.
#include "core/board_sim/simulated_part.hpp"

#include "core/board_sim/part_makers.hpp"
#include "core/board_sim/board_model.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <charconv>

namespace kp::board_sim {

std::optional<int> dialled(const std::string& value, int now, int step) {
    const bool relative = value.starts_with("+") || value.starts_with("-");
    const char* from = value.data() + (value.starts_with("+") ? 1 : 0);
    const char* to = value.data() + value.size();
    int v = 0;
    const auto [end, error] = std::from_chars(from, to, v);
    if (error != std::errc() || end != to || v > 10'000'000 || v < -10'000'000) return {};
    return static_cast<int>(
        std::clamp(relative ? now + static_cast<long long>(v) * step : v, -1'000'000'000LL, 1'000'000'000LL));
}

Status SimulatedPart::set(const std::string& control, const std::string& value) {
    return no_such(control, value);
}

Status SimulatedPart::no_such(const std::string& control, const std::string& value) const {
    return Message{Severity::stop, Code::bench, said("{} takes no {} '{}'.", part().ref, control, value)};
}

void SimulatedPart::give(size_t terminal, Drive drive) {
    if (terminal != none) home_.model->give(home_.first_terminal + static_cast<std::uint32_t>(terminal), drive);
}

Level SimulatedPart::level(size_t terminal) const {
    return terminal == none ? Level::floating
                            : home_.model->level(home_.first_terminal + static_cast<std::uint32_t>(terminal));
}

Time SimulatedPart::now() const {
    return home_.model->now();
}

void SimulatedPart::wake_in(Time later, std::uint32_t what) {
    home_.model->wake(home_.number, now() + later, what);
}

size_t SimulatedPart::find(std::initializer_list<const char*> names) const {
    const auto& all = part().terminals;
    for (const std::string name : names)
        for (size_t i = 0; i < all.size(); ++i)
            if (all[i].name == name || all[i].name.ends_with("_" + name)) return i;
    return none;
}

std::vector<size_t> SimulatedPart::row(const std::string& stem) const {
    std::vector<size_t> out;
    const auto& all = part().terminals;
    while (true) {
        const auto wanted = stem + std::to_string(out.size());
        const auto at = std::find_if(all.begin(), all.end(), [&](const Terminal& t) { return t.name == wanted; });
        if (at == all.end()) return out;
        out.push_back(static_cast<size_t>(at - all.begin()));
    }
}

bool SimulatedPart::active(size_t terminal, Level now) const {
    return now == (part().terminals[terminal].active_low ? Level::low : Level::high);
}

std::unique_ptr<SimulatedPart> make_simulated_part(
    const SimulatedPart::Home& home, std::vector<std::pair<std::string, std::shared_ptr<Shaft>>>& shafts) {
    const auto& part = *home.part;
    if (part.terminals.empty() || part.kind == "oscillator" || part.kind == "fpga") return nullptr;
    const auto shaft = [&] {
        const auto word = part.label.substr(0, part.label.find(' '));
        for (const auto& [name, one] : shafts)
            if (name == word) return one;
        shafts.emplace_back(word, std::make_shared<Shaft>());
        return shafts.back().second;
    };
    const auto& kind = part.kind;
    Made made;
    if (kind == "key" || kind == "rocker") made = make_contacts(home);
    if (kind == "vane") made = make_vane(home);
    if (kind == "encoder") made = make_encoder(home, shaft());
    if (kind == "driver") made = make_winch(home, shaft());
    if (kind == "lamp") made = make_lamps(home);
    if (kind == "display") made = make_digits(home);
    if (kind == "sounder") made = make_sounder(home);
    if (kind == "serial") made = make_serial(home);
    if (kind == "receiver") made = make_satellite(home);
    if (kind == "converter") made = make_scale_converter(home);
    if (kind == "converter" && !made) made = make_sampler(home);
    if (kind == "bus") made = make_two_wire(home);
    if (kind == "ethernet") made = make_phy(home);
    if (kind == "memory") made = make_memory(home);
    if (kind == "optical" || kind == "edge") made = make_loop(home);
    return made ? std::move(made) : make_plain(home);
}

}  // namespace kp::board_sim
