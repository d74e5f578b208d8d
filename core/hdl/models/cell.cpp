// SPDX-License-Identifier: GPL-3.0-or-later
// What a path means follows from the pin it begins at: at a clock it launches, at an asynchronous control it clears or
// presets, else it is combinational. A clock is a pin that clocks a register of the body, the reference of a setup or
// hold check, or the edge of a path; where none of them says which edge, both count, so that nothing is missed.
#include "core/hdl/models/cell.hpp"

#include "core/hdl/models/bits.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <map>
#include <optional>
#include <set>

namespace kp::models {

namespace {

constexpr size_t most_arcs = 20'000;

struct Edges {
    bool rise = false, fall = false;
    void add(Edge e) {
        rise |= e != Edge::fall;
        fall |= e != Edge::rise;
    }
    [[nodiscard]] bool any() const { return rise || fall; }
};

TimingTable scalar(double value) {
    TimingTable t;
    t.values = {value};
    return t;
}

class Maker {
public:
    Maker(const Model& model, double unit) : m_(model), unit_(unit) {}

    Result<LibraryCell> run() {
        out_.name = m_.name;
        pins();
        registers();
        references();
        for (const auto& p : m_.specify.paths) path(p);
        for (const auto& c : m_.specify.checks) check(c);
        if (out_.arcs.size() > most_arcs) fail(said("Model {} has more than {} paths and checks.", m_.name, most_arcs));
        if (error_) return *error_;
        for (const auto& [pin, edges] : clocks_) out_.pins[pin].clock = true;
        return std::move(out_);
    }

private:
    void fail(std::string text) {
        if (!error_) error_ = Message{Severity::stop, Code::model, std::move(text)};
    }

    void pins() {
        for (const auto& port : m_.ports) {
            const auto bits = m_.bits(port.name);
            for (const auto& bit : bits) {
                LibraryPin pin;
                pin.name = bit;
                pin.direction = port.direction;
                if (const auto at = m_.functions.find(bit); at != m_.functions.end())
                    if (auto f = m_.logic->function(at->second)) pin.function = std::move(*f);
                if (const auto at = m_.enables.find(bit); at != m_.enables.end())
                    if (auto f = m_.logic->function(m_.logic->invert(at->second))) pin.three_state = std::move(*f);
                at_[bit] = out_.pins.size();
                out_.pins.push_back(std::move(pin));
            }
            if (m_.nets.contains(port.name) && m_.nets.at(port.name).vector) out_.buses.push_back({port.name, bits});
        }
    }

    void registers() {
        auto& logic = *m_.logic;
        const auto text = [&](Logic::Node node, BooleanFunction& into) {
            if (logic.value(node) == false) return;  // never
            if (auto f = logic.function(node)) into = std::move(*f);
        };
        for (const auto& r : m_.registers) {
            out_.flip_flop = true;
            out_.latch |= r.latch;
            if (out_.state.empty()) {
                out_.state = r.state;
                text(r.clock, out_.clocked_on);
                text(r.next, out_.next_state);
                text(r.clear, out_.clear);
                text(r.preset, out_.preset);
            }
            if (const auto clock = logic.function(r.clock))
                for (size_t i = 0; i < clock->inputs.size(); ++i) {
                    const auto pin = at_.find(clock->inputs[i]);
                    const int sense = clock->inputs.size() <= 12 ? clock->sense(i) : 0;
                    // Of a gated clock every input may make the edge; what only opens a latch is data as well.
                    if (pin == at_.end() || sense == 2) continue;
                    clocks_[pin->second].add(sense == 1 ? Edge::rise : sense == -1 ? Edge::fall : Edge::none);
                }
            for (const auto& [node, clears] : {std::pair{r.clear, true}, std::pair{r.preset, false}})
                if (const auto f = logic.function(node))
                    for (const auto& input : f->inputs)
                        if (const auto pin = at_.find(input); pin != at_.end())
                            (clears ? clears_ : presets_).insert(pin->second);
        }
    }

    std::vector<size_t> bits_of(const Terminal& t) {
        std::vector<size_t> out;
        std::vector<std::string> names;
        if (!t.selected)
            names = m_.bits(t.name);
        else
            for (int i = t.left;; i += t.left > t.right ? -1 : 1) {
                names.push_back(t.name + "[" + std::to_string(i) + "]");
                if (i == t.right || names.size() > 4096) break;
            }
        for (const auto& name : names) {
            const auto at = at_.find(name);
            if (at != at_.end())
                out.push_back(at->second);
            else
                fail(said("Model {} has no port '{}', which its specify block names.", m_.name, name));
        }
        return out;
    }

    void references() {
        for (const auto& c : m_.specify.checks) {
            const bool asynchronous = c.kind == TimingCheck::recovery || c.kind == TimingCheck::removal;
            if (c.kind == TimingCheck::width || c.kind == TimingCheck::period) continue;
            for (const auto pin : bits_of(c.reference)) checked_[pin].add(c.reference_edge);
            if (asynchronous)
                for (const auto pin : bits_of(c.data)) asynchronous_.insert(pin);
        }
        for (const auto pin : clears_) asynchronous_.insert(pin);
        for (const auto pin : presets_) asynchronous_.insert(pin);
        for (const auto& [pin, edges] : checked_)
            if (!clocks_.contains(pin) && !asynchronous_.contains(pin)) clocks_[pin] = edges;
        for (const auto pin : asynchronous_)
            if (!checked_.contains(pin)) clocks_.erase(pin);
        if (!checked_.empty() || !m_.registers.empty()) out_.flip_flop = true;
        // A model without body: data that is checked against a pin and passes through is a latch's.
        if (m_.registers.empty())
            for (const auto& c : m_.specify.checks)
                if (c.kind == TimingCheck::setup)
                    for (const auto& p : m_.specify.paths)
                        for (const auto& from : p.from) out_.latch |= from.name == c.data.name && p.edge == Edge::none;
    }

