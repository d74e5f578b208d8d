// SPDX-License-Identifier: GPL-3.0-or-later
// Spans of the interpretation tell which command made which constraint; commands of the text that hold several of them
// are loops and procedures.
#include "core/constraints/command_list.hpp"

#include "core/base/text.hpp"
#include "core/format/sdc/sdc_text.hpp"
#include "core/format/sdc/table.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <set>

namespace kp {

namespace {

/// What each command of a file hits, by the place where it begins.
class Hits {
public:
    explicit Hits(const Constraints& k) : k_(k) {
        for (const auto& c : k.clocks) add(c.span, c.sources);
        for (const auto& d : k.io_delays) add(d.span, {{ObjectKind::port, d.port}});
        for (const auto& e : k.exceptions) {
            if (e.from) add(e.span, e.from->objects);
            if (e.to) add(e.span, e.to->objects);
            for (const auto& t : e.through) add(e.span, t.objects);
        }
        for (const auto& u : k.uncertainties) {
            add(u.span, u.objects);
            for (const auto* list : {&u.from, &u.to})
                for (const auto clock : *list) add(u.span, {{ObjectKind::clock, clock}});
        }
        for (const auto& l : k.latencies) add(l.span, l.objects);
        for (const auto& g : k.groups)
            for (const auto& group : g.groups)
                for (const auto clock : group) add(g.span, {{ObjectKind::clock, clock}});
    }
    [[nodiscard]] const std::set<ObjectRef>* at(int file, size_t begin) const {
        const auto found = by_place_.find({file, begin});
        return found == by_place_.end() ? nullptr : &found->second;
    }
    [[nodiscard]] int file(const std::string& path) const {
        for (size_t i = 0; i < k_.files.size(); ++i)
            if (k_.files[i] == path) return static_cast<int>(i);
        return -1;
    }

private:
    void add(const CommandSpan& span, const ObjectSet& objects) {
        by_place_[{span.file, span.begin}].insert(objects.begin(), objects.end());
    }
    const Constraints& k_;
    std::map<std::pair<int, size_t>, std::set<ObjectRef>> by_place_;
};

bool is_command_word(std::string_view word) {
    return sdc::find_command(word) != nullptr;
}
std::string first_word(std::string_view text) {
    const auto begin = text.find_first_not_of(" \t");
    if (begin == std::string_view::npos) return {};
    const auto end = text.find_first_of(" \t\r\n\\", begin);
    return std::string(text.substr(begin, end == std::string_view::npos ? end : end - begin));
}

class Lister {
public:
    Lister(const Constraints& k, const std::map<std::string, std::string>& texts) : k_(k), texts_(texts), hits_(k) {}

    void file(const SdcFile& f) {
        const auto seen = texts_.find(f.path);
        const bool known = seen != texts_.end() && seen->second == f.text;
        const int index = known ? hits_.file(f.path) : -1;
        size_t line_start = 0;
        int line = 1;
        const auto commands = sdc::split_commands(f.text, f.path).commands;
        size_t from = 0;
        for (const auto& span : commands) {
            comments(f, from, span.begin, line, line_start);
            line += static_cast<int>(std::count(f.text.begin() + static_cast<long>(line_start),
                                                f.text.begin() + static_cast<long>(span.begin), '\n'));
            line_start = span.begin;
            command(f, span, line, index);
            from = span.end;
        }
        comments(f, from, f.text.size(), line, line_start);
    }
    std::vector<ListedCommand> take() { return std::move(out_); }

private:
    void command(const SdcFile& f, const sdc::Span& span, int line, int index) {
        ListedCommand c;
        c.name = first_word(span.of(f.text));
        c.in = class_of(c.name);
        c.text = on_one_line(span.of(f.text));
        c.file = f.path;
        c.line = line;
        c.span = span;
        c.reason = reason_above(f.text, span.begin);
        c.written_out = is_command_word(c.name);
        if (index >= 0) {
            std::set<ObjectRef> objects;
            if (const auto* here = hits_.at(index, span.begin)) objects = *here;
            // A loop hits what the commands in it hit.
            if (!c.written_out)
                for (const auto& r : k_.commands)
                    if (r.span.file == index && r.span.begin >= span.begin && r.span.end <= span.end) {
                        if (const auto* inside = hits_.at(index, r.span.begin))
                            objects.insert(inside->begin(), inside->end());
                        if (c.in == CommandClass::other) c.in = class_of(r.name);
                    }
            c.objects.assign(objects.begin(), objects.end());
            c.hits = static_cast<int>(objects.size());
        }
        out_.push_back(std::move(c));
    }

    /// Comments between two commands that read as commands: those were switched off.
    void comments(const SdcFile& f, size_t from, size_t to, int line, size_t counted) {
        size_t at = from;
        while (at < to) {
            const auto end = std::min(to, f.text.find('\n', at));
            const auto begin = f.text.find_first_not_of(" \t", at);
            if (begin < end && f.text[begin] == '#' && is_command_word(first_word(comment_text(f.text, begin, end)))) {
                size_t last = end;
                // Its further lines, which a backslash joins.
                while (last < f.text.size() && last > at && ends_in_backslash(f.text, last) && last < to) {
                    const auto next = f.text.find('\n', last + 1);
                    last = std::min(to, next);
                }
                off(f, {begin, last},
                    line + static_cast<int>(std::count(f.text.begin() + static_cast<long>(counted),
                                                       f.text.begin() + static_cast<long>(begin), '\n')));
                at = last + 1;
            } else {
                at = end + 1;
            }
        }
    }
    static bool ends_in_backslash(const std::string& text, size_t end) {
        if (end > 0 && text[end - 1] == '\r') --end;
        return end > 0 && text[end - 1] == '\\';
    }
    static std::string_view comment_text(const std::string& text, size_t begin, size_t end) {
        auto out = std::string_view(text).substr(begin + 1, end - begin - 1);
        if (out.starts_with(' ')) out.remove_prefix(1);
        return out;
    }

