// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers in instance parameters, as Verilog writes them.
#include "core/model/parameter.hpp"

#include "core/base/text.hpp"

namespace kp {

std::optional<std::uint64_t> number_of(std::string_view text) {
    const auto quote = text.find('\'');
    if (quote == std::string_view::npos) {
        const auto v = to_integer(text);
        return v ? std::optional<std::uint64_t>(static_cast<std::uint64_t>(*v)) : std::nullopt;
    }
    if (quote + 2 >= text.size()) return std::nullopt;
    const char base = static_cast<char>(text[quote + 1] | 0x20);
    const unsigned radix = base == 'h' ? 16 : base == 'b' ? 2 : base == 'o' ? 8 : base == 'd' ? 10 : 0;
    std::uint64_t v = 0;
    for (const char c : text.substr(quote + 2)) {
        if (c == '_') continue;
        const char d = static_cast<char>(c | 0x20);
        const unsigned digit = c >= '0' && c <= '9'   ? static_cast<unsigned>(c - '0')
                               : d >= 'a' && d <= 'f' ? static_cast<unsigned>(d - 'a' + 10)
                                                      : 100;
        if (digit >= radix) return std::nullopt;
        v = v * radix + digit;
    }
    return v;
}

const std::string* parameter_of(const Netlist& n, std::uint32_t cell, std::string_view name) {
    for (auto i = n.cells[cell].parameter; i < n.parameters.size() && n.parameters[i].cell == cell; ++i)
        if (n.parameters[i].name == name) return &n.parameters[i].value;
    return nullptr;
}

}  // namespace kp
