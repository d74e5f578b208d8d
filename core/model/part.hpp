// SPDX-License-Identifier: GPL-3.0-or-later
// What a part (an FPGA in a package) offers. Plain data, read from a part file; no part is known to the code.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <unordered_map>
#include <vector>

namespace kp {

enum class PinKind { io, clock, ground, supply, bank_supply, configuration, reference, not_connected };

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
    int side = 0, slot = 0;   ///< quad flat: side 0 left, 1 bottom, 2 right, 3 top, counted against the clock from the first pin
    int row = 0, column = 0;  ///< ball grid

    [[nodiscard]] bool usable() const { return kind == PinKind::io || kind == PinKind::clock; }
};

struct Bank {
    std::string name;
    std::string supply;              ///< name of its supply, such as VCCO_1
    std::vector<double> volts;       ///< supplies it may have, V
    std::vector<std::string> standards;  ///< I/O standards it may carry
};

struct PllLimits {
    std::string name;
    double input_mhz[2] = {0, 0}, detector_mhz[2] = {0, 0}, vco_mhz[2] = {0, 0}, output_mhz[2] = {0, 0};
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
    std::string name;   ///< size and package, such as SKR12-Q144
    std::string codes;  ///< start of all ordering codes of this part
    std::vector<CodeElement> ordering;
    std::uint32_t idcode = 0;
    Resources resources;
    Package package;
    std::vector<Bank> banks;
    std::vector<PllLimits> plls;
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
    std::string trouble;  ///< one sentence with the position and the legal codes there; empty when complete
};

/// Decodes `code` by the grammar of the part. Never fails: what could be read is in `fields`.
[[nodiscard]] DecodedCode decode_ordering_code(const std::vector<CodeElement>& grammar, const std::string& code);

}  // namespace kp
