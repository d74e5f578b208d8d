// SPDX-License-Identifier: GPL-3.0-or-later
// Breadth first from the path, over nets whose pins are looked up once.
#include "core/design/surroundings.hpp"

#include "core/base/text.hpp"

#include <algorithm>
#include <functional>
#include <map>
#include <optional>
#include <unordered_map>

namespace kp {

namespace {

constexpr size_t most_cells = 400;
constexpr int most_loads = 6;

class Around {
public:
    Around(const Netlist& n, const NetlistIndex& index, const Library& library)
        : n_(n), index_(index), library_(library) {}

    Surroundings run(const std::vector<std::string>& pins, int levels) {
        lay_path(pins);
        look_up_nets();
        wire_path();
        std::vector<size_t> edge;
        for (size_t i = 0; i < out_.cells.size(); ++i) edge.push_back(i);
        for (int level = 0; level < levels; ++level) {
            std::vector<size_t> next;
            for (const size_t i : edge) grow(i, next);
            edge = std::move(next);
        }
        if (levels == 0) join_known();
        return std::move(out_);
    }

private:
    struct Ends {
        std::vector<std::uint32_t> pins, ports;
    };

    /// Cells have their number, ports come behind them.
    [[nodiscard]] std::uint32_t id_of_port(std::uint32_t port) const {
        return static_cast<std::uint32_t>(n_.cells.size()) + port;
    }

    size_t add(std::uint32_t id, int column, bool on_path) {
        const auto known = at_.find(id);
        if (known != at_.end()) return known->second;
        DrawnCell c;
        c.column = column;
        c.on_path = on_path;
        if (id >= n_.cells.size()) {
            c.port = true;
            c.name = n_.ports[id - n_.cells.size()].name;
        } else {
            c.name = n_.cell_names[id];
            c.type = n_.type_of(id);
            if (const auto* cell = library_.cell(c.type)) tell_function(*cell, n_, id, c);
        }
        c.row = rows_[column]++;
        at_[id] = out_.cells.size();
        ids_.push_back(id);
        out_.cells.push_back(std::move(c));
        return out_.cells.size() - 1;
    }

    void lay_path(const std::vector<std::string>& pins) {
        int column = 0;
        for (const auto& name : pins) {
            const auto port = index_.port(name);
            const auto pin = port == no_id ? index_.pin(name) : no_id;
            if (port == no_id && pin == no_id) continue;
            const auto id = port != no_id ? id_of_port(port) : n_.pins[pin].cell;
            // A path that comes to a cell twice is drawn once.
            if (!at_.contains(id)) (void)add(id, column++, true);
            if (path_.empty() || path_.back() != at_.at(id)) path_.push_back(at_.at(id));
        }
    }

    void look_up_nets() {
        ends_.resize(n_.net_names.size());
        for (std::uint32_t p = 0; p < n_.pins.size(); ++p)
            if (n_.pins[p].net != no_id) ends_[n_.pins[p].net].pins.push_back(p);
        for (std::uint32_t p = 0; p < n_.ports.size(); ++p)
            if (n_.ports[p].net != no_id) ends_[n_.ports[p].net].ports.push_back(p);
    }

    [[nodiscard]] bool drives(std::uint32_t pin) const {
        const auto* cell = library_.cell(n_.type_of(n_.pins[pin].cell));
        const int at = cell ? cell->pin(n_.pin_names[n_.pins[pin].name]) : -1;
        return at >= 0 && cell->pins[static_cast<size_t>(at)].direction != Direction::in;
    }

    void wire(size_t from, size_t to, std::uint32_t net, const std::string& pin) {
        for (const auto& w : out_.wires)
            if (w.from == from && w.to == to && w.pin == pin) return;
        const bool along = std::adjacent_find(path_.begin(), path_.end(),
                                              [&](size_t a, size_t b) { return a == from && b == to; }) != path_.end();
        out_.wires.push_back({from, to, n_.net_names[net], pin, along});
    }

    /// Wires of a net between a driver and a load that are both drawn, or that `grow` may draw.
    void connect(std::uint32_t net, size_t seen_from, int column, bool drawing, std::vector<size_t>& next) {
        int loads = 0, hidden = 0;
        std::vector<size_t> from;
        std::vector<std::pair<size_t, std::string>> to;
        const auto take = [&](std::uint32_t id, int at_column) -> std::optional<size_t> {
            const auto known = at_.find(id);
            if (known != at_.end()) return known->second;
            if (!drawing || out_.cells.size() >= most_cells) return std::nullopt;
            const size_t made = add(id, at_column, false);
            next.push_back(made);
            return made;
        };
        const bool driving = is_driver(net, seen_from);
        for (const auto p : ends_[net].pins) {
            const bool out = drives(p);
            if (!out && driving && !at_.contains(n_.pins[p].cell) && ++loads > most_loads) {
                ++hidden;
                continue;
            }
            if (!out && !driving && !at_.contains(n_.pins[p].cell)) continue;  // another load of the same driver
            if (const auto i = take(n_.pins[p].cell, out ? column - 1 : column + 1)) {
                if (out)
                    from.push_back(*i);
                else
                    to.emplace_back(*i, n_.pin_names[n_.pins[p].name]);
            }
        }
        for (const auto p : ends_[net].ports) {
            const bool enters = n_.ports[p].direction != Direction::out;
            if (const auto i = take(id_of_port(p), enters ? column - 1 : column + 1)) {
                if (enters) from.push_back(*i);
                if (n_.ports[p].direction != Direction::in) to.emplace_back(*i, "");
            }
        }
        for (const size_t f : from)
            for (const auto& [t, pin] : to)
                if (f != t) wire(f, t, net, pin);
        out_.cells[seen_from].hidden = std::max(out_.cells[seen_from].hidden, hidden);
    }

