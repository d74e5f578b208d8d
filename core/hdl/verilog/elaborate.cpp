// SPDX-License-Identifier: GPL-3.0-or-later
// Unfolds modules into one flat netlist. Nets of an instance get a block of ids; ports and assigns join ids in a
// disjoint-set forest, and the lowest id of a set (the one nearest the top) gives the name.
#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/hdl/verilog/missing_cells.hpp"
#include "core/hdl/verilog/netlist_ast.hpp"
#include "core/hdl/verilog/read_netlist.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <deque>
#include <set>
#include <unordered_map>

namespace kp {

namespace {

using namespace verilog;

constexpr size_t deepest = 256;  // real hierarchies stay below 40
// Two and a half times the largest design aimed at: some 2.5 GB. Told before anything is unfolded, from the modules and
// how often each stands in others, so that a few lines that double each other cost nothing.
constexpr double most_cells = 2.5e6, most_wires = 1e7;
constexpr size_t most_ports = 50'000;  // of the top; the largest package has some 2,000 user pins
constexpr size_t most_errors = 20;

class Elaborator {
public:
    Elaborator(std::span<const SourceText> sources, const std::vector<Module>& modules, const Library& library)
        : sources_(sources), modules_(modules), library_(library) {
        for (size_t i = 0; i < modules.size(); ++i) by_name_.emplace(modules[i].name, i);
    }

    Result<Netlist> run(const std::string& top) {
        const Module* m = find_top(top);
        if (m) unfold(*m);
        if (!errors_.empty()) return errors_;
        finish(*m);
        if (!errors_.empty()) return errors_;
        return std::move(n_);
    }

private:
    /// A module to unfold: where its own net ids start and how deep it lies.
    struct Job {
        const Module* module;
        std::string prefix;
        std::uint32_t base;
        std::vector<const Module*> above;
    };

    void fail(const Module& m, size_t offset, std::string text) {
        if (errors_.size() >= most_errors) return;
        const auto& source = sources_[static_cast<size_t>(m.file)];
        const auto place = place_of(source.text, offset);
        errors_.push_back({Severity::stop, Code::netlist, std::move(text), source.file, place.line, place.column});
    }

    const Module* find_top(const std::string& top) {
        if (!top.empty()) {
            if (const auto at = by_name_.find(top); at != by_name_.end() && !modules_[at->second].set_aside)
                return &modules_[at->second];
            std::vector<std::string> names;
            for (const auto& m : modules_) names.emplace_back(m.name);
            errors_.push_back(
                {Severity::stop, Code::top,
                 said("There is no module '{}'; the file has {}.{}", top, list_names(names), did_you_mean(top, names)),
                 sources_.empty() ? "" : sources_[0].file});
            return nullptr;
        }
        std::set<std::string_view> used;
        for (const auto& m : modules_)
            if (!m.port_order.empty())  // a test bench does not keep its device from being the top
                for (const auto& i : m.instances) used.insert(i.type);
        std::vector<std::string> candidates;
        const Module* found = nullptr;
        for (const auto& m : modules_)
            if (!used.contains(m.name) && !m.port_order.empty()) {
                candidates.emplace_back(m.name);
                found = &m;
            }
        if (candidates.size() == 1) return found;
        const std::string why =
            candidates.empty()
                ? "No module can be the top: each is used by another or has no ports."
                : said("Several modules could be the top: {}. Name one of them.", list_names(candidates, 6));
        errors_.push_back({Severity::stop, Code::top, why, sources_.empty() ? "" : sources_[0].file});
        return nullptr;
    }

    std::uint32_t add_nets(const Module& m, const std::string& prefix) {
        const auto base = static_cast<std::uint32_t>(parent_.size());
        if (base == 0) {
            parent_.reserve(m.nets.size());
            names_.reserve(m.nets.size());
        }
        for (const auto& net : m.nets) {
            if (!net.vector) {
                parent_.push_back(static_cast<std::uint32_t>(parent_.size()));
                names_.emplace_back(prefix).append(net.name);
                if (net.constant >= 0) join(parent_.back(), constant(net.constant));
                continue;
            }
            const std::string name = prefix + std::string(net.name);
            for (int i = 0; i < net.width(); ++i) {
                parent_.push_back(static_cast<std::uint32_t>(parent_.size()));
                names_.push_back(name + "[" + std::to_string(net.left >= net.right ? net.left - i : net.left + i) +
                                 "]");
                if (net.constant >= 0) join(parent_.back(), constant(net.constant));
            }
        }
        return base;
    }

