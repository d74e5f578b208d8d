// SPDX-License-Identifier: GPL-3.0-or-later
// Lines of offsets that come in order: one pass over the text for all of them, where asking anew for each would be
// quadratic.
#pragma once

#include <algorithm>
#include <cstddef>
#include <string_view>

namespace kp {

class LineCounter {
public:
    explicit LineCounter(std::string_view text) : text_(text) {}
    /// Of an offset that is not before the last one, from 1; of one behind the end that of the end.
    int at(size_t offset) {
        for (; done_ < std::min(offset, text_.size()); ++done_) line_ += text_[done_] == '\n';
        return line_;
    }

private:
    std::string_view text_;
    size_t done_ = 0;
    int line_ = 1;
};

}  // namespace kp