    std::string when_of(const ModulePath& p) const {
        if (p.words.empty()) return {};
        Cursor c(p.words);
        const auto e = c.expression();
        if (c.error() || !c.done()) return {};
        Constants none;
        Bits bits(m_, none);
        for (const auto& port : m_.ports)
            if (port.direction != Direction::out)
                for (const auto& bit : m_.bits(port.name)) bits.known[bit] = m_.logic->input(bit);
        const auto f = m_.logic->function(bits.single(e, 0));
        return f ? f->text().value_or("") : "";
    }

    void path(const ModulePath& p) {
        LibraryArc arc;
        arc.sdf_cond = p.condition;
        arc.when = when_of(p);
        if (p.known) {
            arc.delay[0] = scalar(p.rise * unit_);
            arc.delay[1] = scalar(p.fall * unit_);
        }
        if (p.polarity) arc.sense = p.polarity == '+' ? Sense::positive : Sense::negative;
        std::vector<size_t> from, to;
        for (const auto& t : p.from)
            for (const auto pin : bits_of(t)) from.push_back(pin);
        for (const auto& t : p.to)
            for (const auto pin : bits_of(t)) to.push_back(pin);
        if (error_ || from.size() * to.size() > most_arcs) return fail(said("Model {} has too many paths.", m_.name));
        const bool parallel = !p.full && from.size() == to.size();
        for (size_t i = 0; i < from.size(); ++i)
            for (size_t k = 0; k < to.size(); ++k)
                if (!parallel || i == k) add(arc, from[i], to[k], p.edge);
    }

    /// The arc or arcs that a path from this pin is.
    void add(LibraryArc arc, size_t from, size_t to, Edge edge) {
        arc.from = static_cast<std::uint32_t>(from);
        arc.to = static_cast<std::uint32_t>(to);
        const auto put = [&](ArcKind kind) {
            arc.kind = kind;
            out_.arcs.push_back(arc);
        };
        if (asynchronous_.contains(from)) {
            const bool known = clears_.contains(from) || presets_.contains(from);
            if (!known || clears_.contains(from)) put(ArcKind::clear);
            if (!known || presets_.contains(from)) put(ArcKind::preset);
            return;
        }
        const auto clock = clocks_.find(from);
        if (clock == clocks_.end() && edge == Edge::none) return put(ArcKind::combinational);
        Edges edges = clock == clocks_.end() ? Edges{} : clock->second;
        if (edge != Edge::none || !edges.any()) {
            edges = {};
            edges.add(edge);
        }
        if (clock == clocks_.end()) clocks_[from] = edges;
        arc.sense = Sense::non_unate;
        if (edges.rise) put(ArcKind::rising_edge);
        if (edges.fall) put(ArcKind::falling_edge);
    }

    void check(const TimingCheck& c) {
        if (c.kind == TimingCheck::width || c.kind == TimingCheck::period) return pulse(c);
        Edges edges;
        edges.add(c.reference_edge);
        for (const auto data : bits_of(c.data))
            for (const auto reference : bits_of(c.reference)) {
                if (out_.arcs.size() > most_arcs) return;
                if (edges.rise) put_check(c, data, reference, true);
                if (edges.fall) put_check(c, data, reference, false);
            }
    }

    void put_check(const TimingCheck& c, size_t data, size_t reference, bool rising) {
        static constexpr ArcKind kinds[4][2] = {{ArcKind::setup_falling, ArcKind::setup_rising},
                                                {ArcKind::hold_falling, ArcKind::hold_rising},
                                                {ArcKind::recovery_falling, ArcKind::recovery_rising},
                                                {ArcKind::removal_falling, ArcKind::removal_rising}};
        const auto kind = kinds[c.kind][rising];
        const auto key = std::tuple{data, reference, kind, c.condition};
        const auto [at, fresh] = check_at_.try_emplace(key, out_.arcs.size());
        if (fresh) {
            LibraryArc arc;
            arc.from = static_cast<std::uint32_t>(reference);
            arc.to = static_cast<std::uint32_t>(data);
            arc.kind = kind;
            arc.sdf_cond = c.condition;
            out_.arcs.push_back(std::move(arc));
        }
        auto& arc = out_.arcs[at->second];
        if (c.data_edge != Edge::fall) arc.constraint[0] = scalar(c.limit * unit_);
        if (c.data_edge != Edge::rise) arc.constraint[1] = scalar(c.limit * unit_);
    }

    void pulse(const TimingCheck& c) {
        for (const auto pin : bits_of(c.reference)) {
            auto& p = out_.pins[pin];
            const double limit = c.limit * unit_;
            if (c.kind == TimingCheck::period) {
                p.min_period = std::max(p.min_period, limit);
                continue;
            }
            if (c.reference_edge != Edge::fall) p.min_pulse[0] = std::max(p.min_pulse[0], limit);
            if (c.reference_edge != Edge::rise) p.min_pulse[1] = std::max(p.min_pulse[1], limit);
        }
    }

    const Model& m_;
    double unit_;
    LibraryCell out_;
    std::optional<Message> error_;
    std::map<std::string, size_t> at_;
    std::map<size_t, Edges> clocks_, checked_;
    std::set<size_t> asynchronous_, clears_, presets_;
    std::map<std::tuple<size_t, size_t, ArcKind, std::string>, size_t> check_at_;
};

}  // namespace

Result<LibraryCell> cell_of(const Model& model, double unit) {
    return Maker(model, unit).run();
}

}  // namespace kp::models