    std::uint32_t constant(int value) {
        auto& id = constant_[value];
        if (id == no_id) {
            id = static_cast<std::uint32_t>(parent_.size());
            parent_.push_back(id);
            names_.push_back(value ? "1'b1" : "1'b0");
        }
        return id;
    }

    std::uint32_t root(std::uint32_t a) {
        while (parent_[a] != a) a = parent_[a] = parent_[parent_[a]];
        return a;
    }
    void join(std::uint32_t a, std::uint32_t b) {
        a = root(a);
        b = root(b);
        if (a != b) parent_[std::max(a, b)] = std::min(a, b);
    }

    std::vector<std::uint32_t>& offsets(const Module& m) {
        if (&m == last_module_) return *last_offsets_;
        auto& list = offsets_[&m];
        last_module_ = &m;
        last_offsets_ = &list;
        if (list.empty() && !m.nets.empty()) {
            std::uint32_t at = 0;
            list.reserve(m.nets.size());
            for (const auto& net : m.nets) {
                list.push_back(at);
                at += static_cast<std::uint32_t>(net.width());
            }
        }
        return list;
    }

    /// The bits of an expression, highest first; no_id for x and z. A wire nobody declared is an error.
    bool bits(const Module& m, std::uint32_t base, const Expression& e, size_t offset,
              std::vector<std::uint32_t>& out) {
        out.clear();
        for (auto i = e.first; i < e.first + e.count; ++i) {
            const auto& s = m.slices[i];
            if (s.kind == Slice::constant) {
                for (const char c : m.constants[s.item])
                    out.push_back(c == '0' || c == '1' ? constant(c - '0') : no_id);
                continue;
            }
            if (s.kind == Slice::whole && m.declared[s.item] && !m.buses[s.item]) {
                out.push_back(base + offsets(m)[s.item]);
                continue;
            }
            const auto& net = m.nets[s.item];
            if (!m.declared[s.item]) {
                std::vector<std::string> names;
                for (size_t i = 0; i < m.nets.size(); ++i)
                    if (m.declared[i]) names.emplace_back(m.nets[i].name);
                fail(m, offset,
                     said("The wire '{}' is not declared in module {}.{}", net.name, m.name,
                          did_you_mean(net.name, names)));
                return false;
            }
            const std::uint32_t first = base + offsets(m)[s.item];
            int from = 0, to = net.width() - 1;
            if (s.kind == Slice::part) {
                from = net.vector ? net.offset(s.left) : -1;
                to = net.vector ? net.offset(s.right) : -1;
                if (from < 0 || to < 0 || from > to) {
                    fail(m, offset, said("'{}' has no such bits in the order of its declaration.", net.name));
                    return false;
                }
            }
            for (int k = from; k <= to; ++k) out.push_back(first + static_cast<std::uint32_t>(k));
        }
        return true;
    }

    struct Weight {
        double cells = 0, wires = 0;
    };
    /// What a module has with all that is in it. One that contains itself weighs nothing here; unfolding says so.
    Weight weight(const Module& m, size_t depth = 0) {
        if (const auto known = weights_.find(&m); known != weights_.end()) return known->second;
        weights_[&m] = {};
        Weight sum;
        for (const auto& net : m.nets) sum.wires += net.width();
        for (const auto& instance : m.instances) {
            const auto child = by_name_.find(instance.type);
            const Weight w = child == by_name_.end() ? Weight{1, 0}
                             : depth > deepest       ? Weight{}
                                                     : weight(modules_[child->second], depth + 1);
            sum.cells += w.cells;
            sum.wires += w.wires;
        }
        return weights_[&m] = sum;
    }
    bool too_large(const Module& top) {
        const auto w = weight(top);
        size_t ports = 0;
        for (const auto& net : top.nets) ports += net.is_port ? static_cast<size_t>(net.width()) : 0;
        if (w.cells > most_cells)
            fail(top, top.offset,
                 said("With all that is in it {} has more than 2.5 million cells; such a design is not read.",
                      top.name));
        else if (w.wires > most_wires)
            fail(
                top, top.offset,
                said("With all that is in it {} has more than 10 million wires; such a design is not read.", top.name));
        else if (ports > most_ports)
            fail(top, top.offset,
                 said("Module {} has more than 50,000 port bits; such a design is not read.", top.name));
        return !errors_.empty();
    }

