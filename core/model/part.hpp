// SPDX-License-Identifier: GPL-3.0-or-later
// What a part (an FPGA in a package) offers. Plain data, read from a part file; no part is known to the code.
#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <unordered_map>
#include <vector>

namespace kp {

enum class PinKind {
    io,
    clock,
    ground,
    supply,
    bank_supply,
    configuration,
    reference,
    not_connected,
    lane,
    lane_clock
};

/// Words as they stand in part files, such as "bank_supply".
[[nodiscard]] const char* name_of(PinKind kind);
[[nodiscard]] std::optional<PinKind> pin_kind_of(const std::string& word);

struct Pin {
    std::string name;
    PinKind kind = PinKind::io;
    std::string bank;      ///< empty for pins of no bank
    std::string function;  ///< what a dedicated pin is for, such as TCK
    std::string pair;      ///< name of the other half of a differential pair, if any
    bool pair_true = false;
    std::string strobe_group;  ///< pins of one byte of a memory share it, empty for none
    bool strobe = false;       ///< can take the strobe of its group
    bool reference = false;    ///< user pin that the bank needs as VREF when a standard asks for one
    std::string supply_pair;   ///< VIO/GND pair whose current it loads
    std::string region;        ///< clock region
    std::string job;           ///< what it does while the part is configured, such as DATA0; empty for none
    std::vector<std::string>
        reaches;  ///< clock resources a clock pin gets to without general routing: PLLs, "regions", "part"
    int side = 0,
        slot = 0;  ///< quad flat: side 0 left, 1 bottom, 2 right, 3 top, counted against the clock from the first pin
    int row = 0, column = 0;   ///< ball grid
    std::vector<double> site;  ///< column and row of the fabric where its pad lies; empty: not said

    [[nodiscard]] bool usable() const { return kind == PinKind::io || kind == PinKind::clock; }
};

struct Bank {
    std::string name;
    std::string supply;                           ///< name of its supply, such as VIO_1
    std::vector<double> volts;                    ///< supplies it may have, V
    std::vector<std::string> standards;           ///< I/O standards it may carry
    std::string type;                             ///< "general" or "memory"
    std::vector<std::string> slews;               ///< "slow", "fast"; the first holds while nothing is chosen
    std::vector<double> rise_ns;                  ///< 10 to 90 % of an edge for each of `slews`; empty: not said
    std::vector<double> termination_ohm;          ///< on-chip termination it can give
    double pin_ma = 0, pair_ma = 0, bank_ma = 0;  ///< greatest current of a pin, a supply pair, the bank; 0: not said
    double input_max_volts = 0;                   ///< greatest voltage at an input above the rail; 0: not said
    int delay_steps = 0;                          ///< of the delay line in each pad; 0: there is none
    double delay_step_ns = 0;                     ///< by how much each of them delays an input
    int switching_limit = 0;  ///< outputs of 8 mA, fast, that may switch at once for each supply pair; 0: not said
};

struct PllLimits {
    std::string name;
    double input_mhz[2] = {0, 0}, detector_mhz[2] = {0, 0}, vco_mhz[2] = {0, 0}, output_mhz[2] = {0, 0};
    int divide[2] = {1, 1}, multiply[2] = {1, 1},
        output_divide[2] = {1, 1};  ///< before the detector, in the loop, behind the VCO
    int outputs = 1;
};

/// A rectangle of the fabric whose registers one regional clock network reaches.
struct ClockRegion {
    std::string name;
    int left = 0, bottom = 0, right = 0, top = 0;  ///< slot groups of the fabric, both ends included
};

struct ConfigurationMode {
    std::string name;
    std::vector<std::pair<std::string, int>> straps;  ///< mode pin and the level that chooses this mode
    std::vector<std::string> drives;                  ///< jobs of user pins that the part drives meanwhile
    std::string start_clock;                          ///< "internal", "external" or "jtag"
};

/// A lane block. Lanes and reference clocks name their pins.
struct LaneBlock {
    struct Lane {
        std::string name;
        double gbps[2] = {0, 0};
        std::string tx[2], rx[2];  ///< true and complement pin
        std::vector<std::string> clocks;
    };
    struct ReferenceClock {
        std::string name, pins[2];
        double mhz[2] = {0, 0};
    };
    struct Engine {
        std::string name;
        std::vector<std::string> protocols, lanes;
        std::vector<int> widths;               ///< how many lanes one link of it may take
        int align = 1;                         ///< the place of a link's first lane in the block is a multiple of it
        std::vector<std::vector<int>> splits;  ///< the widths it can be split into; empty: by capacity
        std::optional<int> capacity;           ///< lanes at once; none: as many as it reaches
        std::map<std::string, int> crossings_per_lane;  ///< into the fabric, by protocol; 1 where it is not said
        std::optional<std::vector<int>> crossings;      ///< numbers of those it reaches; none: all of the block
    };
    std::string name;
    std::vector<Lane> lanes;
    std::vector<ReferenceClock> clocks;
    std::vector<Engine> engines;
    int crossings = 0;  ///< ways into the fabric
};

/// Fabric grid and its invented delay model: a wire costs base + per site of distance; speed grades scale all of it.
struct Fabric {
    int columns = 0, rows = 0, cells_per_site = 0;
    /// Columns of one kind of block ("memory", "multiply") in place of logic, and their slot groups (column, row)
    /// without one.
    struct Special {
        std::string kind;
        std::vector<int> columns;
        std::vector<std::pair<int, int>> without;
    };
    std::vector<Special> special;
    double base_ns = 0, per_column_ns = 0, per_row_ns = 0, clock_ns = 0, clock_skew_ns = 0;
    std::vector<std::pair<std::string, double>> speeds;  ///< speed code and factor
    double fast_factor = 1, typical_factor = 1;          ///< of delays, against those of the slow corner
};

/// One element of an ordering code: a literal, or a field with its legal values.
struct CodeElement {
    std::string literal;
    std::string name;
    struct Value {
        std::string code, means;
    };
    std::vector<Value> values;
};

struct Resources {
    long long logic_cells = 0, registers = 0, memory_bits = 0, clock_networks = 0, plls = 0, lanes = 0;
};

struct Package {
    bool ball_grid = false;
    int pins = 0, per_side = 0;  ///< quad flat
    int rows = 0, columns = 0;   ///< ball grid
    double body_mm = 0;
};

struct Part {
    std::string name;   ///< size and package, such as SKR11-Q144
    std::string codes;  ///< start of all ordering codes of this part
    std::vector<CodeElement> ordering;
    std::uint32_t idcode = 0;
    Resources resources;
    Package package;
    std::vector<Bank> banks;
    std::vector<PllLimits> plls;
    std::vector<ClockRegion> regions;
    std::vector<ConfigurationMode> modes;
    std::vector<LaneBlock> lane_blocks;
    Fabric fabric;
    std::vector<Pin> pins;
    std::unordered_map<std::string, size_t> by_name;  ///< position in `pins`

