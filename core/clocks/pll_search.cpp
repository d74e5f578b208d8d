// SPDX-License-Identifier: GPL-3.0-or-later
// For a given D and M the outputs are independent, and the rank grows with the error of each. So the settings of one D
// and M can be listed best first (each output's dividers by rising error, a heap of combinations), and one heap over
// all D and M lists those of the part.
#include "core/clocks/pll_search.hpp"

#include "core/base/text.hpp"
#include "core/model/sdc_words.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <memory>
#include <queue>
#include <tuple>

namespace kp::clocks {

namespace {

using Whole = boost::multiprecision::cpp_int;

struct Range {
    Fraction least, most;
    bool said;  ///< a part file may leave a range out
    explicit Range(const double (&r)[2]) : least(fraction_of(r[0])), most(fraction_of(r[1])), said(r[1] > 0) {}
    [[nodiscard]] bool has(const Fraction& f) const { return !said || (f >= least && f <= most); }
};

Fraction size_of(const Fraction& f) {
    return f < 0 ? Fraction(-f) : f;
}
Fraction ppm(const Fraction& made, const Fraction& want) {
    return Fraction((made / want - 1) * 1'000'000);
}

Whole floor_of(const Fraction& f) {
    const Whole n = numerator(f), d = denominator(f);
    Whole q = n / d;
    if (n < 0 && q * d != n) --q;
    return q;
}
Whole ceil_of(const Fraction& f) {
    return -floor_of(Fraction(-f));
}

/// The whole numbers between two bounds that lie in a range of the part: first and last, first > last for none.
std::pair<int, int> whole_between(const Fraction& low, const Fraction& high, const int (&range)[2]) {
    const Whole first = std::max<Whole>(ceil_of(low), range[0]), last = std::min<Whole>(floor_of(high), range[1]);
    if (first > last) return {1, 0};
    return {static_cast<int>(first), static_cast<int>(last)};
}

/// The dividers of one output by rising error, found as they are asked for.
class Dividers {
public:
    Dividers(const Fraction& vco, const Fraction& want, int first, int last)
        : vco_(&vco), want_(&want), first_(first), last_(last) {
        const Whole below = floor_of(vco / want);
        down_ = below < first ? first - 1 : below > last ? last : static_cast<int>(below);
        up_ = down_ + 1;
    }
    /// The i-th best; null when there are not so many.
    const PllOutput* at(std::size_t i) {
        while (found_.size() <= i) {
            const bool lower = down_ >= first_, higher = up_ <= last_;
            if (!lower && !higher) return nullptr;
            PllOutput d, u;
            if (lower) d = make(down_);
            if (higher) u = make(up_);
            if (lower && (!higher || size_of(d.error_ppm) <= size_of(u.error_ppm))) {
                found_.push_back(std::move(d));
                --down_;
            } else {
                found_.push_back(std::move(u));
                ++up_;
            }
        }
        return &found_[i];
    }

private:
    [[nodiscard]] PllOutput make(int divide) const {
        PllOutput out;
        out.want = *want_;
        out.divide = divide;
        out.made = *vco_ / divide;
        out.error_ppm = ppm(out.made, *want_);
        return out;
    }
    const Fraction *vco_, *want_;
    int first_, last_, down_ = 0, up_ = 0;
    std::vector<PllOutput> found_;
};

/// All settings of one PLL, D and M.
struct Stream {
    std::size_t pll = 0;
    int divide = 1, multiply = 1;
    Fraction detector, vco;
    std::vector<Dividers> outputs;
};

/// One combination of a stream's dividers: which of each output's list.
struct Candidate {
    Stream* stream = nullptr;
    std::vector<std::size_t> pick;
    std::size_t last = 0;  ///< the place that was raised last; only it and those behind it are raised again
    Fraction worst, sum;
};

struct Worse {
    bool operator()(const Candidate& a, const Candidate& b) const {
        if (a.worst != b.worst) return a.worst > b.worst;
        if (a.sum != b.sum) return a.sum > b.sum;
        if (a.stream->detector != b.stream->detector) return a.stream->detector < b.stream->detector;
        if (a.stream->vco != b.stream->vco) return a.stream->vco < b.stream->vco;
        if (a.stream->pll != b.stream->pll) return a.stream->pll > b.stream->pll;
        return a.pick > b.pick;
    }
};

class Search {
public:
    Search(const Part& part, const PllWish& wish, const std::stop_token& stop)
        : part_(part), wish_(wish), stop_(stop) {}

