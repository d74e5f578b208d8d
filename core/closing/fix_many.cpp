// SPDX-License-Identifier: GPL-3.0-or-later
// Group testing by halves (Dorfman 1943): a batch that brings nothing new is taken whole, any other is split until the
// one to blame stands alone and is tried with its other fixes. Fixes are computed on the copy as it is when their turn
// comes, so that two of them never take the same pin. One pass over the findings per batch, one analysis where a batch
// changes text.
#include "core/closing/fix_many.hpp"

#include "core/base/text.hpp"
#include "core/rules/preview.hpp"
#include "core/rules/rules.hpp"
#include "core/closing/preview.hpp"

#include <algorithm>

namespace kp {

namespace {

struct State {
    Snapshot at;
    Edit edit;
};

using Batch = std::vector<const Finding*>;

bool same(const Finding& a, const Finding& b) {
    return a.identity() == b.identity();
}

class Fixer {
public:
    Fixer(const Snapshot& now, const std::stop_token& stop) : stop_(stop), now_{now, {}} {}

    FixMany run(const std::vector<Finding>& wanted) {
        Batch all;
        for (const auto& f : wanted)
            if (!f.waived) all.push_back(&f);
        if (!all.empty()) take(all);
        out_.edit = std::move(now_.edit);
        out_.edit.title = "fix " + counted(out_.taken.size(), "finding");
        if (out_.taken.empty()) out_.edit = {};
        return std::move(out_);
    }

private:
    void take(const Batch& batch) {
        if (stop_.stop_requested()) return leave(batch, "was not tried: cancelled");
        if (batch.size() == 1) return take_one(*batch.front());
        State next = now_;
        std::vector<std::pair<const Finding*, std::string>> tried;
        Batch open;
        for (const auto* f : batch) {
            const auto fixes = fixes_of(next, *f);
            if (!fixes.empty() && !fixes.front().asks() && add(next, fixes.front()))
                tried.emplace_back(f, fixes.front().text);
            else
                open.push_back(f);
        }
        if (tried.size() > 1 && settle(next) && brings_nothing(next, tried)) {
            for (const auto& [f, text] : tried) out_.taken.push_back({f->rule, text, {*f}});
            now_ = std::move(next);
            for (const auto* f : open) take_one(*f);
            return;
        }
        const auto middle = batch.begin() + static_cast<long>(batch.size() / 2);
        take(Batch(batch.begin(), middle));
        take(Batch(middle, batch.end()));
    }

    void take_one(const Finding& f) {
        const bool there =
            std::any_of(found(now_).begin(), found(now_).end(), [&](const Finding& g) { return same(f, g); });
        if (!there) return;  // another fix has cleared it
        std::string why = "has no possible fix";
        for (const auto& fix : fixes_of(now_, f)) {
            if (fix.asks()) {
                why = "needs a number: " + fix.ask;
                continue;
            }
            State next = now_;
            if (!add(next, fix) || !settle(next)) continue;
            auto change = compare_findings(found(now_), found(next));
            if (change.come.empty() &&
                std::any_of(change.gone.begin(), change.gone.end(), [&](const Finding& g) { return same(f, g); })) {
                out_.taken.push_back({f.rule, fix.text, std::move(change.gone)});
                now_ = std::move(next);
                return;
            }
            why = change.come.empty() ? "is not cleared by its possible fix" : "would add " + codes_of(change.come);
        }
        out_.left.push_back({f.rule, f.text, why});
    }

    void leave(const Batch& batch, const std::string& why) {
        for (const auto* f : batch) out_.left.push_back({f->rule, f->text, why});
    }

    static std::vector<Fix> fixes_of(const State& s, const Finding& f) {
        return kp::fixes_of(rule_input(*s.at.world, *s.at.project, s.at.analysis), f);
    }

    static bool add(State& s, const Fix& fix) {
        Project next = *s.at.project;
        if (fix.edit.empty() || !apply(next, fix.edit)) return false;
        s.at.project = std::make_shared<const Project>(std::move(next));
        s.edit.changes.insert(s.edit.changes.end(), fix.edit.changes.begin(), fix.edit.changes.end());
        return true;
    }

    /// Findings of the copy, with an analysis of its own where text or inputs changed.
    bool settle(State& s) const {
        auto fresh = preview(now_.at, *s.at.project, stop_);
        if (!fresh || stop_.stop_requested()) return false;
        s.at = fresh.take();
        return true;
    }

    static const std::vector<Finding>& found(const State& s) { return *s.at.findings; }

    bool brings_nothing(const State& next, const std::vector<std::pair<const Finding*, std::string>>& tried) const {
        if (!compare_findings(found(now_), found(next)).come.empty()) return false;
        return std::all_of(tried.begin(), tried.end(), [&](const auto& t) {
            return std::none_of(found(next).begin(), found(next).end(),
                                [&](const Finding& g) { return !g.waived && same(*t.first, g); });
        });
    }

    const std::stop_token& stop_;
    State now_;
    FixMany out_;
};

}  // namespace

FixMany fix_many(const Snapshot& now, const std::vector<Finding>& wanted, const std::stop_token& stop) {
    auto out = Fixer(now, stop).run(wanted);
    out.revision = now.revision;
    return out;
}

}  // namespace kp