    void unfold(const Module& top) {
        if (too_large(top)) return;
        std::deque<Job> jobs;
        jobs.push_back({&top, "", add_nets(top, ""), {}});
        while (!jobs.empty() && errors_.size() < most_errors) {
            const Job job = std::move(jobs.front());
            jobs.pop_front();
            names_once(*job.module);
            assigns(job);
            for (const auto& instance : job.module->instances) {
                if (errors_.size() >= most_errors) return;
                expect(*job.module, &instance - job.module->instances.data());
                const auto child = by_name_.find(instance.type);
                if (child == by_name_.end())
                    leaf(job, instance);
                else
                    nested(job, instance, modules_[child->second], jobs);
            }
        }
    }

    /// IEEE 1364-2005, 12.5: a name stands for one thing in its module. Names are compared where their hashes are
    /// equal.
    void names_once(const Module& m) {
        if (!named_.insert(&m).second) return;
        std::vector<std::pair<std::size_t, std::uint32_t>> hashes;
        hashes.reserve(m.instances.size());
        for (std::uint32_t i = 0; i < m.instances.size(); ++i)
            hashes.emplace_back(std::hash<std::string_view>{}(m.instances[i].name), i);
        std::sort(hashes.begin(), hashes.end());
        for (size_t i = 1; i < hashes.size() && errors_.size() < most_errors; ++i) {
            const auto &first = m.instances[hashes[i - 1].second], &again = m.instances[hashes[i].second];
            if (hashes[i - 1].first != hashes[i].first || first.name != again.name || first.name.empty()) continue;
            fail(m, again.offset,
                 said("Instance {} is there twice in module {}; give each a name of its own.", again.name, m.name));
        }
    }

    /// Asks memory for the wires of an instance that comes soon.
    void expect(const Module& m, std::ptrdiff_t now) {
        constexpr size_t ahead = 12;
        const size_t soon = static_cast<size_t>(now) + ahead;
        if (soon >= m.instances.size()) return;
        const auto& list = offsets(m);
        const auto& instance = m.instances[soon];
        for (auto c = instance.first_connection; c < instance.first_connection + std::min(instance.connections, 8u);
             ++c) {
            const auto& value = m.connections[c].value;
            if (value.count == 0 || m.slices[value.first].kind == Slice::constant) continue;
            __builtin_prefetch(&list[m.slices[value.first].item]);
        }
    }

    void assigns(const Job& job) {
        for (const auto& a : job.module->assigns) {
            if (errors_.size() >= most_errors) return;  // each compares all names
            auto &left = left_, &right = right_;
            if (!bits(*job.module, job.base, a.left, a.offset, left) ||
                !bits(*job.module, job.base, a.right, a.offset, right))
                continue;
            // IEEE 1364-2005, 6.1: the right side is cut or extended with zeros at its high end.
            while (right.size() < left.size()) right.insert(right.begin(), constant(0));
            right.erase(right.begin(), right.end() - static_cast<long>(left.size()));
            for (size_t i = 0; i < left.size(); ++i)
                if (left[i] != no_id && right[i] != no_id) join(left[i], right[i]);
        }
    }

    void nested(const Job& job, const Instance& instance, const Module& child, std::deque<Job>& jobs) {
        if (&child == job.module || std::find(job.above.begin(), job.above.end(), &child) != job.above.end() ||
            job.above.size() > deepest)
            return fail(*job.module, instance.offset,
                        said("Module {} contains itself; the hierarchy has no end.", child.name));
        const std::string name = job.prefix + std::string(instance.name);
        const auto base = add_nets(child, name + "/");
        for (std::uint32_t i = 0; i < instance.connections; ++i) {
            const auto& c = job.module->connections[instance.first_connection + i];
            if (errors_.size() >= most_errors) return;
            std::string_view port = c.pin == no_id ? std::string_view() : job.module->pin_names[c.pin];
            if (port.empty() && i < child.port_order.size()) port = child.port_order[i];
            const auto* net = child.net(port);
            if (!net || !net->is_port) {
                std::vector<std::string> names(child.port_order.begin(), child.port_order.end());
                fail(*job.module, instance.offset,
                     said("Module {} has no port '{}'.{}", child.name, port, did_you_mean(port, names)));
                continue;
            }
            if (c.open) continue;
            auto& outer = left_;
            if (!bits(*job.module, job.base, c.value, instance.offset, outer)) continue;
            const auto width = static_cast<size_t>(net->width());
            if (outer.size() != width) {
                fail(*job.module, instance.offset,
                     said("Port '{}' of {} is {} wide, it is given {}.", port, instance.name, counted(width, "bit"),
                          outer.size()));
                continue;
            }
            for (size_t k = 0; k < width; ++k)
                if (outer[k] != no_id)
                    join(outer[k], base + offsets(child)[static_cast<size_t>(net - child.nets.data())] +
                                       static_cast<std::uint32_t>(k));
        }
        Job next{&child, name + "/", base, job.above};
        next.above.push_back(job.module);
        jobs.push_back(std::move(next));
    }

