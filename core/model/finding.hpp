// SPDX-License-Identifier: GPL-3.0-or-later
// What a rule found: values that every view, report and JSON file reads.
#pragma once

#include "core/base/result.hpp"
#include "core/model/edit.hpp"

#include <optional>
#include <string>
#include <vector>

namespace kp {

struct FindingNumber {
    std::string name, unit;
    double value = 0;
    bool operator==(const FindingNumber&) const = default;
};

/// A possible fix: computed, ready to be applied, one undo. Where a number is needed that only the user knows, `ask`
/// says which, and `number_wanted` stands in its place in the text of the edit; answered() puts it in.
struct Fix {
    std::string text;
    Edit edit;
    std::string ask = {};
    [[nodiscard]] bool asks() const { return !ask.empty(); }
};
/// The edit with a number in place of the question; the edit itself when nothing is asked.
[[nodiscard]] Edit answered(const Fix& fix, const std::string& number);

struct Finding {
    std::string rule;
    Severity severity = Severity::stop;
    std::string text;    ///< what is wrong, in one or two sentences
    std::string remedy;  ///< heading under which it is grouped, such as "Choose a place"
    std::vector<Subject> objects;
    std::vector<FindingNumber> numbers;
    std::string source;
    std::string file;
    int line = 0;
    std::vector<Fix> fixes;
    std::optional<Waiver> waived;

    /// What makes it this finding and no other: rule, and its objects with their kinds. It says the same of the same
    /// trouble from one run of the rules to the next, whatever numbers stand in the text. Waivers, previews, *Fix all*
    /// and lists go by it.
    [[nodiscard]] std::string identity() const;

    [[nodiscard]] std::vector<std::string> object_names() const {
        std::vector<std::string> names;
        for (const auto& object : objects) names.push_back(object.name);
        return names;
    }
};

/// How many of each count: waived ones apart.
struct FindingCounts {
    int stops = 0, cautions = 0, notes = 0, waived = 0;
};
[[nodiscard]] inline FindingCounts count(const std::vector<Finding>& findings) {
    FindingCounts c;
    for (const auto& f : findings)
        ++(f.waived                          ? c.waived
           : f.severity == Severity::stop    ? c.stops
           : f.severity == Severity::caution ? c.cautions
                                             : c.notes);
    return c;
}

}  // namespace kp
