// SPDX-License-Identifier: GPL-3.0-or-later
// A source run as it is written, and formulas as a source of one module. Clocks and PLLs tick in one list by time, as
// on the board.
#include "core/verification/proof.hpp"

#include "core/base/said.hpp"
#include "core/hdl/source/interpreter.hpp"
#include "core/hdl/source/parser.hpp"

#include <algorithm>
#include <cctype>
#include <map>
#include <utility>

namespace kp::verification {

namespace {

/// Pins of the library's PLLs, by cell.
source::Interpreter::Boxes plls_of(const Library& library) {
    source::Interpreter::Boxes out;
    for (const auto& cell : library.cells)
        if (!cell.multiply_parameter.empty())
            for (const auto& pin : cell.pins) out[cell.name][pin.name] = pin.direction != Direction::in;
    return out;
}

/// A source by its ports; bits of a bus are told together.
class Source : public Oracle {
public:
    Source(std::unique_ptr<source::DesignText> code, source::Interpreter interpreter, const Netlist& netlist,
           const Library* library, const std::vector<ProofClock>& clocks, std::string name)
        : code_(std::move(code)), interpreter_(std::move(interpreter)), name_(std::move(name)) {
        bit_.resize(netlist.ports.size());
        for (const auto& group : simulation::groups_of(netlist)) {
            const auto known = std::find_if(interpreter_.ports().begin(), interpreter_.ports().end(),
                                            [&](const auto& p) { return p.name == group.name; });
            if (known == interpreter_.ports().end() || known->width != static_cast<int>(group.ports.size())) continue;
            for (size_t k = 0; k < group.ports.size(); ++k) bit_[group.ports[k]] = {group.name, k};
            // Who drives a port that goes both ways, only a board sees.
            if (group.direction == Direction::inout)
                for (const auto port : group.ports) bit_[port].first.clear();
            if (group.direction == Direction::in) given_[group.name] = std::string(group.ports.size(), '0');
        }
        for (const auto& c : clocks)
            if (!bit_[c.port].first.empty()) {
                Ticker t;
                t.clock = c.port;
                t.numerator = c.numerator;
                t.denominator = c.denominator;
                t.next = c.first_rise();
                t.runs = true;
                tickers_.push_back(t);
            }
        if (library) add_plls(*library);
    }
    [[nodiscard]] std::string name() const override { return name_; }
    void set(std::uint32_t port, bool value) override {
        const auto given = given_.find(bit_[port].first);
        if (given != given_.end()) given->second[bit_[port].second] = value ? '1' : '0';
    }
    [[nodiscard]] Status run(board_sim::Time lasts) override {
        const auto end = now_ + lasts;
        give();
        if (auto status = settle(); !status) return status;
        while (auto* t = next_before(end)) {
            now_ = t->next;
            tick(*t);
            if (auto status = settle(); !status) return status;
        }
        now_ = end;
        return Done{};
    }
    [[nodiscard]] char port(std::uint32_t port) const override {
        if (bit_[port].first.empty()) return '-';
        const auto bits = interpreter_.get(bit_[port].first);
        return bit_[port].second < bits.size() ? bits[bit_[port].second] : '-';
    }

private:
    /// A clock of the board, or an output of a PLL. Half a period is a fraction of femtoseconds.
    struct Ticker {
        std::uint32_t clock = no_id;
        size_t box = 0;
        std::string pin;
        board_sim::Time next = 0;
        std::int64_t numerator = 0, denominator = 1, carried = 0;
        bool level = false, runs = false;
        // Of a PLL: its input, and its rate as that of the input times `times` over `over`.
        std::string input;
        std::int64_t times = 1, over = 1;
        board_sim::Time last = -1;
        bool was = false;
    };

    void add_plls(const Library& library) {
        for (size_t b = 0; b < interpreter_.boxes().size(); ++b) {
            const auto& box = interpreter_.boxes()[b];
            const auto* cell = library.cell(box.cell);
            const auto value = [&](const std::string& parameter) -> std::int64_t {
                const auto at = box.parameters.find(parameter);
                return at == box.parameters.end() || at->second < 1 ? 1 : at->second;
            };
            for (const auto& pin : cell->pins) {
                if (pin.direction == Direction::in || pin.function.inputs.size() != 1) continue;
                Ticker t;
                t.box = b;
                t.pin = pin.name;
                t.input = pin.function.inputs[0];
                t.times = value(cell->multiply_parameter);
                t.over = value(cell->divide_parameter) * value(pin.divide_parameter);
                tickers_.push_back(t);
            }
        }
    }

    void give() {
        for (const auto& [port, bits] : given_) {
            const bool ticks = std::any_of(tickers_.begin(), tickers_.end(), [&](const Ticker& t) {
                return t.clock != no_id && bit_[t.clock].first == port;
            });
            if (!ticks) interpreter_.set(port, bits);
        }
    }