    /// What a cell type needs again and again: its number, and the numbers of the pin names it was given.
    struct Leaf {
        const LibraryCell* cell = nullptr;
        std::uint32_t type = no_id;
        const Module* module = nullptr;  ///< whose numbers of pin names are meant
        std::vector<std::pair<std::uint32_t, std::uint32_t>>
            scalars;  ///< pins of one bit: number in the module, number in the netlist
    };

    std::uint32_t pin_name(const std::string& word) {
        const auto id = pin_names_.add(word);
        if (id == n_.pin_names.size()) n_.pin_names.push_back(word);
        return id;
    }

    Leaf* leaf_type(const Job& job, const Instance& instance) {
        if (instance.type == last_type_ && job.module == last_type_module_) return last_leaf_;
        auto& leaf = leaves_[instance.type];
        if (!leaf.cell) leaf.cell = library_.cell(std::string(instance.type));
        if (!leaf.cell) {
            std::vector<std::string> names;
            for (const auto& c : library_.cells) names.push_back(c.name);
            for (const auto& m : modules_) names.emplace_back(m.name);
            fail(*job.module, instance.offset,
                 said("The cell '{}' of instance {} is in no library and no source.{}", instance.type, instance.name,
                      did_you_mean(instance.type, names)));
            return nullptr;
        }
        if (leaf.module != job.module) {
            leaf.module = job.module;
            leaf.scalars.clear();
        }
        last_type_ = instance.type;
        last_type_module_ = job.module;
        return last_leaf_ = &leaf;
    }

    void leaf(const Job& job, const Instance& instance) {
        if (n_.cells.empty()) {  // a netlist is mostly one module
            n_.cells.reserve(job.module->instances.size());
            n_.cell_names.reserve(job.module->instances.size());
            cell_places_.reserve(job.module->instances.size());
            n_.pins.reserve(job.module->connections.size());
            n_.parameters.reserve(job.module->parameters.size());
        }
        auto* type = leaf_type(job, instance);
        if (!type) return;
        const auto* cell = type->cell;
        if (type->type == no_id) {
            type->type = static_cast<std::uint32_t>(n_.types.size());
            n_.types.push_back(cell->name);
        }
        const auto id = static_cast<std::uint32_t>(n_.cells.size());
        Netlist::Cell c;
        c.type = type->type;
        c.first_pin = static_cast<std::uint32_t>(n_.pins.size());
        for (std::uint32_t i = 0; i < instance.connections; ++i) {
            const auto& connection = job.module->connections[instance.first_connection + i];
            if (connection.pin == no_id && cell->guessed)
                return fail(*job.module, instance.offset,
                            said("Instance {} connects the pins of {} by order, and nothing says that order; name the "
                                 "pins, or give the cell's library or model.",
                                 instance.name, cell->name));
            if (connection.pin == no_id && i >= cell->pins.size())
                return fail(*job.module, instance.offset,
                            said("Cell {} has only {}.", cell->name, counted(cell->pins.size(), "pin")));
            if (connection.open || !bits(*job.module, job.base, connection.value, instance.offset, left_)) continue;
            if (!known_pin(*type, connection.pin, id))
                connect(job, instance, *type, id, connection.pin,
                        connection.pin == no_id ? std::string_view(cell->pins[i].name)
                                                : job.module->pin_names[connection.pin],
                        left_);
        }
        c.pin_count = static_cast<std::uint32_t>(n_.pins.size()) - c.first_pin;
        if (instance.parameters > 0) c.parameter = static_cast<std::uint32_t>(n_.parameters.size());
        for (auto p = instance.first_parameter; p < instance.first_parameter + instance.parameters; ++p)
            n_.parameters.push_back(
                {id, std::string(job.module->parameters[p].first), std::string(job.module->parameters[p].second)});
        n_.cells.push_back(c);
        n_.cell_names.emplace_back(job.prefix).append(instance.name);
        cell_places_.push_back({job.module->file, instance.offset});
    }

