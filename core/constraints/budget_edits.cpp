// SPDX-License-Identifier: GPL-3.0-or-later
// The commands behind the delays and exceptions of a group's ports are known by their spans; those of the group alone,
// written out in a file, are taken out, and the new lines stand where the first of them stood.
#include "core/constraints/budget_edits.hpp"

#include "core/model/receiving_file.hpp"
#include "core/format/sdc/sdc_text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <map>
#include <set>

namespace kp {

namespace {

Message refuse_budget(std::string text) {
    return {Severity::stop, Code::budget, std::move(text)};
}

/// A command of the text that says something of the ports of a budget.
struct Speaker {
    CommandSpan span;
    bool alone = true;  ///< it speaks of no other port
};

class Taker {
public:
    Taker(const Session& s, const clocks::Budget& budget) : s_(s), k_(s.analysis().constraints()), budget_(budget) {
        for (const auto& port : budget.ports)
            if (const auto* seat = s.plan().seat(port); seat && seat->port) ids_.insert(seat->order);
    }

    Result<BudgetEdit> run() {
        for (const auto& file : s_.project().constraints)
            if (const auto seen = s_.analysis().texts().find(file.path);
                file.analysis && (seen == s_.analysis().texts().end() || seen->second != file.text))
                return refuse_budget("The text is being read just now; try again in a moment.");
        if (budget_.sdc.empty())
            return refuse_budget(
                said("No clock is known that the ports of {} could be timed against: {}.", budget_.name, budget_.why));
        collect();
        BudgetEdit out;
        out.edit.title = "take the budget of " + budget_.name;
        if (!place(out)) return refuse_budget("There is no constraint file for new commands; make one in Tempo.");
        return out;
    }

private:
    void collect() {
        for (const auto& d : k_.io_delays)
            if (d.input == budget_.input) note(d.span, ids_.contains(d.port), true);
        for (const auto& e : k_.exceptions) {
            const auto& end = budget_.input ? e.from : e.to;
            // Only an exception that is no more than these ports taken out is the budget's to replace.
            if (e.kind != PathException::false_path || !end || !e.through.empty() || (budget_.input ? e.to : e.from))
                continue;
            const auto ours = [&](const ObjectRef& o) { return o.kind == ObjectKind::port && ids_.contains(o.id); };
            if (std::any_of(end->objects.begin(), end->objects.end(), ours))
                note(e.span, true, std::all_of(end->objects.begin(), end->objects.end(), ours));
        }
    }
    void note(const CommandSpan& span, bool ours, bool only) {
        const std::pair key{span.file, span.begin};
        if (ours) {
            auto& speaker = speakers_[key];
            speaker.span = span;
            speaker.alone &= only && !others_.contains(key);
        } else {
            others_.insert(key);
            if (const auto at = speakers_.find(key); at != speakers_.end()) at->second.alone = false;
        }
    }

    [[nodiscard]] const SdcFile* file(int index) const {
        if (index < 0 || static_cast<size_t>(index) >= k_.files.size()) return nullptr;
        for (const auto& f : s_.project().constraints)
            if (f.path == k_.files[static_cast<size_t>(index)]) return &f;
        return nullptr;
    }

    /// The command of the file's own list that holds a span; it is in a loop or procedure when that is larger.
    [[nodiscard]] std::optional<sdc::Span> top_command(const SdcFile& f, const CommandSpan& span) {
        auto& list = commands_[f.path];
        if (list.empty()) list = sdc::split_commands(f.text, f.path).commands;
        for (const auto& c : list)
            if (c.begin <= span.begin && span.end <= c.end) return c;
        return std::nullopt;
    }

    /// With the line ends of the file they go to.
    [[nodiscard]] std::string lines(const SdcFile& f) const {
        const std::string end = f.text.find("\r\n") != std::string::npos ? "\r\n" : "\n";
        std::string out = said("# {}: {}", budget_.name, budget_.why);
        for (const auto& line : budget_.sdc) out += end + line;
        return out;
    }

