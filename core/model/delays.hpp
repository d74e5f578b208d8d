// SPDX-License-Identifier: GPL-3.0-or-later
// Delays as an SDF file gives them, by name, in ns. Absent members are NaN inside these structs and nowhere else.
#pragma once

#include "core/base/name_table.hpp"

#include <array>
#include <limits>
#include <string>
#include <string_view>
#include <vector>

namespace kp {

/// min, typ, max.
using Triple = std::array<double, 3>;
constexpr double absent = std::numeric_limits<double>::quiet_NaN();

/// One value of the file. The names live as long as whoever hands it out says.
struct DelayEntry {
    enum Kind : std::uint8_t {
        iopath,
        interconnect,
        port,
        device,
        setup,
        hold,
        recovery,
        removal,
        width,
        period
    } kind = iopath;
    std::string_view cell_type;  ///< CELLTYPE of the entry
    std::string_view instance;   ///< with '/', empty for the top, "*" for all of the type
    std::string_view from,
        to;  ///< iopath: pin names in the cell; interconnect: full pin or port names; check: data and clock pin
    std::string_view condition;
    char from_edge = 0, to_edge = 0;  ///< 'p' posedge, 'n' negedge, 0 both
    bool increment = false;
    Triple rise{absent, absent, absent}, fall{absent, absent, absent};
    int line = 0;
};

/// Takes the entries of a file one after the other; the names of an entry are gone after the call.
class DelaySink {
public:
    virtual ~DelaySink() = default;
    virtual void take(const DelayEntry& entry) = 0;
};

/// A whole file, each name kept once.
class DelayFile : public DelaySink {
public:
    std::string file, design;

    void take(const DelayEntry& entry) override;
    [[nodiscard]] size_t size() const { return records_.size(); }
    /// Its names live until the file changes.
    [[nodiscard]] DelayEntry operator[](size_t i) const;

private:
    struct Record {
        std::uint32_t cell_type, instance, from, to, condition;
        int line;
        DelayEntry::Kind kind;
        char from_edge, to_edge;
        bool increment;
        std::uint32_t rise, fall;  ///< positions in `triples_`
    };
    NameTable names_;
    std::vector<Record> records_;
    std::vector<Triple> triples_;
};

}  // namespace kp
