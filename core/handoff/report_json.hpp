// SPDX-License-Identifier: GPL-3.0-or-later
// Results as the JSON that kpeg writes; the shapes are contracts (schema numbers) and are described in docs/formats.
#pragma once

#include "core/format/json/json_value.hpp"
#include "core/hdl/read_ports.hpp"
#include "core/model/finding.hpp"
#include "core/model/timing_report.hpp"
#include "core/closing/what_if.hpp"

namespace kp {

struct RunSeconds {
    double read = 0;
};

[[nodiscard]] Json message_json(const Message& message);
[[nodiscard]] Json messages_json(const std::vector<Message>& messages);
/// The summaries of kitepeg.timing/1 by check.
[[nodiscard]] Json summary_json(const TimingReport& report);
/// kitepeg.timing/1
[[nodiscard]] Json timing_json(const TimingReport& report, const std::vector<Message>& messages, double seconds_read,
                               bool all_endpoints);
/// Part of kitepeg.timing/1 when a line was tried.
[[nodiscard]] Json what_if_json(const std::string& line, const WhatIf& then);
/// kitepeg.findings/1
[[nodiscard]] Json findings_json(const std::vector<Finding>& findings, const std::vector<Message>& messages = {});
/// kitepeg.ports/1
[[nodiscard]] Json ports_json(const PortList& ports, const std::vector<Message>& messages);
/// kitepeg.sdc/1: findings of constraint text
[[nodiscard]] Json sdc_json(const std::vector<Message>& messages, size_t commands, size_t clocks);

}  // namespace kp
