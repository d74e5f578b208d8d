// SPDX-License-Identifier: GPL-3.0-or-later
// The netlist is parsed once; what its instances need and nobody has is then asked of the delay file, in one pass that
// keeps a line an arc and type. Directions that no path tells come from the wires in a second pass, which only happens
// when such pins are there.
#include "core/inputs/design.hpp"

#include "core/base/text.hpp"
#include "core/format/liberty/read.hpp"
#include "core/hdl/models/read.hpp"
#include "core/format/sdf/cells.hpp"
#include "core/hdl/verilog/read_netlist.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <map>
#include <set>

namespace kp {

namespace {

struct Texts {
    std::vector<std::string> texts;
    std::vector<SourceText> sources;
};

Result<Texts> read_all(Disk& disk, const std::vector<std::string>& paths) {
    Texts out;
    out.texts.reserve(paths.size());
    for (const auto& path : paths) {
        auto text = disk.read(path);
        if (!text) return text.messages();
        out.texts.push_back(text.take());
    }
    for (size_t i = 0; i < paths.size(); ++i) out.sources.push_back({paths[i], out.texts[i]});
    return out;
}

void add(std::vector<Message>& to, const std::vector<Message>& more) {
    to.insert(to.end(), more.begin(), more.end());
}

class DesignLoader {
public:
    DesignLoader(Disk& disk, const DesignFiles& files) : disk_(disk), files_(files) {}

    Result<Design> run() {
        auto library = load_libraries(disk_, files_.libraries);
        if (!library) return library.messages();
        add(notes_, library.messages());
        out_.library = library.take();
        for (const auto& [name, at] : out_.library.by_name) from_[name] = "liberty";  // former names too
        if (!files_.models.empty()) {
            auto models = load_models(disk_, files_.models);
            if (!models) return models.messages();
            add(notes_, models.messages());
            for (const auto& cell : models.value().cells) from_.try_emplace(cell.name, "model");
            if (out_.library.name.empty()) {
                out_.library.name = models.value().name;
                out_.library.file = models.value().file;
            }
            out_.library.merge(models.value());
        }
        if (files_.netlists.empty()) return Result<Design>(std::move(out_), std::move(notes_));
        auto texts = read_all(disk_, files_.netlists);
        if (!texts) return texts.messages();
        auto netlist = read_netlist(texts.value().sources, files_.top, out_.library,
                                    [this](const CellPins& missing) { return complete(missing); });
        if (!netlist) return netlist.messages();
        add(notes_, netlist.messages());
        out_.netlist = netlist.take();
        directions();
        origins();
        return Result<Design>(std::move(out_), std::move(notes_));
    }

private:
    Status complete(const CellPins& missing) {
        CellsFromDelays told(out_.library);
        if (files_.delays) {
            for (const auto& m : files_.delays(told))
                if (m.severity == Severity::stop) return m;
        }
        Library more;
        for (const auto& [type, pins] : missing) {
            auto cell = told.cell(type, pins);
            cell.guessed = true;
            if (cell.arcs.empty()) {
                from_[type] = "unknown";
            } else {
                from_[type] = "sdf";
                const bool senseless = std::any_of(cell.arcs.begin(), cell.arcs.end(), [](const LibraryArc& a) {
                    return a.kind == ArcKind::combinational;
                });
                if (senseless) senseless_.push_back(type);
            }
            const auto sure = [&](const LibraryPin& p) {
                return p.clock || p.direction != Direction::in ||
                       std::any_of(cell.arcs.begin(), cell.arcs.end(), [&](const LibraryArc& a) {
                           return cell.pins[a.from].name == p.name || cell.pins[a.to].name == p.name;
                       });
            };
            if (!std::all_of(cell.pins.begin(), cell.pins.end(), sure)) unsure_.insert(type);
            more.by_name.emplace(type, more.cells.size());
            more.cells.push_back(std::move(cell));
        }
        out_.library.merge(more);
        return Done{};
    }

    void directions() {
        if (unsure_.empty()) return;
        if (files_.delays) {
            DirectionsFromWires wires(out_.netlist, unsure_, out_.library);
            files_.delays(wires);
        }
        undriven_nets();
    }

