// SPDX-License-Identifier: GPL-3.0-or-later
// Stage by stage, each on an analysis of what is written so far: the clocks that come in, those made of them, the
// ports, the relations, and what is left over.
#include "core/constraints/draft.hpp"

#include "core/base/text.hpp"
#include "core/clocks/budget.hpp"
#include "core/model/sdc_words.hpp"
#include "core/constraints/budget_edits.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cmath>
#include <functional>
#include <map>
#include <numeric>
#include <set>

namespace kp {

namespace {

constexpr const char* draft_path = "draft.sdc";

class Drafter {
public:
    Drafter(const World& world, const Project& project, std::string folder, const TimingOptions& options,
            const std::stop_token& stop)
        : world_(world), project_(project), folder_(std::move(folder)), options_(options), stop_(stop) {
        SdcFile file;
        file.path = draft_path;
        project_.constraints.push_back(file);
    }

    Result<std::vector<DraftLine>> clocks_only() {
        look();
        incoming_clocks();
        for (int round = 0; round < 8 && !stop_.stop_requested() && made_clocks(); ++round) {
        }
        return std::move(out_.lines);
    }

    Result<Draft> run() {
        if (world_.netlist.ports.empty())
            return Message{Severity::stop, Code::draft, "There is no design yet, so there is nothing to constrain."};
        look();
        incoming_clocks();
        // A clock made by a register may clock the one that makes the next.
        for (int round = 0; round < 8 && !stop_.stop_requested() && made_clocks(); ++round) {
        }
        ports();
        relations();
        propagate();
        leftovers();
        out_.coverage = now_->timing().coverage;
        out_.messages = now_->constraints().messages;
        const auto& more = now_->timing().messages;
        out_.messages.insert(out_.messages.end(), more.begin(), more.end());
        return std::move(out_);
    }

private:
    void look() {
        project_.constraints.back().text = draft_text(out_.lines, "draft");
        now_ = analyse(world_, project_, folder_, options_, stop_);
        plan_ = std::make_unique<Plan>(world_.part, world_.board, world_.standards, world_.netlist.ports, project_,
                                       now_->design().ports);
    }
    void add(const char* section, std::string text, std::string why, bool assumed = false) {
        out_.lines.push_back({section, std::move(text), std::move(why), assumed});
    }

    /// The rate of a clock that comes in by a port, as the board says it.
    struct Rate {
        double mhz = 0;
        std::string from;
    };
    [[nodiscard]] std::optional<Rate> rate_of(const PlannedPort& seat) const {
        if (!seat.at) return std::nullopt;
        if (const auto* o = world_.board.oscillator_at_pin(seat.on))
            return Rate{o->mhz, said("oscillator at {}, {} MHz", o->terminal, shortest(o->mhz))};
        if (seat.at.terminal->clock_mhz)
            return Rate{*seat.at.terminal->clock_mhz, "data sheet: clock_mhz of " + seat.at.net->terminal};
        return std::nullopt;
    }

    [[nodiscard]] bool has_clock(const PlannedPort& seat) const {
        const auto& clocks = now_->constraints().clocks;
        return std::any_of(clocks.begin(), clocks.end(), [&](const ClockDefinition& c) {
            return std::find(c.sources.begin(), c.sources.end(), ObjectRef{ObjectKind::port, seat.order}) !=
                   c.sources.end();
        });
    }

    /// The other half of a pair carries nothing of its own.
    [[nodiscard]] bool is_complement(const PlannedPort& seat) const {
        const auto* other = plan_->partner(seat);
        if (!other) return false;
        if (seat.pin && !seat.pin->pair.empty()) return !seat.pin->pair_true;
        return seat.name > other->name ? other->name.find("_p") != std::string::npos
                                       : seat.name.find("_n") != std::string::npos;
    }

    /// By the netlist; while there are only sources, by their clocked statements, or an oscillator on the pin.
    [[nodiscard]] bool is_clock(const PlannedPort& seat) const {
        if (!seat.reads()) return false;
        if (!world_.netlist.cells.empty()) return seat.facts && (seat.facts->clocks_registers || seat.facts->feeds_pll);
        return world_.clocked.contains(seat.name) || (seat.peg && world_.board.oscillator_at_pin(seat.on));
    }

