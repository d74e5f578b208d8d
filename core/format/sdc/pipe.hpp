// SPDX-License-Identifier: GPL-3.0-or-later
// The pipe from the child that runs a script to the program: numbers and texts in the machine's own byte order, both
// ends being one program. Private to the reader.
#pragma once

#include "core/format/sdc/words.hpp"

#include <cerrno>
#include <cstring>
#include <unistd.h>

namespace kp::sdc {

class Writer {
public:
    explicit Writer(int fd) : fd_(fd) {}
    void number(std::uint64_t v) { raw(&v, sizeof v); }
    void text(std::string_view s) {
        number(s.size());
        raw(s.data(), s.size());
    }
    void flush() {
        size_t at = 0;
        while (at < buffer_.size()) {
            const auto n = ::write(fd_, buffer_.data() + at, buffer_.size() - at);
            if (n < 0 && errno == EINTR) continue;
            if (n < 0) _exit(3);  // nobody reads any more
            at += static_cast<size_t>(n);
        }
        buffer_.clear();
    }

private:
    void raw(const void* p, size_t n) {
        buffer_.append(static_cast<const char*>(p), n);
        if (buffer_.size() > (1u << 16)) flush();
    }
    int fd_;
    std::string buffer_;
};

class Decoder {
public:
    explicit Decoder(const std::string& data) : data_(data) {}
    bool number(std::uint64_t& v) {
        if (data_.size() - at_ < sizeof v) return false;
        std::memcpy(&v, data_.data() + at_, sizeof v);
        at_ += sizeof v;
        return true;
    }
    bool text(std::string& s) {
        std::uint64_t n = 0;
        if (!number(n) || data_.size() - at_ < n) return false;
        s.assign(data_, at_, n);
        at_ += n;
        return true;
    }

private:
    const std::string& data_;
    size_t at_ = 0;
};

enum RecordKind : std::uint64_t { record_begin = 1, record_file, record_call, record_message, record_done };

/// Fills a result from what came through the pipe; `last` is where the child was. False when the record that ends a run
/// is missing: the child died.
[[nodiscard]] bool decode(const std::string& data, RunResult& result, CommandSpan& last);

}  // namespace kp::sdc