    /// A pin of one bit that this cell type had before, with the wire in `left_`.
    bool known_pin(const Leaf& type, std::uint32_t pin, std::uint32_t id) {
        if (left_.size() != 1) return false;
        for (const auto& [known, number] : type.scalars)
            if (known == pin && pin != no_id) {
                if (left_[0] != no_id) n_.pins.push_back({id, number, left_[0]});
                return true;
            }
        return false;
    }

    void connect(const Job& job, const Instance& instance, Leaf& type, std::uint32_t id, std::uint32_t written,
                 std::string_view pin, const std::vector<std::uint32_t>& nets) {
        const auto& cell = *type.cell;
        const std::string word(pin);
        const bool scalar = cell.pin(word) >= 0;
        const auto* bus = scalar ? nullptr : cell.bus(word);
        if (bus && bus->bits.size() != nets.size())
            return fail(*job.module, instance.offset,
                        said("Pin {} of {} is {} wide, it is given {}.", word, instance.name,
                             counted(bus->bits.size(), "bit"), nets.size()));
        for (size_t k = 0; k < nets.size(); ++k) {
            const bool plain = scalar || (nets.size() == 1 && cell.pin(word + "[0]") < 0);
            const std::string bit = bus     ? bus->bits[k]
                                    : plain ? word
                                            : word + "[" + std::to_string(nets.size() - 1 - k) + "]";
            if (cell.pin(bit) < 0 || (scalar && nets.size() != 1)) {
                std::vector<std::string> names;
                for (const auto& p : cell.pins) names.push_back(p.name);
                const std::string who(instance.name);
                return fail(*job.module, instance.offset,
                            scalar ? said("Pin {} of {} takes one wire, it is given {}.", word, who, nets.size())
                                   : said("Cell {} has no pin '{}'.{}", cell.name, bit, did_you_mean(bit, names)));
            }
            const auto number = pin_name(bit);
            if (scalar && written != no_id) type.scalars.emplace_back(written, number);
            if (nets[k] != no_id) n_.pins.push_back({id, number, nets[k]});
        }
    }

    void finish(const Module& top) {
        n_.top = std::string(top.name);
        for (const auto& s : sources_) n_.files.push_back(s.file);
        std::vector<std::uint32_t> compact(parent_.size(), no_id);
        const auto net_of = [&](std::uint32_t raw) {
            auto& id = compact[root(raw)];
            if (id == no_id) {
                id = static_cast<std::uint32_t>(n_.net_names.size());
                n_.net_names.push_back(std::move(names_[root(raw)]));
            }
            return id;
        };
        for (const auto port : top.port_order) {
            const auto* found = top.net(port);
            if (!found || !found->is_port) {
                fail(top, top.offset, said("Port '{}' of module {} has no direction.", port, n_.top));
                continue;
            }
            const auto& net = *found;
            for (int i = 0; i < net.width(); ++i) {
                const int index = net.vector ? (net.left >= net.right ? net.left - i : net.left + i) : -1;
                const auto raw =
                    offsets(top)[static_cast<size_t>(found - top.nets.data())] + static_cast<std::uint32_t>(i);
                n_.ports.push_back(
                    {net.vector ? std::string(port) + "[" + std::to_string(index) + "]" : std::string(port),
                     std::string(port), index, net.direction, net_of(raw)});
            }
        }
        constexpr size_t ahead = 24;
        for (size_t i = 0; i < n_.pins.size(); ++i) {
            if (i + 2 * ahead < n_.pins.size()) __builtin_prefetch(&parent_[n_.pins[i + 2 * ahead].net]);
            if (i + ahead < n_.pins.size()) __builtin_prefetch(&compact[parent_[n_.pins[i + ahead].net]]);
            n_.pins[i].net = net_of(n_.pins[i].net);
        }
        for (int v = 0; v < 2; ++v)
            if (constant_[v] != no_id) n_.constant_net[v] = net_of(constant_[v]);
        lines();
    }