    void incoming_clocks() {
        std::vector<std::string> unknown;
        double fastest = 0;
        std::string fastest_name;
        for (const auto* seat : plan_->seats()) {
            if (!seat->port || !is_clock(*seat) || is_complement(*seat) || has_clock(*seat)) continue;
            const auto rate = rate_of(*seat);
            if (!rate) {
                unknown.push_back(seat->name);
                continue;
            }
            create_clock(seat->name, rate->mhz, rate->from, false);
            if (rate->mhz > fastest) {
                fastest = rate->mhz;
                fastest_name = seat->name;
            }
        }
        for (const auto& port : unknown)
            create_clock(port, fastest > 0 ? fastest : 100,
                         fastest > 0 ? "its frequency is not given; assumed equal to " + fastest_name
                                     : "its frequency is not given; assumed 100 MHz",
                         true);
        if (!out_.lines.empty()) look();
    }
    void create_clock(const std::string& port, double mhz, const std::string& why, bool assumed) {
        add("Clocks",
            said("create_clock -name {} -period {} {}", sdc::quote(port), shortest(std::round(1e6 / mhz * 1e3) / 1e6),
                 sdc::get_ports_word({port})),
            why, assumed);
    }

    /// Outputs of PLLs and registers that clock others. True when something was added.
    bool made_clocks() {
        const auto before = out_.lines.size();
        for (const auto& pll : now_->design().plls) {
            if (pll.input.empty()) continue;
            for (const auto& o : pll.outputs)
                if (o.clock == no_id && named_.insert(o.pin).second) pll_clock(pll, o);
        }
        if (out_.lines.size() == before)
            for (const auto& u : now_->timing().coverage.untimed)
                if (u.suggest.starts_with("create_generated_clock") && named_.insert(u.suggest).second)
                    add("Clocks", u.suggest, "a register makes it, at most half as fast as its own clock", true);
        if (out_.lines.size() == before) return false;
        look();
        return true;
    }
    void pll_clock(const PllFacts& pll, const PllOutput& o) {
        std::string how = " -multiply_by 1",
                    why = said("the netlist does not say what {} makes there; taken as 1", pll.cell);
        const bool known =
            pll.divide && pll.multiply && o.divide && *pll.divide > 0 && *pll.multiply > 0 && *o.divide > 0;
        if (known) {
            const auto top = *pll.multiply, bottom = *pll.divide * *o.divide, common = std::gcd(top, bottom);
            how = bottom / common == 1 ? said(" -multiply_by {}", top / common)
                  : top / common == 1  ? said(" -divide_by {}", bottom / common)
                                       : said(" -multiply_by {} -divide_by {}", top / common, bottom / common);
            why = said("netlist: {} multiplies by {} and divides by {} and {}", pll.cell, top, *pll.divide, *o.divide);
        }
        add("Clocks",
            said("create_generated_clock -name {} -source [get_pins {}]{} [get_pins {}]", sdc::quote(clock_name(o.pin)),
                 sdc::quote(pll.input), how, sdc::quote(o.pin)),
            why, !known);
    }
    /// The net on a pin says more than the pin: "sys" for pll/CK0.
    [[nodiscard]] std::string clock_name(const std::string& pin) const {
        const auto slash = pin.rfind('/');
        const auto& n = world_.netlist;
        for (std::uint32_t c = 0; c < n.cells.size(); ++c) {
            if (n.cell_names[c] != pin.substr(0, slash)) continue;
            for (auto p = n.cells[c].first_pin; p < n.cells[c].first_pin + n.cells[c].pin_count; ++p)
                if (n.pin_name(p) == pin && n.pins[p].net != no_id) {
                    const auto& net = n.net_names[n.pins[p].net];
                    if (now_->constraints().clock(net) == no_id) return net;
                }
        }
        return pin;
    }

    void ports() {
        if (stop_.stop_requested()) return;
        const auto list = budgets_of(world_, *now_, *plan_);
        std::set<std::string> written;
        for (const auto& b : list)
            for (const auto& w : b.clocks)
                if (b.arrangement != clocks::Arrangement::asynchronous && !b.in_force && !b.excluded &&
                    now_->constraints().clock(w.name) == no_id && written.insert(w.name).second)
                    add("Clocks", said("{}\nset_propagated_clock [get_clocks {}]", w.command, sdc::quote(w.name)),
                        said("the clock that {} takes: {}", b.partner, w.why));
        for (const auto& b : list) {
            if (b.sdc.empty() || b.in_force || b.excluded || all_clocks(b.ports)) continue;
            const bool quiet = b.arrangement == clocks::Arrangement::asynchronous;
            // Clocks that are wished for stand above, once each, two lines of a budget for each.
            std::string text;
            for (size_t i = 2 * (quiet ? 0 : b.clocks.size()); i < b.sdc.size(); ++i)
                text += (text.empty() ? "" : "\n") + b.sdc[i];
            add(quiet ? "Exceptions" : "Inputs and outputs", text, b.name + ": " + (quiet ? b.why : sum(b)), b.unknown);
        }
        loops_at_pads(list);
        // What a promise stands on comes first in the file.
        const auto rank = [](const DraftLine& l) {
            return l.section == "Clocks" ? 0 : l.section == "Exceptions" ? 2 : 1;
        };
        std::stable_sort(out_.lines.begin(), out_.lines.end(),
                         [&](const DraftLine& a, const DraftLine& b) { return rank(a) < rank(b); });
        look();
    }
    /// Clocks need no promise of when they come: they say it.
    [[nodiscard]] bool all_clocks(const std::vector<std::string>& ports) const {
        return std::all_of(ports.begin(), ports.end(), [&](const std::string& port) {
            const auto* seat = plan_->seat(port);
            return seat && (has_clock(*seat) || is_clock(*seat));
        });
    }

