// SPDX-License-Identifier: GPL-3.0-or-later
// A line that filters endpoints and paths: words, and from: to: through: clock: launch: capture: corner: cause: slack<
// slack> levels> levels<.
#pragma once

#include "core/base/result.hpp"
#include "core/model/timing_report.hpp"

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace kp {

class PathQuery {
public:
    /// Blanks part the terms, all of them have to hold. A name with * or ? has to fit wholly, another one in part;
    /// neither looks at upper and lower case. Errors: a number that is none, a key without a value; one sentence.
    [[nodiscard]] static Result<PathQuery> parse(std::string_view text);
    [[nodiscard]] bool empty() const { return terms_.empty(); }
    /// Some terms look into the path.
    [[nodiscard]] bool needs_path() const { return needs_path_; }
    /// `path`: the worst of the endpoint; null when none is listed, and then a term that needs it does not hold.
    [[nodiscard]] bool fits(const EndpointSlack& endpoint, const TimingPath* path,
                            std::span<const ClockReport> clocks) const;
    [[nodiscard]] bool fits(const UnconstrainedPath& path) const;

private:
    struct Term {
        enum Key {
            word,
            from,
            to,
            through,
            clock,
            launch,
            capture,
            corner,
            cause,
            slack_below,
            slack_above,
            levels_above,
            levels_below
        } key = word;
        std::string text;
        double number = 0;
    };
    std::vector<Term> terms_;
    bool needs_path_ = false;
};

}  // namespace kp
