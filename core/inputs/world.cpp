// SPDX-License-Identifier: GPL-3.0-or-later
// Files in the order in which they need each other: part, board, modules, standards, cells, netlist, delays. The
// first that does not read ends it.
#include "core/inputs/world.hpp"

#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/format/json/json_text.hpp"
#include "core/format/json/world_json.hpp"
#include "core/format/sdf/read.hpp"
#include "core/model/by_hand.hpp"
#include "core/model/former_names.hpp"
#include "core/inputs/source_list.hpp"
#include "core/hdl/clocked.hpp"
#include "core/hdl/swapped.hpp"
#include "core/inputs/source_texts.hpp"
#include "core/base/said.hpp"

namespace kp {

Result<PortList> load_ports(Disk& disk, const std::vector<std::string>& paths, PortRequest request, const Reach* given,
                            const std::vector<std::string>& folders) {
    auto loaded = load_sources(disk, paths, given, folders);
    if (!loaded) return loaded.messages();
    const auto& texts = *loaded.value();
    if (!request.include) request.include = texts.include;
    auto ports = read_ports(texts.sources, request);
    // That a macro or a package is missing then is only what follows from it.
    if (*texts.outside) return **texts.outside;
    return ports;
}

namespace {

class WorldLoader {
public:
    WorldLoader(Disk& disk, const Project& project, std::string folder, std::string data, std::optional<Reach> reach)
        : disk_(disk),
          project_(project),
          folder_(std::move(folder)),
          data_(std::move(data)),
          world_(std::make_shared<World>()) {
        world_->reach = std::make_shared<const Reach>(reach ? std::move(*reach) : Reach(disk, folder_, {}));
    }

    Result<std::shared_ptr<const World>> run() {
        const bool good = part() && board() && modules() && standards() && design() && pin_report();
        if (!good) return errors_;
        return Result<std::shared_ptr<const World>>(std::shared_ptr<const World>(world_), world_->notes);
    }

private:
    /// Takes a result's value, or its messages as the errors of the whole.
    template <class T>
    bool take(Result<T> result, T& into) {
        if (!result) {
            errors_ = result.messages();
            return false;
        }
        world_->notes.insert(world_->notes.end(), result.messages().begin(), result.messages().end());
        into = result.take();
        return true;
    }

    std::string find(const std::string& path, const char* role, const std::string& below) {
        InputFile f{path, role, join_path(folder_, path), false, 0};
        if (!disk_.exists(f.full) && !below.empty() && disk_.exists(data_ + "/" + below + "/" + path)) {
            f.full = data_ + "/" + below + "/" + path;
            f.with_program = true;
        }
        f.stamp = disk_.stamp(f.full);
        world_->files.push_back(f);
        return f.full;
    }

    /// A part that is named by its file instead of an ordering code.
    bool part_file() {
        const auto path = find(project_.part, "part", "");
        if (auto why = world_->reach->refuse(path)) {
            errors_ = {std::move(*why)};
            return false;
        }
        std::string text;
        if (!take(disk_.read(path), text) || !take(read_part(text, path), world_->part)) return false;
        world_->code.complete = true;
        return true;
    }

    /// The part file whose code starts the ordering code; beside the project before the shipped ones.
    bool part() {
        if (project_.part.empty()) return true;
        if (project_.part.ends_with(".part.json")) return part_file();
        auto candidates = disk_.list(folder_, ".part.json");
        const auto shipped = disk_.list(data_ + "/parts", ".part.json");
        candidates.insert(candidates.end(), shipped.begin(), shipped.end());
        std::vector<std::string> codes;
        std::vector<Message> broken;
        for (const auto& path : candidates) {
            auto text = disk_.read(path);
            if (!text) continue;
            Part part;
            auto read = read_part(text.value(), path);
            if (!read) {
                if (folder_of(path) == folder_) {
                    errors_ = read.messages();
                    return false;
                }
                broken.push_back(read.first());
                continue;
            }
            part = read.take();
            codes.push_back(part.codes);
            if (!project_.part.starts_with(part.codes)) continue;
            world_->code = decode_ordering_code(part.ordering, project_.part);
            if (!world_->code.complete) {
                errors_ = {{Severity::stop, Code::part, world_->code.trouble}};
                return false;
            }
            world_->part = std::move(part);
            world_->files.push_back({file_name_of(path), "part", path, folder_of(path) != folder_, disk_.stamp(path)});
            return true;
        }
        if (!broken.empty()) {  // likely the one that was meant
            broken[0].text += said(" No other part file knows the ordering code '{}'.", project_.part);
            errors_ = {broken[0]};
            return false;
        }
        errors_ = {{Severity::stop, Code::part,
                    said("No part file knows the ordering code '{}'; known are codes that start with {}.{}",
                         project_.part, list_names(codes, 6), did_you_mean(project_.part, codes))}};
        return false;
    }

