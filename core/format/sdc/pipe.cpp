// SPDX-License-Identifier: GPL-3.0-or-later
// What the child process says comes back as length-prefixed records; a reader that meets anything else stops and
// says so.
#include "core/format/sdc/pipe.hpp"

namespace kp::sdc {

namespace {

bool decode_span(Decoder& in, CommandSpan& span) {
    std::uint64_t file = 0, begin = 0, end = 0, line = 0;
    if (!in.number(file) || !in.number(begin) || !in.number(end) || !in.number(line)) return false;
    span = {static_cast<int>(file), begin, end, static_cast<int>(line)};
    return true;
}

bool decode_call(Decoder& in, Call& call) {
    std::uint64_t words = 0;
    if (!in.text(call.name) || !decode_span(in, call.span) || !in.number(words)) return false;
    for (std::uint64_t w = 0; w < words; ++w) {
        Word word;
        std::uint64_t n = 0;
        if (!in.text(word.text) || !in.number(n)) return false;
        for (std::uint64_t i = 0; i < n; ++i) {
            Element e;
            std::uint64_t kind = 0, id = 0;
            if (!in.number(kind) || !in.number(id) || !in.text(e.text)) return false;
            e.kind = static_cast<int>(kind) - 1;
            e.id = static_cast<std::uint32_t>(id);
            word.elements.push_back(std::move(e));
        }
        call.words.push_back(std::move(word));
    }
    return true;
}

}  // namespace

bool decode(const std::string& data, RunResult& result, CommandSpan& last) {
    Decoder in(data);
    std::uint64_t kind = 0;
    while (in.number(kind)) {
        Call call;
        std::uint64_t severity = 0;
        if (kind == record_done) return true;
        if (kind == record_begin) {
            if (!decode_span(in, last)) return false;
            continue;
        }
        if (kind == record_file) {
            std::string name;
            if (!in.text(name)) return false;
            result.files.push_back(name);
            continue;
        }
        if (kind == record_call) {
            if (!decode_call(in, call)) return false;
        } else {
            std::uint64_t code = 0, of = 0;
            Subject about;
            if (!in.number(severity) || !in.number(code) || !in.text(call.message.text) || !in.number(of) ||
                !in.text(about.name) || !in.text(about.meant) || !decode_span(in, call.span))
                return false;
            if (severity > static_cast<std::uint64_t>(Severity::note) || code >= code_count || of > Subject::waived)
                return false;
            about.kind = static_cast<Subject::Kind>(of);
            if (!about.name.empty()) call.message.subjects = {std::move(about)};
            call.message.code = static_cast<Code>(code);
            call.message.severity = static_cast<Severity>(severity);
            call.message.line = call.span.line;
            if (static_cast<size_t>(call.span.file) < result.files.size())
                call.message.file = result.files[static_cast<size_t>(call.span.file)];
        }
        result.calls.push_back(std::move(call));
    }
    return false;
}

}  // namespace kp::sdc
