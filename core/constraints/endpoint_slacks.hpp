// SPDX-License-Identifier: GPL-3.0-or-later
// The worst slack of each endpoint by its check, for comparing two reports. Linear in the report but for the order.
#pragma once

#include "core/model/timing_report.hpp"

#include <algorithm>
#include <map>
#include <string>
#include <utility>

namespace kp {

using EndpointSlacks = std::map<std::pair<std::string, std::string>, double>;  ///< by check and endpoint, ns

[[nodiscard]] inline EndpointSlacks slacks_of(const TimingReport& report) {
    EndpointSlacks out;
    for (const auto& e : report.endpoints) {
        const auto [at, fresh] = out.try_emplace({e.check, e.endpoint}, e.slack);
        if (!fresh) at->second = std::min(at->second, e.slack);
    }
    return out;
}

}  // namespace kp