    void off(const SdcFile& f, sdc::Span span, int line) {
        if (span.end > span.begin && f.text[span.end - 1] == '\r') --span.end;
        ListedCommand c;
        std::string text;
        for (auto l : split(span.of(f.text), '\n')) text += std::string(without_mark(l)) + "\n";
        c.name = first_word(text);
        c.in = class_of(c.name);
        c.text = on_one_line(text);
        c.file = f.path;
        c.line = line;
        c.span = span;
        c.on = false;
        c.reason = reason_above(f.text, span.begin);
        out_.push_back(std::move(c));
    }
    static std::string_view without_mark(std::string_view line) {
        if (line.starts_with("# ")) return line.substr(2);
        return line.starts_with('#') ? line.substr(1) : line;
    }

    /// The comment lines that end right above a place; a command that is switched off is not a reason.
    static std::string reason_above(const std::string& text, size_t begin) {
        const auto start = text.rfind('\n', begin == 0 ? 0 : begin - 1);
        size_t end = start == std::string::npos ? 0 : start;
        std::vector<std::string> lines;
        while (end > 0 && lines.size() < 6) {
            const auto newline = text.rfind('\n', end - 1);
            const size_t from = newline == std::string::npos ? 0 : newline + 1;
            const auto line = trim(std::string_view(text).substr(from, end - from));
            if (!line.starts_with('#') || is_command_word(first_word(without_mark(line)))) break;
            lines.emplace_back(trim(line.substr(std::min(line.find_first_not_of('#'), line.size()))));
            if (from == 0) break;
            end = from - 1;
        }
        std::string out;
        for (auto l = lines.rbegin(); l != lines.rend(); ++l) out += (out.empty() ? "" : " ") + *l;
        return out;
    }

    const Constraints& k_;
    const std::map<std::string, std::string>& texts_;
    Hits hits_;
    std::vector<ListedCommand> out_;
};

}  // namespace

std::string on_one_line(std::string_view text) {
    std::string out;
    for (size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        const bool continued = c == '\\' && i + 1 < text.size() && (text[i + 1] == '\n' || text[i + 1] == '\r');
        if (c == '\n' || c == '\r' || c == '\t' || c == ' ' || continued) {
            if (!out.empty() && out.back() != ' ') out += ' ';
        } else {
            out += c;
        }
    }
    return std::string(trim(out));
}

const char* name_of(CommandClass c) {
    static const char* names[] = {"Clocks", "Inputs and outputs", "Exceptions", "Clock relations", "Other"};
    return names[static_cast<int>(c)];
}

CommandClass class_of(const std::string& command) {
    static const std::map<std::string, CommandClass> classes{
        {"create_clock", CommandClass::clocks},
        {"create_generated_clock", CommandClass::clocks},
        {"set_propagated_clock", CommandClass::clocks},
        {"set_clock_latency", CommandClass::clocks},
        {"set_clock_transition", CommandClass::clocks},
        {"set_clock_uncertainty", CommandClass::relations},
        {"set_clock_groups", CommandClass::relations},
        {"set_clock_sense", CommandClass::relations},
        {"set_sense", CommandClass::relations},
        {"set_input_delay", CommandClass::inputs_and_outputs},
        {"set_output_delay", CommandClass::inputs_and_outputs},
        {"set_load", CommandClass::inputs_and_outputs},
        {"set_drive", CommandClass::inputs_and_outputs},
        {"set_driving_cell", CommandClass::inputs_and_outputs},
        {"set_input_transition", CommandClass::inputs_and_outputs},
        {"set_false_path", CommandClass::exceptions},
        {"set_multicycle_path", CommandClass::exceptions},
        {"set_max_delay", CommandClass::exceptions},
        {"set_min_delay", CommandClass::exceptions},
        {"set_case_analysis", CommandClass::exceptions},
        {"set_disable_timing", CommandClass::exceptions},
    };
    const auto at = classes.find(command);
    return at == classes.end() ? CommandClass::other : at->second;
}

std::vector<ListedCommand> list_commands(const Project& project, const Constraints& constraints,
                                         const std::map<std::string, std::string>& texts) {
    Lister lister(constraints, texts);
    for (const auto& f : project.constraints) lister.file(f);
    return lister.take();
}

Edit switch_command(const Project& project, const ListedCommand& command) {
    if (command.on && !command.written_out) return {};
    for (const auto& f : project.constraints) {
        if (f.path != command.file || command.span.end > f.text.size()) continue;
        const auto before = std::string(command.span.of(f.text));
        std::string after;
        const auto lines = split(before, '\n');
        for (size_t i = 0; i < lines.size(); ++i) {
            auto line = lines[i];
            if (command.on)
                after += "# " + std::string(line);
            else
                after += line.starts_with("# ") ? line.substr(2) : line.starts_with('#') ? line.substr(1) : line;
            if (i + 1 < lines.size()) after += '\n';
        }
        return Edit{said("{}{} of {}:{}", (command.on ? "switch off " : "switch on "), command.name, command.file,
                         command.line),
                    {TextChange{f.path, command.span.begin, before, after}}};
    }
    return {};
}

const ListedCommand* command_at(const std::vector<ListedCommand>& list, const std::string& file, size_t offset) {
    for (const auto& c : list)
        if (c.on && c.file == file && c.span.begin <= offset && offset <= c.span.end) return &c;
    return nullptr;
}

}  // namespace kp
