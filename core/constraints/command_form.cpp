// SPDX-License-Identifier: GPL-3.0-or-later
// The words come from Tcl's own parser, so what is replaced is exactly a word; the result is parsed again before it
// becomes an edit.
#include "core/constraints/command_form.hpp"

#include "core/format/sdc/sdc_text.hpp"
#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp {

namespace {

Message refuse_form(std::string text) {
    return {Severity::stop, Code::form, std::move(text)};
}

const SdcFile* file_of(const Project& project, const std::string& path) {
    for (const auto& f : project.constraints)
        if (f.path == path) return &f;
    return nullptr;
}

const sdc::OptionRow* option_row(const sdc::CommandRow& row, std::string_view name) {
    for (const auto& o : row.options)
        if (name == o.name) return &o;
    return nullptr;
}

/// One word of Tcl, whole.
Status one_word(const FormField& f) {
    const auto what = f.option.empty() ? std::string("The objects") : f.option;
    if (trim(f.value).empty()) return refuse_form(what + ": a value is missing.");
    const std::string text = "x " + f.value;
    const auto commands = sdc::split_commands(text, "");
    if (commands.trouble || commands.commands.size() != 1)
        return refuse_form(said("{}: '{}' is not closed.", what, f.value));
    const auto words = sdc::words_of(text, commands.commands[0]);
    if (words.size() != 2)
        return refuse_form(
            said("{}: '{}' is {}; write braces around them.", what, f.value, counted(words.size() - 1, "word")));
    if (f.takes == sdc::Takes::number && !to_number(f.value) && f.value.find_first_of("$[") == std::string::npos)
        return refuse_form(said("{}: '{}' is not a number.", what, f.value));
    return Done{};
}

/// Back over blanks and a line's continuation: a backslash that nothing follows would take the next command with it.
size_t before_blanks(const std::string& text, size_t least, size_t at) {
    for (;;) {
        while (at > least && (text[at - 1] == ' ' || text[at - 1] == '\t')) --at;
        size_t line = at;
        if (line > least && text[line - 1] == '\n') --line;
        if (line > least && line < at && text[line - 1] == '\r') --line;
        if (line == at || line <= least || text[line - 1] != '\\') return at;
        at = line - 1;
    }
}

}  // namespace

std::optional<CommandForm> form_of(const Project& project, const ListedCommand& command) {
    const auto* row = sdc::find_command(command.name);
    const auto* file = file_of(project, command.file);
    if (!row || !file || !command.on || !command.written_out || command.span.end > file->text.size())
        return std::nullopt;
    CommandForm out;
    out.name = command.name;
    out.file = command.file;
    out.help = row->help;
    out.span = command.span;
    const auto words = sdc::words_of(file->text, command.span);
    std::vector<FormField> objects;
    for (size_t i = 1; i < words.size(); ++i) {
        const auto word = words[i].of(file->text);
        const auto* option = option_row(*row, word);
        FormField f;
        f.given = true;
        if (!option) {
            f.value = word;
            f.value_span = words[i];
            objects.push_back(std::move(f));
            continue;
        }
        f.option = option->name;
        f.takes = option->takes;
        f.option_span = words[i];
        if (option->takes != sdc::Takes::flag) {
            if (++i >= words.size()) return std::nullopt;
            f.value = words[i].of(file->text);
            f.value_span = words[i];
        }
        out.fields.push_back(std::move(f));
    }
    for (const auto& o : row->options)
        if (std::none_of(out.fields.begin(), out.fields.end(), [&](const FormField& f) { return f.option == o.name; }))
            out.fields.push_back({o.name, o.takes, false, "", {}, {}});
    out.fields.insert(out.fields.end(), objects.begin(), objects.end());
    return out;
}

std::optional<CommandForm> fresh_form(const std::string& command) {
    const auto* row = sdc::find_command(command);
    if (!row) return std::nullopt;
    CommandForm out;
    out.name = command;
    out.help = row->help;
    for (const auto& o : row->options) out.fields.push_back({o.name, o.takes, false, "", {}, {}});
    for (int i = 0; i < std::max(row->least, std::min(1, row->most)); ++i)
        out.fields.push_back({"", sdc::Takes::words, true, "", {}, {}});
    return out;
}

Result<std::string> form_text(const CommandForm& form) {
    std::string out = form.name;
    for (const auto& f : form.fields) {
        if (!f.given) continue;
        if (f.option.empty() && trim(f.value).empty()) continue;
        if (!f.option.empty()) out += " " + f.option;
        if (f.takes == sdc::Takes::flag) continue;
        if (auto status = one_word(f); !status) return status.messages();
        out += " " + f.value;
    }
    return out;
}

Result<Edit> form_edit(const Project& project, const CommandForm& before, const CommandForm& after) {
    const auto* file = file_of(project, before.file);
    if (!file || before.span.end > file->text.size() || before.fields.size() > after.fields.size())
        return refuse_form("The text has changed meanwhile; open the form again.");
    std::vector<TextChange> changes;
    // New options stand behind the last one that is there, or behind the name.
    size_t behind = before.span.begin + before.name.size();
    for (const auto& f : before.fields)
        if (f.given && !f.option.empty())
            behind = std::max(behind, f.takes == sdc::Takes::flag ? f.option_span.end : f.value_span.end);
    std::string fresh;
    for (size_t i = 0; i < after.fields.size(); ++i) {
        const auto& now = after.fields[i];
        const FormField was =
            i < before.fields.size() ? before.fields[i] : FormField{now.option, now.takes, false, "", {}, {}};
        if (now.given && now.takes != sdc::Takes::flag)
            if (auto status = one_word(now); !status) return status.messages();
        if (was.given && !now.given) {
            auto begin = was.option.empty() ? was.value_span.begin : was.option_span.begin;
            const auto end = was.takes == sdc::Takes::flag ? was.option_span.end : was.value_span.end;
            begin = before_blanks(file->text, before.span.begin, begin);
            changes.push_back({file->path, begin, file->text.substr(begin, end - begin), ""});
        } else if (was.given && now.value != was.value) {
            changes.push_back({file->path, was.value_span.begin, was.value, now.value});
        } else if (!was.given && now.given) {
            fresh +=
                (now.option.empty() ? "" : " " + now.option) + (now.takes == sdc::Takes::flag ? "" : " " + now.value);
        }
    }
    if (!fresh.empty()) changes.push_back({file->path, behind, "", fresh});
    std::stable_sort(changes.begin(), changes.end(), [](const auto& a, const auto& b) { return a.offset > b.offset; });
    Edit edit{said("change {} in {}", before.name, before.file), {}};
    for (auto& c : changes) edit.changes.emplace_back(std::move(c));
    return edit;
}

std::string query_of(ObjectKind kind, const std::vector<std::string>& names) {
    static const char* const queries[] = {"get_ports", "get_pins", "get_cells", "get_nets", "get_clocks"};
    std::string list;
    for (const auto& n : names) list += (list.empty() ? "" : " ") + sdc::quote(n);
    return said("[{} {}]", queries[static_cast<int>(kind)],
                (names.size() == 1 && list.find_first_of("[]{} ") == std::string::npos ? list : "{" + list + "}"));
}

}  // namespace kp