    Ticker* next_before(board_sim::Time end) {
        Ticker* first = nullptr;
        for (auto& t : tickers_)
            if (t.runs && t.next < end && (!first || t.next < first->next)) first = &t;
        return first;
    }

    void tick(Ticker& t) {
        t.level = !t.level;
        t.next += t.numerator / t.denominator;
        t.carried += t.numerator % t.denominator;
        if (t.carried >= t.denominator) {
            t.carried -= t.denominator;
            ++t.next;
        }
        if (t.clock == no_id) return interpreter_.set_at_box(t.box, t.pin, t.level);
        auto& bits = given_[bit_[t.clock].first];
        bits[bit_[t.clock].second] = t.level ? '1' : '0';
        interpreter_.set(bit_[t.clock].first, bits);
    }

    /// Two rises of its input tell a PLL its period; from then on it runs, in step with the second, as on the board.
    [[nodiscard]] Status settle() {
        if (const auto m = interpreter_.settle()) return *m;
        for (auto& t : tickers_) {
            if (t.clock != no_id || t.runs) continue;
            const bool is = interpreter_.at_box(t.box, t.input), rose = is && !t.was;
            t.was = is;
            if (!rose) continue;
            const auto last = std::exchange(t.last, now_);
            if (last < 0) continue;
            t.numerator = (now_ - last) * t.over;
            t.denominator = 2 * t.times;
            t.next = now_;
            t.runs = t.numerator / t.denominator > 0;
        }
        return Done{};
    }

    std::unique_ptr<source::DesignText> code_;
    source::Interpreter interpreter_;
    board_sim::Time now_ = 0;
    std::string name_;
    std::vector<Ticker> tickers_;
    std::vector<std::pair<std::string, size_t>> bit_;
    std::map<std::string, std::string> given_;
};

Result<std::unique_ptr<Oracle>> run_source(std::span<const SourceText> sources, const PortRequest& reading,
                                           const std::string& top, const Netlist& netlist, const Library* library,
                                           const std::vector<ProofClock>& clocks, const std::string& name) {
    auto request = reading;
    request.top = top;
    auto read = source::read_code(sources, request);
    if (!read) return read.messages();
    auto code = std::make_unique<source::DesignText>(read.take());
    auto interpreter = source::Interpreter::of(*code, top, reading.parameters,
                                               library ? plls_of(*library) : source::Interpreter::Boxes{});
    if (!interpreter) return interpreter.messages();
    return std::unique_ptr<Oracle>(
        std::make_unique<Source>(std::move(code), interpreter.take(), netlist, library, clocks, name));
}

}  // namespace

Result<std::unique_ptr<Oracle>> oracle_of_source(std::span<const SourceText> sources, const PortRequest& reading,
                                                 const std::string& top, const Netlist& netlist, const Library& library,
                                                 const std::vector<ProofClock>& clocks) {
    return run_source(sources, reading, top, netlist, &library, clocks, "the source");
}

Result<std::unique_ptr<Oracle>> oracle_of_formula(const std::string& formulas, const Netlist& netlist) {
    std::string text = "module formula(", body;
    bool first = true;
    for (const auto& group : simulation::groups_of(netlist)) {
        // A formula speaks of some outputs; the others are not ports of it.
        const auto written = [&] {
            for (size_t at = formulas.find(group.name); at != std::string::npos;
                 at = formulas.find(group.name, at + 1)) {
                const bool begins =
                    at == 0 || !(std::isalnum(static_cast<unsigned char>(formulas[at - 1])) || formulas[at - 1] == '_');
                const auto end = at + group.name.size();
                const bool ends = end >= formulas.size() ||
                                  !(std::isalnum(static_cast<unsigned char>(formulas[end])) || formulas[end] == '_');
                if (begins && ends) return true;
            }
            return false;
        }();
        if (group.direction == Direction::inout || (group.direction == Direction::out && !written)) continue;
        text += std::string(first ? "" : ", ") + (group.direction == Direction::in ? "input" : "output");
        if (group.ports.size() > 1) text += said(" [{}:0]", group.ports.size() - 1);
        text += " " + group.name;
        first = false;
    }
    text += "); ";
    for (size_t from = 0; from < formulas.size();) {
        const auto end = std::min(formulas.find_first_of(";\n", from), formulas.size());
        const auto one = formulas.substr(from, end - from);
        if (one.find_first_not_of(" \t\r") != std::string::npos) body += said("assign {};\n", one);
        from = end + 1;
    }
    text += body + "endmodule\n";
    const SourceText source{"formula", text};
    return run_source({&source, 1}, {}, "formula", netlist, nullptr, {}, "the formula");
}

}  // namespace kp::verification