    /// With the delays of the clock networks known, every clock is carried through them.
    void propagate() {
        if (!world_.delays) return;
        const auto& k = now_->constraints();
        std::string missing;
        size_t count = 0;
        for (std::uint32_t c = 0; c < k.clocks.size(); ++c) {
            if (std::find(k.propagated.begin(), k.propagated.end(), ObjectRef{ObjectKind::clock, c}) !=
                k.propagated.end())
                continue;
            missing += (missing.empty() ? "" : " ") + sdc::quote(k.clocks[c].name);
            ++count;
        }
        if (count == 0) return;
        add("Clock relations",
            count == k.clocks.size() ? std::string("set_propagated_clock [all_clocks]")
                                     : said("set_propagated_clock [get_clocks {{{}}}]", missing),
            "the delays of the clock networks are known, so no latency is guessed");
        look();
    }

    /// A pad of both directions hears what it drives; where no promise is made about its port, that way is none either.
    void loops_at_pads(const std::vector<clocks::Budget>& list) {
        std::set<std::string> in, out;
        for (const auto& b : list)
            for (const auto& port : b.ports)
                if (b.arrangement == clocks::Arrangement::asynchronous && !b.in_force && !b.excluded)
                    (b.input ? in : out).insert(port);
        std::map<std::uint32_t, std::string> nets;
        for (const auto& port : world_.netlist.ports)
            if (port.direction == Direction::inout && port.net != no_id && in.contains(port.name) &&
                out.contains(port.name))
                nets.emplace(port.net, port.name);
        std::string pins;
        const auto& n = world_.netlist;
        for (std::uint32_t p = 0; p < n.pins.size() && !nets.empty(); ++p)
            if (nets.contains(n.pins[p].net)) pins += (pins.empty() ? "" : " ") + n.pin_name(p);
        if (!pins.empty())
            add("Exceptions", said("set_false_path -through [get_pins {{{}}}]", pins),
                "what is driven out by a pad of both directions is not taken for what comes in");
    }
    static std::string sum(const clocks::Budget& b) {
        std::string out = b.why;
        for (const auto& t : b.terms)
            out += said("; {} {}{} ({})", t.what, shortest(t.max), (t.max == t.min ? "" : " / " + shortest(t.min)),
                        t.from);
        return out;
    }