    [[nodiscard]] const Pin* pin(const std::string& name) const;
    [[nodiscard]] const Bank* bank(const std::string& name) const;
    [[nodiscard]] int bank_position(const std::string& name) const;  ///< -1 when there is none
    [[nodiscard]] int usable_pins() const;
};

/// An ordering code taken apart: each field with the code found and what it means.
struct DecodedCode {
    struct Field {
        std::string name, code, means;
    };
    std::vector<Field> fields;
    bool complete = false;
    size_t position = 0;                ///< characters that could be read
    std::vector<std::string> expected;  ///< what would be legal there
    std::string trouble;  ///< one sentence with the position and the legal codes there; empty when complete
};

/// Decodes `code` by the grammar of the part. Never fails: what could be read is in `fields`.
[[nodiscard]] DecodedCode decode_ordering_code(const std::vector<CodeElement>& grammar, const std::string& code);

/// Every code the grammar allows that starts with `start`, in the order of the grammar; capped at 20,000, since a
/// grammar is a user's file.
[[nodiscard]] std::vector<std::string> ordering_codes(const std::vector<CodeElement>& grammar,
                                                      const std::string& start = "");

/// Of the codes of parts that exist, the one nearest to `code` by edits of single characters; empty when none is near
/// enough to be meant. The grammar alone would allow sizes and packages that nobody makes.
[[nodiscard]] std::string nearest_code(const std::vector<std::string>& existing, const std::string& code);

/// One character of a code against what stands in the place of it in the nearest legal code.
struct CodeLetter {
    char given = 0, wanted = 0;  ///< 0: missing, or too many
    [[nodiscard]] bool agrees() const { return given == wanted; }
};
/// Both codes side by side along the shortest way of edits (Wagner and Fischer 1974).
[[nodiscard]] std::vector<CodeLetter> compare_codes(const std::string& given, const std::string& wanted);

}  // namespace kp
