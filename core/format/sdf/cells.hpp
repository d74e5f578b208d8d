// SPDX-License-Identifier: GPL-3.0-or-later
// Cells as far as a delay file tells of them: what an SDF (IEEE 1497) annotates must be there. For designs of which
// neither library nor models are at hand.
#pragma once

#include "core/base/result.hpp"
#include "core/model/delays.hpp"
#include "core/model/library.hpp"

#include <map>
#include <set>
#include <string>
#include <string_view>
#include <tuple>
#include <utility>
#include <vector>

namespace kp {

/// Collects what the entries of a file say of each cell type. Keeps one line an arc and type, never the file.
class CellsFromDelays : public DelaySink {
public:
    /// Types that `known` has are passed over; it outlives the sink.
    explicit CellsFromDelays(const Library& known) : known_(known) {}
    void take(const DelayEntry& entry) override;

    [[nodiscard]] bool has(const std::string& type) const { return types_.contains(type); }
    /// The cell of a type: pins, arcs without delays and checks without limits, for an SDF to fill in. Pins that only
    /// the netlist knows come from `pins` and are inputs. A pin that a setup or hold check refers to is a clock, one of
    /// a recovery or removal check is asynchronous; an output is what a path ends at. No function: arcs of data are
    /// non-unate.
    [[nodiscard]] LibraryCell cell(const std::string& type, const std::set<std::string>& pins) const;

private:
    enum Edges : unsigned char { none = 0, rise = 1, fall = 2, either = 4 };  ///< either: an entry without an edge
    using Pair = std::pair<std::string, std::string>;
    struct Type {
        std::map<Pair, std::map<std::string, unsigned char>> paths;  ///< by condition, edges
        std::map<std::tuple<std::string, std::string, int, std::string>, unsigned char> checks;  ///< data, clock, kind
        std::map<std::string, unsigned char> clocks;  ///< references of setup and hold
        std::set<std::string> asynchronous, data;
        bool device = false;
    };
    class Maker;
    const Library& known_;
    std::map<std::string, Type, std::less<>> types_;
    std::string last_;
    Type* last_type_ = nullptr;
};

/// Of pins whose direction nothing said so far: an INTERCONNECT begins at an output. Sets the directions in `library`.
class DirectionsFromWires : public DelaySink {
public:
    /// `unsure`: cell types whose pins count. All outlive the sink.
    DirectionsFromWires(const Netlist& netlist, const std::set<std::string>& unsure, Library& library);
    void take(const DelayEntry& entry) override;

private:
    const Netlist& netlist_;
    Library& library_;
    NameTable cells_;
    std::vector<std::uint32_t> number_;  ///< of each name in `cells_`: the cell
    std::string text_;
};

}  // namespace kp