    /// Clocks that never have to meet: of different origins, or that meet in synchronisers only.
    void relations() {
        const auto& k = now_->constraints();
        const auto n = static_cast<std::uint32_t>(k.clocks.size());
        if (n < 2 || stop_.stop_requested()) return;
        std::vector<std::uint32_t> root(n), group(n);
        std::iota(group.begin(), group.end(), 0u);
        for (std::uint32_t c = 0; c < n; ++c) root[c] = origin(c);
        const std::function<std::uint32_t(std::uint32_t)> find = [&](std::uint32_t c) {
            return group[c] == c ? c : group[c] = find(group[c]);
        };
        struct Crossed {
            int open = 0, synchronised = 0;
        };
        std::map<std::pair<std::uint32_t, std::uint32_t>, Crossed> crossed;
        for (const auto& x : now_->design().related) {
            const auto pair = std::minmax(x.from, x.to);
            auto& at = crossed[{pair.first, pair.second}];
            at.open += x.open;
            at.synchronised += x.synchronised;
        }
        // Who puts synchronisers between two clocks does not count on their edges.
        int by_synchronisers = 0;
        for (std::uint32_t a = 0; a < n; ++a)
            for (std::uint32_t b = a + 1; b < n; ++b) {
                if (root[a] != root[b]) continue;
                const auto at = crossed.find({a, b});
                // Edges of one origin know each other: only synchronisers on every way say that nobody counts on that.
                const bool apart = at != crossed.end() && at->second.synchronised > 0 && at->second.open == 0;
                if (apart)
                    ++by_synchronisers;
                else
                    group[find(a)] = find(b);
            }
        std::map<std::uint32_t, std::string> members;
        const auto open_pair = [&](std::uint32_t c) {
            for (std::uint32_t o = 0; o < n; ++o)
                if (find(o) != find(c) && !parted(c, o)) return true;
            return false;
        };
        for (std::uint32_t c = 0; c < n; ++c) {
            if (!open_pair(c)) continue;  // the text says so already
            auto& list = members[find(c)];
            list += (list.empty() ? "" : " ") + sdc::quote(k.clocks[c].name);
        }
        if (members.size() < 2) return;
        std::string line = "set_clock_groups -asynchronous";
        for (const auto& [id, list] : members) line += said(" -group [get_clocks {{{}}}]", list);
        std::string why = "they come from different origins, so no edge of one knows those of another";
        if (by_synchronisers > 0) why = "of different origins, or they meet in synchronisers only";
        add("Clock relations", line, why);
        look();
    }
    [[nodiscard]] std::uint32_t origin(std::uint32_t c) const {
        const auto& k = now_->constraints();
        for (int depth = 0; depth < 64; ++depth) {
            const auto master = k.clock(k.clocks[c].master);
            if (!k.clocks[c].generated || master == no_id || master == c) break;
            c = master;
        }
        return c;
    }
    /// The constraints take all paths between two clocks out already.
    [[nodiscard]] bool parted(std::uint32_t a, std::uint32_t b) const {
        const auto& k = now_->constraints();
        for (const auto& set : k.groups) {
            int in_a = -1, in_b = -1;
            for (size_t g = 0; g < set.groups.size(); ++g)
                for (const auto c : set.groups[g]) {
                    if (c == a) in_a = static_cast<int>(g);
                    if (c == b) in_b = static_cast<int>(g);
                }
            // A group alone stands against all that are not in it.
            const bool alone = set.groups.size() == 1 && (in_a >= 0) != (in_b >= 0);
            if (alone || (in_a >= 0 && in_b >= 0 && in_a != in_b)) return true;
        }
        const auto way_out = [&](std::uint32_t from, std::uint32_t to) {
            return std::any_of(k.exceptions.begin(), k.exceptions.end(), [&](const PathException& e) {
                const auto names = [](const auto& end, std::uint32_t clock) {
                    return end && std::find(end->objects.begin(), end->objects.end(),
                                            ObjectRef{ObjectKind::clock, clock}) != end->objects.end();
                };
                return e.kind == PathException::false_path && e.through.empty() && names(e.from, from) &&
                       names(e.to, to);
            });
        };
        return way_out(a, b) && way_out(b, a);
    }

    /// What coverage still names: taken out with the reason, or constrained where a whole command is known.
    void leftovers() {
        for (int round = 0; round < 4 && !stop_.stop_requested(); ++round) {
            const auto before = out_.lines.size();
            for (const auto& u : now_->timing().coverage.untimed) {
                if (!named_.insert(u.object + u.suggest).second || (u.port && all_clocks({u.object}))) continue;
                if (u.port && u.suggest.find(number_wanted) != std::string::npos) {
                    const bool input = u.suggest.starts_with("set_input_delay");
                    add("Exceptions",
                        std::string("set_false_path ") + (input ? "-from " : "-to ") + sdc::get_ports_word({u.object}),
                        u.why + "; no number is given", true);
                } else if (!u.suggest.empty() && u.suggest.find(number_wanted) == std::string::npos) {
                    add("Exceptions", u.suggest, u.object + ": " + u.why, true);
                }
            }
            if (out_.lines.size() == before) return;
            look();
        }
    }

    const World& world_;
    Project project_;
    std::string folder_;
    TimingOptions options_;
    std::stop_token stop_;
    Draft out_;
    std::set<std::string> named_;
    std::shared_ptr<const Analysis> now_;
    std::unique_ptr<Plan> plan_;
};

}  // namespace

Result<Draft> draft_sdc(const World& world, const Project& project, const std::string& folder,
                        const TimingOptions& options, const std::stop_token& stop) {
    return Drafter(world, project, folder, options, stop).run();
}

Result<std::vector<DraftLine>> draft_clocks(const World& world, const Project& project, const std::string& folder,
                                            const TimingOptions& options, const std::stop_token& stop) {
    return Drafter(world, project, folder, options, stop).clocks_only();
}

std::string draft_text(const std::vector<DraftLine>& lines, const std::string& title) {
    std::string out = said("# {}\n", title), section;
    for (const auto& line : lines) {
        if (line.section != section) out += said("\n## {}\n", line.section);
        section = line.section;
        std::string why = line.why;
        std::replace(why.begin(), why.end(), '\n', ' ');
        while (!why.empty() && why.back() == '\\') why.pop_back();  // would continue the comment
        out += said("# {}{}\n{}\n", why, (line.assumed ? " (assumed)" : ""), line.text);
    }
    return out;
}

}  // namespace kp