    bool board() {
        if (project_.board.empty()) {
            world_->board.width_mm = 100;
            world_->board.height_mm = 80;
            return true;
        }
        const auto path = find(project_.board + ".board.json", "board", "boards");
        std::string text;
        if (!take(disk_.read(path), text) || !take(read_board(text, path), world_->board)) return false;
        auto& fitted = world_->board.part;  // a user's board may have the former code of a made-up part
        if (const auto now = present_code(fitted); now.starts_with(world_->part.codes)) fitted = now;
        return true;
    }

    bool modules() {
        for (const auto& entry : project_.modules) {
            const auto at = entry.find('@');
            const auto path = find(entry.substr(0, at) + ".module.json", "module", "modules");
            std::string text;
            BoardModule module;
            if (!take(disk_.read(path), text) || !take(read_module(text, path), module)) return false;
            if (auto status = fit_module(world_->board, module, at == std::string::npos ? "" : entry.substr(at + 1));
                !status) {
                errors_ = status.messages();
                return false;
            }
        }
        order_terminals(world_->board, project_);
        world_->board.index();
        return true;
    }

    bool standards() {
        const auto path = data_ + "/standards/io.standards.json";
        std::string text;
        return take(disk_.read(path), text) && take(read_standards(text, path), world_->standards);
    }

    bool design() {
        DesignFiles files;
        std::vector<std::string> sources;
        for (const auto& path : project_.libraries) files.libraries.push_back(find(path, "cells", "cells"));
        for (const auto& path : project_.models) files.models.push_back(find(path, "models", "cells"));
        for (const auto& path : project_.netlists) files.netlists.push_back(find(path, "netlist", ""));
        if (!hdl(sources)) return false;
        scan(sources);
        files.top = project_.top;
        if (!project_.delays.empty() && !files.netlists.empty()) {
            const auto path = find(project_.delays, "delays", "");
            std::string text;
            DelayFile delays;
            if (!take(disk_.read(path), text) || !take(read_sdf(text, path), delays)) return false;
            world_->delays = std::move(delays);
        }
        if (!files.netlists.empty() && !corners()) return false;
        if (const auto* told = delays_to_tell_cells()) {
            files.delays = [told](DelaySink& sink) {
                for (size_t i = 0; i < told->size(); ++i) sink.take((*told)[i]);
                return std::vector<Message>();
            };
        }
        Design design;
        if (!take(load_design(disk_, files), design)) return false;
        world_->library = std::move(design.library);
        // Cells that come from models or delays are the same in every corner.
        for (auto& corner : world_->corners)
            if (corner.library) corner.library->merge(world_->library);
        world_->netlist = std::move(design.netlist);
        world_->cells = std::move(design.cells);
        world_->language = files.netlists.empty() ? "" : "netlist";
        if (files.netlists.empty() && !sources.empty() && !ports_only(sources)) return false;
        world_->index = std::make_unique<NetlistIndex>(world_->netlist);
        return true;
    }

    /// The delays that cells may be told from: those for all, else the first corner's.
    [[nodiscard]] const DelayFile* delays_to_tell_cells() const {
        if (world_->delays) return &*world_->delays;
        for (const auto& corner : world_->corners)
            if (corner.delays) return &*corner.delays;
        return nullptr;
    }

    bool corners() {
        std::vector<CornerSpec> specs;
        if (!take(parse_corners(project_.corners, {}), specs)) return false;
        for (auto& spec : specs) {
            ProjectCorner corner{std::move(spec), {}, {}};
            if (!corner.spec.library.empty()) {
                Library library;
                if (!take(load_libraries(disk_, {find(corner.spec.library, "cells", "cells")}), library)) return false;
                corner.library = std::move(library);
            }
            if (!corner.spec.sdf.empty()) {
                const auto path = find(corner.spec.sdf, "delays", "");
                std::string text;
                DelayFile delays;
                if (!take(disk_.read(path), text) || !take(read_sdf(text, path), delays)) return false;
                corner.delays = std::move(delays);
            }
            world_->corners.push_back(std::move(corner));
        }
        return true;
    }

