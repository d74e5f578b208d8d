// SPDX-License-Identifier: GPL-3.0-or-later
// Words of SDF text (IEEE 1497, 5.1), read through a window that moves along the file.
#pragma once

#include "core/base/disk.hpp"

#include <string_view>

namespace kp::sdf {

/// A word of the text: '(' , ')' , a quoted text, or a run of other characters. Its view is good until the next word is
/// asked for.
struct Word {
    enum Kind : std::uint8_t { end, open, close, text, plain, too_long } kind = end;
    std::string_view view;
    size_t offset = 0;  ///< from the start of the file
    int line = 1, column = 1;
};

class Words {
public:
    explicit Words(ByteStream& from, size_t window = size_t{1} << 20);

    [[nodiscard]] const Word& now() const { return word_; }
    void advance();
    /// The text behind the current word, at least 64 bytes of it if there are so many.
    [[nodiscard]] std::string_view ahead();

private:
    bool more();
    bool skip();
    void quoted();
    void plain();

    ByteStream& from_;
    std::vector<char> window_;
    size_t at_ = 0, size_ = 0, keep_ = 0;  ///< in the window: next byte, end of what was read, first byte still needed
    size_t base_ = 0;                      ///< offset of the window in the file
    int line_ = 1;
    size_t line_begins_ = 0;  ///< offset of the current line
    bool ended_ = false;
    Word word_;
};

}  // namespace kp::sdf
