// SPDX-License-Identifier: GPL-3.0-or-later
// Reads an adapter back. Knows the two languages only through their scanners, and nothing of how the writer lays text
// out.
#include "core/base/text.hpp"
#include "core/hdl/read_ports.hpp"
#include "core/hdl/verilog/scan.hpp"
#include "core/hdl/vhdl/scan.hpp"
#include "core/handoff/adapter.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <map>

namespace kp {

namespace {

/// Words in one shape for both languages.
struct Word {
    std::string text;
    bool name = false;
};

std::vector<Word> words_of(const std::string& text, AdapterLanguage language) {
    std::vector<Word> out;
    if (language == AdapterLanguage::verilog) {
        verilog::Scanner scan(text);
        for (auto t = scan.next(); t.kind != verilog::Token::end && t.kind != verilog::Token::bad; t = scan.next())
            out.push_back({std::string(t.text), t.is_name()});
    } else {
        vhdl::Scanner scan(text);
        for (auto t = scan.next(); t.kind != vhdl::Token::end && t.kind != vhdl::Token::bad; t = scan.next())
            out.push_back({std::string(t.text), t.is_name()});
    }
    return out;
}

/// What stands on the other side of a wire or port: a name, perhaps inverted, or a level.
struct Source {
    std::string name;
    bool inverted = false;
    bool operator==(const Source&) const = default;
};

struct ReadBack {
    std::map<std::string, Source> assigned;     ///< target → source; levels are "0" and "1"
    std::map<std::string, std::string> joined;  ///< bit of the design → wire, port or level
};

std::string level_of(std::string text) {
    if (text.ends_with("'b0") || text == "'0'") return "0";
    if (text.ends_with("'b1") || text == "'1'") return "1";
    return text;
}

class VerilogReader {
public:
    VerilogReader(const std::vector<Word>& words, const Adapter& adapter) : w_(words), adapter_(adapter) {}
    ReadBack run() {
        for (at_ = 0; at_ < w_.size(); ++at_) {
            if (is("assign"))
                assign();
            else if (w_[at_].text == adapter_.design && w_[at_].name && at_ + 2 < w_.size() && w_[at_ + 1].name &&
                     w_[at_ + 2].text == "(")
                instance();
        }
        return std::move(out_);
    }

private:
    [[nodiscard]] bool is(const char* text) const { return at_ < w_.size() && w_[at_].text == text; }
    [[nodiscard]] std::string take() { return at_ < w_.size() ? w_[at_++].text : ""; }
    void assign() {
        ++at_;
        const auto target = take();
        ++at_;  // =
        Source s;
        if (is("~")) {
            s.inverted = true;
            ++at_;
        }
        s.name = level_of(take());
        out_.assigned[target] = s;
    }
    void instance() {
        at_ += 3;
        while (at_ < w_.size() && !is(")")) {
            if (!is(".")) {
                ++at_;
                continue;
            }
            ++at_;
            const auto bus = take();
            std::vector<std::string> names;
            for (int depth = 0; at_ < w_.size(); ++at_) {
                if (is("("))
                    ++depth;
                else if (is(")") && --depth == 0)
                    break;
                else if (!is("{") && !is("}") && !is(","))
                    names.push_back(level_of(w_[at_].text));
            }
            ++at_;
            std::vector<std::string> bits;
            for (const auto& bit : adapter_.bits)
                if (bit.port.bus == bus) bits.push_back(bit.port.name);
            for (size_t i = 0; i < std::min(bits.size(), names.size()); ++i) out_.joined[bits[i]] = names[i];
            if (bits.size() != names.size())
                out_.joined[said("{} ({} of {})", bus, names.size(), counted(bits.size(), "bit"))] = "";
        }
    }
    const std::vector<Word>& w_;
    const Adapter& adapter_;
    size_t at_ = 0;
    ReadBack out_;
};

class VhdlReader {
public:
    explicit VhdlReader(const std::vector<Word>& words) : w_(words) {}
    ReadBack run() {
        bool map = false;
        for (at_ = 0; at_ + 2 < w_.size(); ++at_) {
            if (lower(w_[at_].text) == "map") map = true;
            if (!map && w_[at_ + 1].text == "<=" && w_[at_].name)
                assign();
            else if (map && w_[at_].name)
                association();
        }
        return std::move(out_);
    }

private:
    void assign() {
        const auto target = w_[at_].text;
        at_ += 2;
        Source s;
        if (lower(w_[at_].text) == "not") {
            s.inverted = true;
            ++at_;
        }
        s.name = level(at_);
        out_.assigned[target] = s;
    }
    [[nodiscard]] std::string level(size_t at) const {
        return at < w_.size() ? level_of(w_[at].name || w_[at].text.size() != 1 ? w_[at].text : "'" + w_[at].text + "'")
                              : "";
    }
    void association() {
        std::string bit = w_[at_].text;
        size_t next = at_ + 1;
        if (next + 2 < w_.size() && w_[next].text == "(" && w_[next + 2].text == ")") {
            bit += "[" + w_[next + 1].text + "]";
            next += 3;
        }
        if (next + 1 >= w_.size() || w_[next].text != "=>") return;
        out_.joined[bit] = level(next + 1);
        at_ = next + 1;
    }
    const std::vector<Word>& w_;
    size_t at_ = 0;
    ReadBack out_;
};

Message wrong(const std::string& text) {
    return {Severity::stop, Code::adapter, "The adapter does not read back as planned: " + text};
}

}  // namespace

Result<std::string> adapter_text(const Adapter& adapter, AdapterLanguage language) {
    if (adapter.bits.empty())
        return Message{Severity::stop, Code::adapter, "There is no design to put an adapter around."};
    auto text = write_adapter(adapter, language);
    if (const auto status = check_adapter(adapter, language, text); !status) return status.messages();
    return text;
}

Status check_adapter(const Adapter& adapter, AdapterLanguage language, const std::string& text) {
    const auto header =
        read_ports(std::vector<SourceText>{{language == AdapterLanguage::verilog ? "adapter.v" : "adapter.vhd", text}},
                   adapter.name);
    if (!header) return wrong(header.first().text);
    std::map<std::string, std::string> directions;
    for (const auto& p : header.value().ports) directions[p.name] = p.direction;
    const auto words = words_of(text, language);
    const auto back =
        language == AdapterLanguage::verilog ? VerilogReader(words, adapter).run() : VhdlReader(words).run();
    size_t ports = 0;
    for (const auto& bit : adapter.bits) {
        const auto joined = back.joined.find(bit.port.name);
        if (joined == back.joined.end()) return wrong(bit.port.name + " is tied to nothing.");
        const auto& wire = joined->second;
        if (bit.outside.empty()) {
            if (bit.port.direction == Direction::in ? wire != (bit.held_high ? "1" : "0") : directions.contains(wire))
                return wrong(said("{} should be left alone and is tied to {}.", bit.port.name, wire));
            continue;
        }
        ++ports;
        const auto d = directions.find(bit.outside);
        if (d == directions.end() || d->second != name_of(bit.port.direction))
            return wrong(said("the port {} is missing or goes another way.", bit.outside));
        Source found{wire, false};
        if (!directions.contains(wire)) {  // through an inverter
            const bool in = bit.port.direction == Direction::in;
            const auto a = back.assigned.find(in ? wire : bit.outside);
            if (a == back.assigned.end() || (!in && a->second.name != wire))
                return wrong(said("{} does not reach {}.", bit.port.name, bit.outside));
            found = in ? a->second : Source{bit.outside, a->second.inverted};
        }
        if (found != Source{bit.outside, bit.inverted})
            return wrong(said("{} meets {}{}.", bit.port.name, (found.inverted ? "the inverse of " : ""), found.name));
    }
    for (const auto& tie : adapter.ties) {
        const auto a = back.assigned.find(tie.outside);
        if (a == back.assigned.end() || a->second != Source{std::to_string(tie.level), false})
            return wrong(tie.outside + " is not held.");
    }
    if (directions.size() != ports + adapter.ties.size())
        return wrong(said("it has {}.", counted(directions.size(), "port")));
    if (back.joined.size() != adapter.bits.size()) return wrong("more is tied than the design has.");
    return Done{};
}

}  // namespace kp