    /// On a net that nothing else drives, the only pin of an unknown cell is what drives it.
    void undriven_nets() {
        const auto& n = out_.netlist;
        std::vector<std::uint32_t> open(n.net_names.size(), no_id);  // the one pin that may drive it
        std::vector<bool> settled(n.net_names.size(), false);
        for (const auto& port : n.ports)
            if (port.direction != Direction::out && port.net != no_id) settled[port.net] = true;
        for (const auto net : n.constant_net)
            if (net != no_id) settled[net] = true;
        const auto pin_of = [&](std::uint32_t pin) -> LibraryPin* {
            const auto at = out_.library.by_name.find(n.type_of(n.pins[pin].cell));
            if (at == out_.library.by_name.end()) return nullptr;
            auto& cell = out_.library.cells[at->second];
            const int found = cell.pin(n.pin_names[n.pins[pin].name]);
            return found < 0 ? nullptr : &cell.pins[static_cast<size_t>(found)];
        };
        for (std::uint32_t i = 0; i < n.pins.size(); ++i) {
            const auto net = n.pins[i].net;
            const auto* pin = net == no_id ? nullptr : pin_of(i);
            if (!pin || settled[net]) continue;
            if (pin->direction != Direction::in) {
                settled[net] = true;
            } else if (from_[n.type_of(n.pins[i].cell)] == "unknown" && !pin->clock) {
                settled[net] = open[net] != no_id;
                open[net] = i;
            }
        }
        for (size_t net = 0; net < open.size(); ++net)
            if (!settled[net] && open[net] != no_id) pin_of(open[net])->direction = Direction::out;
    }

    void origins() {
        std::map<std::string, size_t> count;
        std::vector<std::string> known;
        for (const auto& cell : out_.library.cells)
            if (const auto& from = from_[cell.name]; from == "liberty" || from == "model") known.push_back(cell.name);
        std::sort(known.begin(), known.end());
        for (std::uint32_t c = 0; c < out_.netlist.cells.size(); ++c) ++count[out_.netlist.type_of(c)];
        for (const auto& [type, instances] : count) {
            const auto& from = from_[type];
            out_.cells.push_back({type, instances, from});
            if (from == "unknown")
                notes_.push_back(
                    {Severity::caution, Code::unknown_cell,
                     said("Cell {} ({}) is in no library and no model, and the delay file has no path of it; it has no "
                          "arcs, and nothing is timed through it. Give its Liberty cell or its Verilog model.{}",
                          type, counted(instances, "instance"), did_you_mean(type, known)),
                     files_.netlists.front()});
        }
        for (const auto& type : senseless_)
            if (count.contains(type))
                notes_.push_back({Severity::note, Code::sense,
                                  said("Cell {} is known from the delay file only; each edge at its inputs is taken to "
                                       "make both edges at its outputs. Where a clock passes it, set_clock_sense "
                                       "-positive [get_pins INSTANCE/PIN] says which edge counts.",
                                       type),
                                  files_.netlists.front()});
    }

    Disk& disk_;
    const DesignFiles& files_;
    Design out_;
    std::map<std::string, std::string> from_;
    std::set<std::string> unsure_;
    std::vector<std::string> senseless_;
    std::vector<Message> notes_;
};

}  // namespace

Result<Library> load_libraries(Disk& disk, const std::vector<std::string>& paths) {
    Library all;
    std::vector<Message> notes;
    for (const auto& path : paths) {
        auto text = disk.read(path);
        if (!text) return text.messages();
        auto library = read_liberty(text.value(), path);
        if (!library) return library.messages();
        add(notes, library.messages());
        if (all.name.empty()) {
            all.name = library.value().name;
            all.file = path;
        }
        all.merge(library.value());
    }
    return Result<Library>(std::move(all), std::move(notes));
}

Result<Library> load_models(Disk& disk, const std::vector<std::string>& paths) {
    auto texts = read_all(disk, paths);
    if (!texts) return texts.messages();
    return read_models(texts.value().sources);
}

Result<Netlist> load_netlists(Disk& disk, const std::vector<std::string>& paths, const std::string& top,
                              const Library& library) {
    auto texts = read_all(disk, paths);
    if (!texts) return texts.messages();
    return read_netlist(texts.value().sources, top, library);
}

Result<Design> load_design(Disk& disk, const DesignFiles& files) {
    return DesignLoader(disk, files).run();
}

}  // namespace kp