    PllAnswer run() {
        PllAnswer out;
        auto streams = open(false, &out.legal);
        std::vector<PllSetting> best = list(streams, std::max<std::size_t>(1, wish_.best));
        out.stopped = stop_.stop_requested();
        if (best.empty()) {
            out.limit = why_none();
        } else if (wish_.within && best.front().worst_ppm > *wish_.within) {
            out.nearest = best.front();
            out.limit = PllLimit{"within", best.front().worst_ppm, 0, *wish_.within};
        } else {
            out.solutions = std::move(best);
            if (wish_.within)
                std::erase_if(out.solutions, [&](const PllSetting& s) { return s.worst_ppm > *wish_.within; });
            if (out.solutions.size() > wish_.best) out.solutions.resize(wish_.best);
        }
        look_beyond(out);
        return out;
    }

private:
    [[nodiscard]] bool asked(const PllLimits& p) const { return wish_.pll.empty() || wish_.pll == p.name; }

    /// Every D and M inside the ranges, or inside those of the dividers only when `lifted`. `legal` counts.
    std::vector<std::unique_ptr<Stream>> open(bool lifted, Whole* legal) {
        std::vector<std::unique_ptr<Stream>> out;
        for (std::size_t i = 0; i < part_.plls.size() && !stop_.stop_requested(); ++i) {
            const auto& p = part_.plls[i];
            if (!asked(p) || wish_.want.size() > static_cast<std::size_t>(std::max(0, p.outputs))) continue;
            if (!lifted && !Range(p.input_mhz).has(wish_.in)) continue;
            for (int d = std::max(1, p.divide[0]); d <= p.divide[1]; ++d) {
                const Fraction detector = wish_.in / d;
                if (!lifted && !Range(p.detector_mhz).has(detector)) continue;
                open_detector(i, d, detector, lifted, legal, out);
            }
        }
        return out;
    }

    void open_detector(std::size_t pll, int d, const Fraction& detector, bool lifted, Whole* legal,
                       std::vector<std::unique_ptr<Stream>>& out) {
        const auto& p = part_.plls[pll];
        const Range vco(p.vco_mhz), output(p.output_mhz);
        auto [m, last] = std::pair{std::max(1, p.multiply[0]), p.multiply[1]};
        if (!lifted && vco.said)
            std::tie(m, last) = whole_between(vco.least / detector, vco.most / detector, p.multiply);
        for (; m <= last; ++m) {
            auto stream = std::make_unique<Stream>();
            stream->pll = pll;
            stream->divide = d;
            stream->multiply = m;
            stream->detector = detector;
            stream->vco = detector * m;
            auto [first, most] = std::pair{std::max(1, p.output_divide[0]), p.output_divide[1]};
            if (!lifted && output.said)
                std::tie(first, most) = whole_between(
                    stream->vco / output.most, output.least > 0 ? Fraction(stream->vco / output.least) : Fraction(most),
                    p.output_divide);
            if (first > most) continue;
            if (legal) {
                Whole ways = 1;
                for (std::size_t k = 0; k < wish_.want.size(); ++k) ways *= most - first + 1;
                *legal += ways;
            }
            for (const auto& want : wish_.want) stream->outputs.emplace_back(stream->vco, want, first, most);
            out.push_back(std::move(stream));
        }
    }

    /// Fills worst and sum; false when an output has no such divider.
    static bool rate(Candidate& c) {
        c.worst = c.sum = 0;
        for (std::size_t k = 0; k < c.pick.size(); ++k) {
            const auto* out = c.stream->outputs[k].at(c.pick[k]);
            if (!out) return false;
            const auto size = size_of(out->error_ppm);
            c.worst = std::max(c.worst, size);
            c.sum += size;
        }
        return true;
    }

    std::vector<PllSetting> list(std::vector<std::unique_ptr<Stream>>& streams, std::size_t most) const {
        std::vector<Candidate> heap;
        heap.reserve(streams.size());
        for (auto& s : streams) {
            if (stop_.stop_requested()) return {};
            Candidate c;
            c.stream = s.get();
            c.pick.assign(s->outputs.size(), 0);
            if (rate(c)) heap.push_back(std::move(c));
        }
        std::priority_queue<Candidate, std::vector<Candidate>, Worse> queue(Worse(), std::move(heap));
        std::vector<PllSetting> out;
        while (!queue.empty() && out.size() < most && !stop_.stop_requested()) {
            const Candidate c = queue.top();
            queue.pop();
            out.push_back(setting(c));
            for (std::size_t k = c.last; k < c.pick.size(); ++k) {
                Candidate next = c;
                ++next.pick[k];
                next.last = k;
                if (rate(next)) queue.push(std::move(next));
            }
        }
        return out;
    }