    /// Lines of all instances in one pass over each text.
    void lines() {
        n_.cell_lines.resize(cell_places_.size());
        std::vector<std::uint32_t> order(cell_places_.size());
        for (std::uint32_t i = 0; i < order.size(); ++i) order[i] = i;
        const auto before = [&](auto a, auto b) { return cell_places_[a] < cell_places_[b]; };
        if (!std::is_sorted(order.begin(), order.end(), before)) std::sort(order.begin(), order.end(), before);
        int file = -1;
        size_t at = 0;
        std::uint32_t line = 1;
        for (const auto i : order) {
            const auto [f, offset] = cell_places_[i];
            if (f != file) {
                file = f;
                at = 0;
                line = 1;
            }
            const auto text = sources_[static_cast<size_t>(f)].text;
            line += static_cast<std::uint32_t>(
                std::count(text.begin() + static_cast<long>(at), text.begin() + static_cast<long>(offset), '\n'));
            at = offset;
            n_.cell_lines[i] = line;
        }
    }

    std::span<const SourceText> sources_;
    const std::vector<Module>& modules_;
    const Library& library_;
    std::unordered_map<std::string_view, size_t> by_name_;
    std::unordered_map<const Module*, std::vector<std::uint32_t>> offsets_;
    const Module* last_module_ = nullptr;
    std::vector<std::uint32_t>* last_offsets_ = nullptr;
    std::unordered_map<std::string_view, Leaf> leaves_;
    std::string_view last_type_;
    const Module* last_type_module_ = nullptr;
    Leaf* last_leaf_ = nullptr;
    NameTable pin_names_;
    std::unordered_map<const Module*, Weight> weights_;
    std::set<const Module*> named_;            ///< modules whose instance names have been compared
    std::vector<std::uint32_t> left_, right_;  ///< bits of the expressions at hand
    std::vector<std::uint32_t> parent_;
    std::vector<std::string> names_;
    std::vector<std::pair<int, size_t>> cell_places_;
    std::uint32_t constant_[2] = {no_id, no_id};
    std::vector<Message> errors_;
    Netlist n_;
};

}  // namespace

Result<Netlist> read_netlist(std::span<const SourceText> sources, const std::string& top, const Library& library) {
    return read_netlist(sources, top, library, {});
}

Result<Netlist> read_netlist(std::span<const SourceText> given, const std::string& top, const Library& library,
                             const CompleteLibrary& complete) {
    std::vector<SourceText> sources(given.begin(), given.end());
    for (auto& source : sources) source.text = without_mark(source.text);
    std::vector<Module> modules;
    std::vector<Message> errors;
    for (size_t i = 0; i < sources.size(); ++i) {
        auto more = parse_modules(sources[i].text, sources[i].file, static_cast<int>(i), modules);
        errors.insert(errors.end(), more.begin(), more.end());
    }
    std::set<std::string_view> seen;
    for (const auto& m : modules)
        if (!seen.insert(m.name).second && errors.size() < most_errors) {
            const auto& source = sources[static_cast<size_t>(m.file)];
            errors.push_back({Severity::stop, Code::netlist, said("Module {} is defined twice.", m.name), source.file,
                              place_of(source.text, m.offset).line});
        }
    if (!errors.empty()) return errors;
    std::vector<Message> notes;
    size_t aside = 0;
    constexpr size_t most_notes = 100;
    for (const auto& m : modules)
        if (m.set_aside && ++aside <= most_notes)
            notes.push_back(
                {Severity::note, Code::simulation_only,
                 said(
                     "Module {} has no ports and holds behavioural code; it is taken as simulation only and set aside.",
                     m.name),
                 sources[static_cast<size_t>(m.file)].file,
                 place_of(sources[static_cast<size_t>(m.file)].text, m.offset).line});
    if (aside > most_notes)
        notes.push_back(
            {Severity::note, Code::simulation_only,
             said("{} more modules without ports are taken as simulation only and set aside.", aside - most_notes),
             sources.empty() ? "" : sources[0].file});
    if (complete)
        if (const auto missing = missing_cells(modules, library); !missing.empty())
            if (auto status = complete(missing); !status) return status.messages();
    auto netlist = Elaborator(sources, modules, library).run(top);
    if (!netlist) return netlist;
    notes.insert(notes.end(), netlist.messages().begin(), netlist.messages().end());
    return Result<Netlist>(netlist.take(), std::move(notes));
}

}  // namespace kp
