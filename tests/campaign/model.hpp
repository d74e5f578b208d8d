// SPDX-License-Identifier: GPL-3.0-or-later
// What a user was told about a document, and what therefore must still be there after whatever happened.
#pragma once

#include "core/session/document.hpp"

#include <random>
#include <string>
#include <vector>

namespace kp::campaign {

using Random = std::mt19937_64;

/// All that the user made, as one text.
[[nodiscard]] std::string state_of(const Project& project);

/// Any one of the edits a user makes; never empty. Texts may get bytes that are not UTF-8.
[[nodiscard]] Edit random_edit(const Project& project, Random& random);

/// The states that the user saw, in order, and up to which of them the program promised to find them again.
class Promises {
public:
    void begin(const std::string& state) {
        states_ = {state};
        kept_ = 0;
        coming_.clear();
    }
    /// A call is about to be made that leads to this state if it returns well.
    void attempt(const std::string& state) { coming_ = state; }
    /// It returned well; `kept`: and the program did not warn that it is at risk.
    void done(bool kept);
    /// It was refused: the state before is still the one.
    void refused() { coming_.clear(); }
    /// True for a state that keeps all promises after a crash at this moment.
    [[nodiscard]] bool allows(const std::string& state) const;
    [[nodiscard]] const std::string& now() const { return states_.back(); }

private:
    std::vector<std::string> states_;
    size_t kept_ = 0;
    std::string coming_;
};

/// A small project with two constraint files, as files by name.
[[nodiscard]] std::map<std::string, std::string> small_project();

}  // namespace kp::campaign
