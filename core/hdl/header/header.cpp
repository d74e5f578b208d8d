// SPDX-License-Identifier: GPL-3.0-or-later
// What both languages share of a header: the shape of a port, and messages that are counted when they are too many
// to be told.
#include "core/hdl/header/header.hpp"

#include "core/base/text.hpp"

#include <algorithm>

namespace kp::hdl {

bool shape_port(HeaderPort& port, const std::vector<std::pair<long long, long long>>& dimensions) {
    port.left.reset();
    port.right.reset();
    port.dimensions.clear();
    long long bits = 1;
    for (const auto& [l, r] : dimensions) {
        const long long limit = 2'000'000'000;
        if (l > limit || l < -limit || r > limit || r < -limit) return false;
        bits *= std::llabs(l - r) + 1;
        if (bits > most_bits) return false;
        port.dimensions.emplace_back(static_cast<int>(l), static_cast<int>(r));
    }
    if (dimensions.empty()) return true;
    const bool one = dimensions.size() == 1;
    port.left = one ? port.dimensions[0].first : static_cast<int>(bits) - 1;
    port.right = one ? port.dimensions[0].second : 0;
    if (one) port.dimensions.clear();
    return true;
}

Message Header::at(Severity severity, Code code, std::string text) const {
    const auto place = place_of(source->text, std::min(offset, source->text.size()));
    return {severity, code, std::move(text), source->file, place.line, place.column};
}

bool Header::full(Severity severity) {
    constexpr size_t most = 100;
    const bool stopped =
        std::any_of(messages.begin(), messages.end(), [](const Message& m) { return m.severity == Severity::stop; });
    const bool out = messages.size() >= most && (severity != Severity::stop || stopped);
    untold += out ? 1 : 0;
    return out;
}

}  // namespace kp::hdl