    bool place(BudgetEdit& out) {
        std::map<std::string, std::vector<sdc::Span>> gone;
        const SdcFile *at = nullptr, *behind = nullptr;
        size_t behind_at = 0;
        bool others = false;
        for (const auto& [key, speaker] : speakers_) {
            const auto* f = file(speaker.span.file);
            const auto top = f ? top_command(*f, speaker.span) : std::nullopt;
            if (!top) continue;
            const bool written_out = top->begin == speaker.span.begin && top->end == speaker.span.end;
            if (speaker.alone && written_out) {
                gone[f->path].push_back(*top);
                if (!at) at = f;
            } else {
                behind = f;
                behind_at = std::max(behind == f ? behind_at : 0, top->end);
                others = true;
            }
        }
        if (others)
            out.note = said(
                "A command that speaks of other ports too, or stands in a loop, stays; the new lines stand behind it "
                "and replace what it says of {}.",
                budget_.name);
        if (at && !others) return replace(out, gone, at);
        remove(out, gone, behind ? behind->path : std::string(), behind_at,
               behind ? "\n" + lines(*behind) : std::string());
        if (behind) return true;
        const auto* f = receiving_file(s_.project(), k_, budget_.clocks.empty() ? budget_.clock : std::string());
        if (!f) return false;
        const auto insertion = sdc::append_command(f->text, lines(*f));
        out.edit.changes.emplace_back(TextChange{f->path, insertion.offset, "", insertion.text});
        return true;
    }

    /// The first command of the group becomes the new lines; the others go with their line ends.
    bool replace(BudgetEdit& out, std::map<std::string, std::vector<sdc::Span>>& gone, const SdcFile* first) {
        auto& list = gone[first->path];
        std::sort(list.begin(), list.end(), [](const auto& a, const auto& b) { return a.begin < b.begin; });
        const auto head = list.front();
        list.erase(list.begin());
        remove(out, gone, {}, 0, {});
        out.edit.changes.emplace_back(
            TextChange{first->path, head.begin, std::string(head.of(first->text)), lines(*first)});
        return true;
    }

    /// From the back, so that places in front keep their offsets. Also inserts `text` at one place.
    void remove(BudgetEdit& out, const std::map<std::string, std::vector<sdc::Span>>& gone, const std::string& path,
                size_t at, const std::string& text) const {
        for (const auto& f : s_.project().constraints) {
            std::vector<TextChange> changes;
            if (const auto list = gone.find(f.path); list != gone.end())
                for (auto span : list->second) {
                    if (f.text.compare(span.end, 2, "\r\n") == 0)
                        span.end += 2;
                    else if (span.end < f.text.size() && f.text[span.end] == '\n')
                        ++span.end;
                    changes.push_back({f.path, span.begin, std::string(span.of(f.text)), ""});
                }
            if (f.path == path && !text.empty()) changes.push_back({f.path, at, "", text});
            std::sort(changes.begin(), changes.end(), [](const auto& a, const auto& b) { return a.offset > b.offset; });
            for (auto& c : changes) out.edit.changes.emplace_back(std::move(c));
        }
    }

    const Session& s_;
    const Constraints& k_;
    const clocks::Budget& budget_;
    std::set<std::uint32_t> ids_;
    std::map<std::pair<int, size_t>, Speaker> speakers_;
    std::set<std::pair<int, size_t>> others_;
    std::map<std::string, std::vector<sdc::Span>> commands_;
};

}  // namespace

std::vector<clocks::Budget> budgets_of(const World& world, const Analysis& analysis, const Plan& plan) {
    return clocks::budgets({plan, analysis.constraints(), analysis.timing().port_clocks,
                            [&world](std::uint32_t pin) { return world.netlist.pin_name(pin); }});
}

Result<BudgetEdit> take_budget(const Session& session, const clocks::Budget& budget) {
    return Taker(session, budget).run();
}

std::optional<FollowedBudget> next_to_follow(const Session& session, FollowedTimes& said_last) {
    const auto& kept = session.project().budgets;
    if (std::none_of(kept.begin(), kept.end(), [](const auto& b) { return b.first.ends_with(".linked"); })) return {};
    for (auto& budget : budgets_of(session)) {
        if (!budget.linked) continue;
        const std::pair now{budget.max, budget.min};
        const auto [at, fresh] = said_last.try_emplace(budget.name, now);
        if (!fresh && at->second == now) continue;
        at->second = now;
        if (budget.agrees() || budget.sdc.empty()) continue;
        auto edit = take_budget(session, budget);
        if (!edit) continue;
        edit.value().edit.title = said("let the lines of {} follow the board", budget.name);
        return FollowedBudget{std::move(budget), edit.take().edit};
    }
    return {};
}

}  // namespace kp