    /// A report that is gone or cannot be read is told and left out: it is a result, not an input.
    bool pin_report() {
        if (project_.pin_report.empty()) return true;
        const auto path = find(project_.pin_report, "pin report", "");
        auto text = disk_.read(path);
        auto rows = text ? read_pin_report(text.value(), path) : Result<std::vector<PinReportRow>>(text.messages());
        if (rows)
            world_->obtained = rows.take();
        else
            world_->notes.push_back(
                {Severity::caution, Code::pin_report, rows.first().text, rows.first().file, rows.first().line});
        return true;
    }

    /// The sources, with patterns and lists replaced by what they stand for; what a list brings has to be allowed as
    /// what the project names.
    bool hdl(std::vector<std::string>& out) {
        SourceFiles expanded;
        if (!take(expand_sources(disk_, folder_, project_.sources), expanded)) return false;
        world_->notes.insert(world_->notes.end(), expanded.messages.begin(), expanded.messages.end());
        for (const auto& path : expanded.lists) find(path, "list", "");
        if (auto why = brought_from_outside(disk_, folder_, project_.sources, expanded, *world_->reach)) {
            errors_ = {*why};
            return false;
        }
        for (const auto& path : expanded.files) out.push_back(find(path, "source", ""));
        list_defines_ = expanded.defines;
        for (const auto& folder : expanded.folders) include_folders_.push_back(join_path(folder_, folder));
        return true;
    }

    /// What the texts of the sources say without being understood.
    void scan(const std::vector<std::string>& sources) {
        if (sources.empty()) return;
        const auto texts = load_sources(disk_, sources, world_->reach.get(), include_folders_);
        if (!texts) return;  // who needs them says what is wrong
        world_->swapped = swapped_names(texts.value()->sources);
        if (project_.netlists.empty()) clocked_ = clocked_names(texts.value()->sources);
    }

    /// A design of which only the header is known: ports, each with a net, and no cells.
    bool ports_only(const std::vector<std::string>& sources) {
        PortRequest request;
        request.top = project_.top;
        request.defines = project_.defines;
        request.defines.insert(list_defines_.begin(), list_defines_.end());
        for (const auto& [name, value] : project_.parameters) request.parameters[name] = to_integer(value).value_or(0);
        PortList list;
        if (!take(load_ports(disk_, sources, request, world_->reach.get(), include_folders_), list)) return false;
        auto& n = world_->netlist;
        n.top = list.top;
        n.files = sources;
        n.ports = port_bits(list);
        for (auto& port : n.ports) {
            port.net = static_cast<std::uint32_t>(n.net_names.size());
            n.net_names.push_back(port.name);
        }
        world_->language = list.language;
        for (const auto& port : n.ports)
            if (port.direction == Direction::in &&
                (clocked_.contains(port.name) || (list.language == "vhdl" && clocked_.contains(lower(port.name)))))
                world_->clocked.insert(port.name);
        return true;
    }

    Disk& disk_;
    const Project& project_;
    std::set<std::string> clocked_;  ///< names that clock something in the sources, while there is no netlist
    std::string folder_, data_;
    std::shared_ptr<World> world_;
    std::vector<Message> errors_;
    std::map<std::string, std::string> list_defines_;
    std::vector<std::string> include_folders_;
};

}  // namespace

Result<std::shared_ptr<const World>> load_world(Disk& disk, const Project& project, const std::string& folder,
                                                const std::string& data, std::optional<Reach> reach) {
    return WorldLoader(disk, project, folder, data, std::move(reach)).run();
}

std::vector<Message> still_missing(const Project& p) {
    std::vector<Message> out;
    const auto say = [&](Severity severity, Code code, const char* text) {
        out.push_back({severity, code, text, "", 0, 0});
    };
    if (p.part.empty())
        say(Severity::caution, Code::no_part, "No part is chosen yet: type what stands on the chip, or take a board.");
    if (p.board.empty())
        say(Severity::note, Code::no_board, "No board is chosen yet: take one, or make one from a table.");
    if (p.netlists.empty() && p.sources.empty())
        say(Severity::caution, Code::no_design,
            "There is no design yet: copy in or link its HDL; the header is enough to plan pins.");
    else if (p.netlists.empty())
        say(Severity::note, Code::no_netlist,
            "Only the ports of the design are known; paths are timed when a netlist and its delays are there.");
    return out;
}

}  // namespace kp
