// SPDX-License-Identifier: GPL-3.0-or-later
// A cell is what its functions say: a register by its ff group, a carry by its two truth tables, a pad by its pin that
// lies outside. Linear in the library.
#include "core/model/cell_set.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp {

namespace {

std::string single(const BooleanFunction& f, bool& inverted) {
    if (f.inputs.size() != 1) return {};
    inverted = !f.eval(1);
    return f.inputs[0];
}

const LibraryPin* only_output(const LibraryCell& c) {
    const LibraryPin* out = nullptr;
    for (const auto& pin : c.pins)
        if (pin.direction != Direction::in) {
            if (out) return nullptr;
            out = &pin;
        }
    return out;
}

/// next_state is D, or D while another input is 1 and the state otherwise.
bool read_next_state(const LibraryCell& c, RegisterPins& out) {
    const auto& f = c.next_state;
    if (f.inputs.size() == 1 && f.eval(1) && !f.eval(0)) {
        out.data = f.inputs[0];
        return true;
    }
    if (f.inputs.size() != 3) return false;
    std::array<size_t, 3> at{0, 1, 2};
    do {
        if (f.inputs[at[2]] != c.state) continue;
        bool same = true;
        for (unsigned v = 0; v < 8; ++v) {
            const bool e = v & 1, d = v & 2, q = v & 4;
            std::uint64_t in = 0;
            in |= std::uint64_t{e} << at[0];
            in |= std::uint64_t{d} << at[1];
            in |= std::uint64_t{q} << at[2];
            same &= f.eval(in) == (e ? d : q);
        }
        if (!same) continue;
        out.enable = f.inputs[at[0]];
        out.data = f.inputs[at[1]];
        return true;
    } while (std::next_permutation(at.begin(), at.end()));
    return false;
}

void look_at_register(const LibraryCell& c, CellSet& set) {
    const auto* q = only_output(c);
    bool inverted = false, turned = false;
    RegisterPins pins;
    pins.cell = &c;
    if (!q || q->is_pad || single(q->function, turned) != c.state || turned || !read_next_state(c, pins)) return;
    for (const auto& pin : c.pins)
        if (pin.is_pad) return;
    pins.output = q->name;
    pins.clock = single(c.clocked_on, inverted);
    if (pins.clock.empty()) return;
    bool low = false;
    if (!c.clear.empty() && ((pins.clear = single(c.clear, low)).empty() || low)) return;
    if (!c.preset.empty() && ((pins.preset = single(c.preset, low)).empty() || low)) return;
    if (c.latch) {
        if (!set.latch.cell && !inverted && pins.clear.empty() && pins.preset.empty()) set.latch = pins;
        return;
    }
    set.registers.emplace(RegisterKind{!pins.enable.empty(), !pins.clear.empty(), !pins.preset.empty(), inverted},
                          pins);
}

/// Two outputs of three inputs that are sum and majority, maybe with one input turned over.
void look_at_carry(const LibraryCell& c, CellSet& set) {
    std::vector<const LibraryPin*> in, out;
    for (const auto& pin : c.pins) (pin.direction == Direction::in ? in : out).push_back(&pin);
    if (in.size() != 3 || out.size() != 2 || out[0]->function.inputs.size() != 3 || out[1]->function.inputs.size() != 3)
        return;
    const auto table = [&](const LibraryPin& pin) {
        unsigned t = 0;
        for (unsigned v = 0; v < 8; ++v) {
            std::uint64_t values = 0;
            for (size_t k = 0; k < 3; ++k) {
                const auto at = static_cast<size_t>(
                    std::find_if(in.begin(), in.end(),
                                 [&](const LibraryPin* p) { return p->name == pin.function.inputs[k]; }) -
                    in.begin());
                if (at == 3) return 0U;
                values |= ((std::uint64_t{v} >> at) & 1) << k;
            }
            t |= unsigned{pin.function.eval(values)} << v;
        }
        return t;
    };
    for (int turn = 0; turn < 2; ++turn, std::swap(out[0], out[1])) {
        const auto sum = table(*out[0]), carry = table(*out[1]);
        CarryPins pins{&c, in[0]->name, in[1]->name, in[2]->name, out[0]->name, out[1]->name, false};
        if (sum == 0x96 && carry == 0xE8) {
            if (!set.carry.cell) set.carry = pins;
        } else if (sum == 0x69 && carry == 0xB2) {  // the second input turned over
            pins.b_inverted = true;
            if (!set.carry_inverted.cell) set.carry_inverted = pins;
        }
    }
}

void look_at_pad(const LibraryCell& c, CellSet& set) {
    std::vector<const LibraryPin*> pads, in, out;
    for (const auto& pin : c.pins) (pin.is_pad ? pads : pin.direction == Direction::in ? in : out).push_back(&pin);
    if (c.flip_flop || pads.empty()) return;
    bool turned = false;
    if (pads.size() == 2) {
        if (in.empty() && out.size() == 1 && !set.pair_in) set.pair_in = &c;
        if (in.size() == 1 && out.empty() && !set.pair_out) set.pair_out = &c;
        return;
    }
    const auto& pad = *pads[0];
    if (pads.size() != 1) return;
    if (in.empty() && out.size() == 1 && single(out[0]->function, turned) == pad.name && !turned && !set.pad_in.cell)
        set.pad_in = {&c, pad.name, "", "", out[0]->name};
    if (in.size() == 1 && out.empty() && single(pad.function, turned) == in[0]->name && !turned && !set.pad_out.cell)
        set.pad_out = {&c, pad.name, in[0]->name, "", ""};
    if (in.size() == 2 && out.size() == 1 && !pad.three_state.empty() && !set.pad_two.cell) {
        const auto enable = single(pad.three_state, turned);
        if (!turned) return;
        set.pad_two = {&c, pad.name, in[0]->name == enable ? in[1]->name : in[0]->name, enable, out[0]->name};
    }
}

}  // namespace

Result<CellSet> CellSet::of(const Library& library) {
    CellSet set;
    for (const auto& c : library.cells) {
        int inputs = 0;
        for (const auto& pin : c.pins) inputs += pin.direction == Direction::in;
        const auto n = static_cast<size_t>(inputs);
        if (!c.truth_table_parameter.empty()) {
            if (n >= 1 && n < set.look.size() && !set.look[n]) set.look[n] = &c;
        } else if (c.resource == "clock_network") {
            bool turned = false;
            const auto* out = only_output(c);
            if (!out || inputs != 1 || set.clock_root) continue;
            set.root_in = single(out->function, turned);
            set.root_out = out->name;
            if (!set.root_in.empty() && !turned) set.clock_root = &c;
        } else if (!c.memory.empty()) {
            if (!set.memory) set.memory = &c;
        } else if (c.flip_flop) {
            look_at_register(c, set);
        } else {
            look_at_carry(c, set);
            look_at_pad(c, set);
        }
    }
    while (set.widest < 4 && set.look[static_cast<size_t>(set.widest) + 1]) ++set.widest;
    const char* missing = set.widest < 4         ? "look-up cells with 1 to 4 inputs"
                          : !set.register_of({}) ? "a plain register"
                          : !set.pad_in.cell     ? "a pad for inputs"
                          : !set.pad_out.cell    ? "a pad for outputs"
                          : !set.clock_root      ? "a clock root (part_resource clock_network)"
                          : !set.carry.cell      ? "a carry cell"
                                                 : nullptr;
    if (missing)
        return Message{Severity::stop, Code::library,
                       said("The library {} has not {}; a design cannot be built from it.", library.name, missing),
                       library.file};
    return set;
}

}  // namespace kp