    [[nodiscard]] bool is_driver(std::uint32_t net, size_t cell) const {
        const auto id = ids_[cell];
        if (id >= n_.cells.size()) return n_.ports[id - n_.cells.size()].direction != Direction::out;
        return std::any_of(ends_[net].pins.begin(), ends_[net].pins.end(),
                           [&](std::uint32_t p) { return n_.pins[p].cell == id && drives(p); });
    }

    void grow(size_t i, std::vector<size_t>& next) { visit(i, true, next); }
    void join_known() {
        std::vector<size_t> none;
        for (size_t i = 0; i < out_.cells.size(); ++i) visit(i, false, none);
    }
    void wire_path() {
        std::vector<size_t> none;
        for (const size_t i : path_) visit(i, false, none);
    }
    void visit(size_t i, bool drawing, std::vector<size_t>& next) {
        const auto id = ids_[i];
        const int column = out_.cells[i].column;
        if (id >= n_.cells.size()) {
            if (const auto net = n_.ports[id - n_.cells.size()].net; net != no_id)
                connect(net, i, column, drawing, next);
            return;
        }
        const auto& cell = n_.cells[id];
        for (auto p = cell.first_pin; p < cell.first_pin + cell.pin_count; ++p) {
            const auto net = n_.pins[p].net;
            if (net == no_id || net == n_.constant_net[0] || net == n_.constant_net[1]) continue;
            connect(net, i, column, drawing, next);
        }
    }

    const Netlist& n_;
    const NetlistIndex& index_;
    const Library& library_;
    Surroundings out_;
    std::vector<Ends> ends_;
    std::vector<std::uint32_t> ids_;
    std::vector<size_t> path_;
    std::unordered_map<std::uint32_t, size_t> at_;
    std::map<int, int> rows_;
};

/// "8'hE8" or "16'b…" as a number; none for anything else.
std::optional<std::uint64_t> literal(const std::string& text) {
    const auto quote = text.find('\'');
    if (quote == std::string::npos || quote + 2 > text.size()) return std::nullopt;
    const char base = text[quote + 1];
    std::uint64_t value = 0;
    for (const char c : lower(text.substr(quote + 2))) {
        if (c == '_') continue;
        const int digit = c >= '0' && c <= '9' ? c - '0' : c >= 'a' && c <= 'f' ? c - 'a' + 10 : 99;
        const int radix = base == 'h' ? 16 : base == 'b' ? 2 : base == 'd' ? 10 : 0;
        if (digit >= radix) return std::nullopt;
        value = value * static_cast<std::uint64_t>(radix) + static_cast<std::uint64_t>(digit);
    }
    return value;
}

void table_of(const std::vector<std::string>& inputs, const std::string& output,
              const std::function<bool(std::uint64_t)>& value, DrawnCell& into) {
    if (inputs.empty() || inputs.size() > 4) return;
    std::string head;
    for (const auto& i : inputs) head = i + " " + head;
    into.table = {head + ": " + output};
    for (std::uint64_t v = 0; v < std::uint64_t{1} << inputs.size(); ++v) {
        std::string line;
        for (size_t i = 0; i < inputs.size(); ++i)
            line = std::string(inputs[i].size(), ' ').replace(0, 1, v >> i & 1 ? "1" : "0") + " " + line;
        into.table.push_back(line + ": " + (value(v) ? "1" : "0"));
    }
}

void tell_look_up(const LibraryCell& cell, const Netlist& n, std::uint32_t instance, DrawnCell& into) {
    std::string text;
    for (auto p = n.cells[instance].parameter;
         p != no_id && p < n.parameters.size() && n.parameters[p].cell == instance; ++p)
        if (n.parameters[p].name == cell.truth_table_parameter) text = n.parameters[p].value;
    std::vector<std::string> inputs;
    std::string output;
    for (const auto& pin : cell.pins)
        if (pin.direction == Direction::in)
            inputs.push_back(pin.name);
        else
            output = pin.name;
    into.equation = output + " = table " + text;
    const auto bits = literal(text);
    if (bits)
        table_of(
            inputs, output, [&](std::uint64_t v) { return (*bits >> v & 1) != 0; }, into);
}

}  // namespace

void tell_function(const LibraryCell& cell, const Netlist& n, std::uint32_t instance, DrawnCell& into) {
    if (!cell.truth_table_parameter.empty()) return tell_look_up(cell, n, instance, into);
    if (cell.flip_flop) {
        into.equation = (cell.latch ? "follows " : "takes ") + cell.next_state.text().value_or("its data") +
                        (cell.latch ? " while " : " at ") + cell.clocked_on.text().value_or("its clock");
        return;
    }
    for (const auto& pin : cell.pins) {
        if (pin.direction == Direction::in || pin.function.empty()) continue;
        into.equation = pin.name + " = " + pin.function.text().value_or("?");
        table_of(
            pin.function.inputs, pin.name, [&](std::uint64_t v) { return pin.function.eval(v); }, into);
        return;
    }
}

Surroundings surroundings_of(const Netlist& netlist, const NetlistIndex& index, const Library& library,
                             const std::vector<std::string>& pins, int levels) {
    return Around(netlist, index, library).run(pins, levels);
}

}  // namespace kp
