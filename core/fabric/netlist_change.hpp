// SPDX-License-Identifier: GPL-3.0-or-later
// Cells added to a netlist that is placed. What was there keeps its number: cells, pins and nets come behind the
// others, so that constraints and places stay true.
#pragma once

#include "core/fabric/placement.hpp"

#include <optional>
#include <span>
#include <string>
#include <unordered_map>
#include <unordered_set>
#include <vector>

namespace kp::fabric {

struct Placed {
    Netlist netlist;
    std::vector<Spot> spots;  ///< by cell
};

class NetlistChange {
public:
    /// All outlive it.
    NetlistChange(Placed& placed, const Library& library, const Part& part);

    /// One-input look-ups that pass their input on, in a row before an input pin, at the free places nearest to its
    /// cell. Returns how many there was room for.
    int delay_before(std::uint32_t pin, const LibraryCell& look, int count);

    /// A register like `cell`, with an output net of its own at `output`, a pin of `cell`, that drives `loads` from now
    /// on. It lies where `cell` lies until it is placed. Returns its number.
    std::uint32_t copy_register(std::uint32_t output, std::span<const std::uint32_t> loads);

private:
    [[nodiscard]] std::optional<Spot> free_near(const Spot& at);
    std::uint32_t number_of(std::unordered_map<std::string, std::uint32_t>& numbers, std::vector<std::string>& list,
                            const std::string& name);
    std::uint32_t add_cell(const std::string& type, const std::string& name, const Spot& at);
    void add_pin(const std::string& name, std::uint32_t net);
    std::uint32_t add_net(const std::string& name);
    std::string unique(const std::string& name);

    Placed& p_;
    const Library& library_;
    const Part& part_;
    std::unordered_map<std::string, std::uint32_t> types_, pins_;
    std::unordered_set<std::string> cell_names_, net_names_;
    std::vector<bool> logic_column_, taken_;  ///< taken_: by site and slot, of look-ups
    int slots_ = 1;
};

}  // namespace kp::fabric