    [[nodiscard]] PllSetting setting(const Candidate& c) const {
        PllSetting out;
        out.pll = part_.plls[c.stream->pll].name;
        out.divide = c.stream->divide;
        out.multiply = c.stream->multiply;
        out.detector = c.stream->detector;
        out.vco = c.stream->vco;
        out.worst_ppm = c.worst;
        out.sum_ppm = c.sum;
        for (std::size_t k = 0; k < c.pick.size(); ++k) {
            out.outputs.push_back(*c.stream->outputs[k].at(c.pick[k]));
            set_phase(out.outputs.back(), k);
        }
        return out;
    }

    /// The nearest whole eighth of a VCO period: one is 45 degrees of the VCO, so 45 / O of the output.
    void set_phase(PllOutput& out, std::size_t k) const {
        if (wish_.phase.empty()) return;
        const Whole turn = Whole(8) * out.divide;
        Whole steps = floor_of(wish_.phase[k] * out.divide / 45 + Fraction(1, 2)) % turn;
        if (steps < 0) steps += turn;
        out.phase_steps = static_cast<int>(steps);
        out.phase_deg = Fraction(steps * 45, out.divide);
    }

    /// The first range that leaves nothing, with the value that comes nearest to it.
    [[nodiscard]] std::optional<PllLimit> why_none() const {
        std::optional<PllLimit> best;
        int best_stage = -1;
        for (const auto& p : part_.plls) {
            if (!asked(p)) continue;
            auto [stage, limit] = why_not(p);
            if (stage > best_stage) {
                best_stage = stage;
                best = std::move(limit);
            }
        }
        return best;
    }

    static void nearest_to(const Range& range, const Fraction& value, std::optional<Fraction>& best) {
        const auto off = [&](const Fraction& f) {
            return f < range.least  ? Fraction(range.least - f)
                   : f > range.most ? Fraction(f - range.most)
                                    : Fraction(0);
        };
        if (!best || off(value) < off(*best)) best = value;
    }

    /// How far this PLL gets (0 outputs, 1 input, 2 detector, 3 VCO, 4 output) and what stops it there.
    [[nodiscard]] std::pair<int, PllLimit> why_not(const PllLimits& p) const {
        const auto limit = [](const char* what, const Range& r, const Fraction& value) {
            return PllLimit{what, value, r.least, r.most};
        };
        const auto whole = [](const char* what, const int(&r)[2]) { return PllLimit{what, r[1], r[0], r[1]}; };
        if (wish_.want.size() > static_cast<std::size_t>(std::max(0, p.outputs)))
            return {0, {"outputs", static_cast<int>(wish_.want.size()), 1, p.outputs}};
        const Range input(p.input_mhz), detector(p.detector_mhz), vco(p.vco_mhz), output(p.output_mhz);
        if (!input.has(wish_.in)) return {1, limit("input", input, wish_.in)};
        std::optional<Fraction> nearest_detector, nearest_vco, nearest_output;
        for (int d = std::max(1, p.divide[0]); d <= p.divide[1]; ++d) {
            const Fraction at = wish_.in / d;
            nearest_to(detector, at, nearest_detector);
            if (!detector.has(at)) continue;
            for (int m = std::max(1, p.multiply[0]); m <= p.multiply[1]; ++m) {
                const Fraction speed = at * m;
                nearest_to(vco, speed, nearest_vco);
                if (!vco.has(speed)) continue;
                for (int o = std::max(1, p.output_divide[0]); o <= p.output_divide[1]; ++o)
                    nearest_to(output, speed / o, nearest_output);
            }
        }
        if (!nearest_detector) return {2, whole("divide", p.divide)};
        if (!detector.has(*nearest_detector)) return {2, limit("detector", detector, *nearest_detector)};
        if (!nearest_vco) return {3, whole("multiply", p.multiply)};
        if (!vco.has(*nearest_vco)) return {3, limit("vco", vco, *nearest_vco)};
        if (!nearest_output) return {4, whole("output_divide", p.output_divide)};
        return {4, limit("output", output, *nearest_output)};
    }

