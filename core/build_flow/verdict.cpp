// SPDX-License-Identifier: GPL-3.0-or-later
// Checks are counted as `kpeg time` counts them (core/model/timing_words), endpoints as its coverage does: those that
// were taken out on purpose are constrained, those that only wait for a command are not.
#include "core/build_flow/verdict.hpp"

#include "core/model/timing_words.hpp"

#include <array>

namespace kp::build_flow {

const char* word_of(BuildVerdict verdict) {
    constexpr std::array words{"not built", "constraints refused", "missed", "not constrained", "met"};
    return words[static_cast<size_t>(verdict)];
}

ConstraintUse use_of(const Constraints& constraints, const TimingReport& report) {
    ConstraintUse out;
    out.commands = constraints.commands.size();
    for (const auto& m : constraints.messages) {
        if (m.severity == Severity::stop) out.refused.push_back({m.file, m.line, m.text});
        if (m.code == Code::not_used || m.code == Code::not_portable)
            out.without_effect.push_back({m.file, m.line, m.text});
    }
    for (const auto& m : report.messages)
        if (m.code == Code::unused_exception) out.without_effect.push_back({m.file, m.line, m.text});
    return out;
}

BuildVerdict verdict_of(const ConstraintUse& constraints, const TimingReport& report) {
    if (!constraints.refused.empty()) return BuildVerdict::constraints_refused;
    if (kp::verdict_of(report).failing > 0) return BuildVerdict::missed;
    const auto& c = report.coverage;
    return c.constrained < c.endpoints ? BuildVerdict::not_constrained : BuildVerdict::met;
}

}  // namespace kp::build_flow