    /// What the ranges of frequencies keep from us.
    void look_beyond(PllAnswer& out) {
        const auto* have = !out.solutions.empty() ? &out.solutions.front() : out.nearest ? &*out.nearest : nullptr;
        if (have && have->worst_ppm == 0) return;
        auto streams = open(true, nullptr);
        auto best = list(streams, 1);
        if (best.empty() || (have && best.front().worst_ppm >= have->worst_ppm)) return;
        for (const auto& p : part_.plls) {
            if (p.name != best.front().pll) continue;
            const auto& s = best.front();
            const auto leaves = [&](const char* what, const double(&r)[2], const Fraction& value) {
                const Range range(r);
                if (!out.beyond_limit && !range.has(value))
                    out.beyond_limit = PllLimit{what, value, range.least, range.most};
            };
            leaves("input", p.input_mhz, wish_.in);
            leaves("detector", p.detector_mhz, s.detector);
            leaves("vco", p.vco_mhz, s.vco);
            for (const auto& o : s.outputs) leaves("output", p.output_mhz, o.made);
        }
        if (out.beyond_limit) out.beyond = std::move(best.front());
    }

    const Part& part_;
    const PllWish& wish_;
    std::stop_token stop_;
};

std::string short_number(const Fraction& f) {
    return shortest(std::round(number_of(f) * 1e6) / 1e6);
}

Message refuse(const std::string& why) {
    return {Severity::stop, Code::recipe, why};
}

}  // namespace

std::string sentence(const PllLimit& l) {
    const auto value = short_number(l.value), least = short_number(l.least), most = short_number(l.most);
    const auto range = least + " to " + most;
    if (l.what == "within") return said("The nearest legal setting is {} ppm off; {} ppm were asked.", value, most);
    if (l.what == "outputs") return said("{} frequencies are wanted; a PLL of this part has {} outputs.", value, most);
    if (l.what == "input") return said("The PLL takes {} MHz at its input, not {} MHz.", range, value);
    if (l.what == "detector" || l.what == "vco" || l.what == "output")
        return said("The {} would run at {} MHz; this part takes {} MHz.", l.what == "vco" ? "VCO" : l.what, value,
                    range);
    return said("This part has no {} between {} that would do.", l.what == "multiply" ? "multiplier" : "divider",
                range);
}

Result<PllAnswer> search_pll(const Part& part, const PllWish& wish, const std::stop_token& stop) {
    std::vector<std::string> names;
    for (const auto& p : part.plls) names.push_back(p.name);
    if (names.empty()) return refuse(said("The part {} has no PLL.", part.name));
    if (!wish.pll.empty() && std::find(names.begin(), names.end(), wish.pll) == names.end())
        return refuse(said("The part {} has no PLL '{}'; it has {}.", part.name, wish.pll, list_names(names)));
    if (wish.want.empty()) return refuse("Say at least one frequency that is wanted.");
    if (wish.want.size() > most_wants)
        return refuse(said("More than {} frequencies are not asked of one PLL.", most_wants));
    if (!wish.phase.empty() && wish.phase.size() != wish.want.size())
        return refuse(said("There are {} for {}; give one for each, or none.", counted(wish.phase.size(), "phase"),
                           counted(wish.want.size(), "frequency", "frequencies")));
    if (wish.best > most_settings) return refuse(said("More than {} settings are not listed.", most_settings));
    return Search(part, wish, stop).run();
}

std::vector<std::string> generated_clocks(const PllSetting& setting, const std::string& source,
                                          const std::vector<std::string>& outputs,
                                          const std::vector<std::string>& names, double in_period) {
    std::vector<std::string> out;
    for (std::size_t k = 0; k < setting.outputs.size() && k < outputs.size(); ++k) {
        const auto& o = setting.outputs[k];
        const Fraction ratio = Fraction(setting.multiply, Whole(setting.divide) * o.divide);
        std::string line = said("create_generated_clock -name {} -source [get_pins {}]",
                                sdc::quote(k < names.size() ? names[k] : outputs[k]), sdc::quote(source));
        if (o.phase_steps == 0) {
            if (numerator(ratio) != 1 || denominator(ratio) == 1) line += " -multiply_by " + numerator(ratio).str();
            if (denominator(ratio) != 1) line += " -divide_by " + denominator(ratio).str();
        } else {
            // Edges 1, 2 and 3 of the master lie at 0, half a period and one period; each is moved to where it is made.
            const double period = in_period / number_of(ratio), late = period * number_of(o.phase_deg) / 360;
            line += said(" -edges {{1 2 3}} -edge_shift {{{} {} {}}}", shortest(std::round(late * 1e6) / 1e6),
                         shortest(std::round((late + period / 2 - in_period / 2) * 1e6) / 1e6),
                         shortest(std::round((late + period - in_period) * 1e6) / 1e6));
        }
        out.push_back(said("{} [get_pins {}]", line, sdc::quote(outputs[k])));
    }
    return out;
}

}  // namespace kp::clocks
