// SPDX-License-Identifier: GPL-3.0-or-later
// Everything is checked before anything is written; a file that is there already is never written over.
#include "core/inputs/new_project.hpp"

#include "core/base/bytes.hpp"
#include "core/base/names.hpp"
#include "core/base/text.hpp"
#include "core/hdl/verilog/headers.hpp"
#include "core/hdl/vhdl/headers.hpp"
#include "core/format/json/project_json.hpp"
#include "core/format/json/world_json.hpp"
#include "core/inputs/world.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <filesystem>
#include <utility>

namespace kp {

namespace {

std::string without(const std::string& path, const std::string& ending) {
    const auto name = file_name_of(path);
    return name.substr(0, name.size() - ending.size());
}

Message stop(const std::string& text, const std::string& file = "") {
    return {Severity::stop, Code::new_project, text, file};
}
Message caution(const std::string& text, const std::string& file = "") {
    return {Severity::caution, Code::new_project, text, file};
}
/// With a name that would be better.
Message caution(const std::string& text, Subject better) {
    return {Severity::caution, Code::new_project, text, "", 0, 0, {std::move(better)}};
}

/// A structural netlist has instances of cells; ports alone are planned from anything else.
bool is_netlist(Disk& disk, const std::string& path, const Library& library) {
    if (!path.ends_with(".v") || library.cells.empty()) return false;
    const auto netlist = load_netlists(disk, {path}, "", library);
    // A header without a cell is ports and no netlist; which of several modules is meant is another question.
    return netlist ? !netlist.value().cells.empty() : netlist.first().code == Code::top;
}

/// Models of cells say delays or tables; a design has neither.
bool is_models(Disk& disk, const std::string& path) {
    if (!path.ends_with(".v") && !path.ends_with(".sv")) return false;
    const auto text = disk.read(path);
    if (!text) return false;
    const auto& t = text.value();
    if (t.find("endspecify") == std::string::npos && t.find("endprimitive") == std::string::npos) return false;
    const auto models = load_models(disk, {path});
    return models && !models.value().cells.empty();
}

}  // namespace

std::vector<std::string> Catalogue::codes() const {
    std::vector<std::string> out;
    for (const auto& p : parts)
        for (auto& code : ordering_codes(p.ordering, p.codes)) out.push_back(std::move(code));
    std::sort(out.begin(), out.end(), natural_less);
    out.erase(std::unique(out.begin(), out.end()), out.end());
    return out;
}

const Part* Catalogue::part_of(const std::string& code) const {
    for (const auto& p : parts)
        if (code.starts_with(p.codes)) return &p;
    return nullptr;
}

Catalogue read_catalogue(Disk& disk, const std::string& folder, const std::string& data) {
    Catalogue out;
    const auto both = [&](const std::string& below, const std::string& ending) {
        auto list = folder.empty() ? std::vector<std::string>{} : disk.list(folder, ending);
        const auto shipped = disk.list(data + "/" + below, ending);
        list.insert(list.end(), shipped.begin(), shipped.end());
        return list;
    };
    for (const auto& path : both("parts", ".part.json"))
        if (auto text = disk.read(path); text)
            if (auto part = read_part(text.value(), path); part) out.parts.push_back(part.take());
    for (const auto& path : both("boards", ".board.json"))
        if (auto text = disk.read(path); text)
            if (auto board = read_board(text.value(), path); board)
                out.boards.push_back({without(path, ".board.json"), board.value().name, board.value().part});
    for (const auto& path : both("modules", ".module.json")) out.modules.push_back(without(path, ".module.json"));
    out.libraries = disk.list(data + "/cells", ".lib");
    return out;
}

std::vector<Message> check(Disk& disk, const NewProject& w, const Catalogue& catalogue) {
    std::vector<Message> out;
    if (w.folder.empty()) out.push_back(stop("Say in which folder the project shall be."));
    if (w.name.empty())
        out.push_back(stop("Give the project a name."));
    else if (w.name.find('/') != std::string::npos || w.name.find('\0') != std::string::npos)
        out.push_back(stop("The name is that of a file; it has no '/'."));
    else if (!is_utf8(w.name) || std::any_of(w.name.begin(), w.name.end(), [](unsigned char c) { return c < 32; }))
        out.push_back(stop("The name has bytes that are not text (UTF-8), or a line end; take another name."));
    else if (const auto why = name_trouble(w.name))
        out.push_back(
            caution(said("The name '{}' makes trouble elsewhere: {}. Better: {}.", w.name, *why, portable_name(w.name)),
                    {Subject::called, w.name, portable_name(w.name)}));
    if (!w.folder.empty())
        if (const auto why = path_trouble(w.folder))
            out.push_back(caution(
                said("The folder makes trouble for other tools: {}. Better: {}.", *why, portable_path(w.folder)),
                {Subject::folder, w.folder, portable_path(w.folder)}));
    if (!w.folder.empty() && !w.name.empty() && disk.exists(join_path(w.folder, w.name + ".kpeg")))
        out.push_back(
            stop(said("There is a project {}.kpeg in this folder already; open it, or take another name.", w.name)));
    const auto board = std::find_if(catalogue.boards.begin(), catalogue.boards.end(),
                                    [&](const auto& b) { return b.file == w.board; });
    std::vector<std::string> boards;
    for (const auto& b : catalogue.boards) boards.push_back(b.file);
    if (!w.board.empty() && board == catalogue.boards.end())
        out.push_back(stop(said("There is no board '{}'.{}", w.board, did_you_mean(w.board, boards))));
    if (!w.part.empty()) {
        const auto* part = catalogue.part_of(w.part);
        const auto decoded = part ? decode_ordering_code(part->ordering, w.part) : DecodedCode{};
        // A part file can be made in an open project only, so an unknown code holds nothing up.
        if (!part)
            out.push_back(
                caution(said("No part file knows the ordering code '{}'.{} The project starts without a part; make it "
                             "from its pin list or BSDL (Site, or kpeg part).",
                             w.part, did_you_mean(w.part, catalogue.codes()))));
        else if (!decoded.complete)
            out.push_back(stop(decoded.trouble));
        else if (board != catalogue.boards.end() && board->part != w.part)
            out.push_back(caution(said("The board {} carries {}, not {}.", board->name, board->part, w.part)));
    }
    std::vector<std::string> names;
    for (const auto& source : w.sources) {
        if (!disk.exists(source)) out.push_back(stop("is not there.", source));
        if (const auto why = path_trouble(file_name_of(source)))
            out.push_back(caution(said("The file name makes trouble for other tools: {}. Better: {}.", *why,
                                       portable_path(file_name_of(source))),
                                  source));
        if (w.copy && std::find(names.begin(), names.end(), file_name_of(source)) != names.end())
            out.push_back(stop("Two files of this name cannot both be copied in; link them, or rename one.", source));
        names.push_back(file_name_of(source));
    }
    return out;
}

std::vector<std::string> module_names(Disk& disk, const std::vector<std::string>& paths) {
    std::vector<std::string> out;
    std::vector<std::string> texts;
    for (const auto& path : paths)
        if (auto text = disk.read(path, size_t{64} << 20))
            texts.push_back(text.take());
        else
            texts.emplace_back();
    std::vector<SourceText> verilog, vhdl;
    for (size_t i = 0; i < paths.size(); ++i)
        (is_vhdl({paths[i], texts[i]}) ? vhdl : verilog).push_back({paths[i], texts[i]});
    hdl::Headers read;
    hdl::read_verilog_headers(verilog, {}, read);
    hdl::read_vhdl_headers(vhdl, {}, read);
    for (const auto& h : read.all)
        if (h.has_ports) out.push_back(h.name);
    return out;
}

std::string path_from(const std::string& folder, const std::string& file) {
    std::error_code error;
    const auto base = std::filesystem::weakly_canonical(folder.empty() ? "." : folder, error);
    if (error) return file;
    const auto full = std::filesystem::weakly_canonical(file, error);
    if (error) return file;
    const auto relative = full.lexically_relative(base);
    return relative.empty() ? full.string() : relative.string();
}

Result<std::string> take_in(Disk& disk, const std::string& folder, const std::string& file, bool copy) {
    if (!copy) return path_from(folder, file);
    const auto name = file_name_of(file), to = join_path(folder, name);
    if (path_from(folder, file) == name) return name;  // it lies there already
    auto text = disk.read(file, size_t{1} << 30);
    if (!text) return text.messages();
    if (disk.exists(to)) {
        auto there = disk.read(to, size_t{1} << 30);
        if (there && there.value() == text.value()) return name;
        return stop(
            "There is another file of this name in the project's folder; rename one, or link instead of copying.", to);
    }
    if (auto status = save_whole(disk, to, text.value()); !status) return status.messages();
    return name;
}

Result<PortList> ports_of(Disk& disk, const NewProject& wanted) {
    std::vector<std::string> hdl;
    for (const auto& file : wanted.sources)
        if (!file.ends_with(".lib") && !file.ends_with(".sdf") && !file.ends_with(".sdc")) hdl.push_back(file);
    std::erase_if(hdl, [&](const std::string& file) { return is_models(disk, file); });
    const auto is_net = [&](const std::string& file) { return wanted.netlists.contains(file); };
    if (!std::all_of(hdl.begin(), hdl.end(), is_net)) std::erase_if(hdl, is_net);  // the HDL says the ports
    if (hdl.empty()) return PortList{};
    return load_ports(disk, hdl, PortRequest{wanted.top, {}, {}, {}});
}

namespace {

bool defines_clocks(Disk& disk, const std::string& path) {
    const auto text = disk.read(path, size_t{16} << 20);
    return text && (text.value().find("create_clock") != std::string::npos ||
                    text.value().find("create_generated_clock") != std::string::npos);
}

/// Copies that were made by a step that is refused in the end do not stay.
class Copies {
public:
    explicit Copies(Disk& disk) : disk_(disk) {}
    ~Copies() {
        for (const auto& path : made_) static_cast<void>(disk_.remove(path));
    }
    Result<std::string> take(const std::string& folder, const std::string& file, bool copy) {
        const auto to = join_path(folder, file_name_of(file));
        const bool fresh = copy && !disk_.exists(to);
        auto path = take_in(disk_, folder, file, copy);
        if (path && fresh) made_.push_back(to);
        return path;
    }
    std::vector<std::string> keep() { return std::exchange(made_, {}); }

private:
    Disk& disk_;
    std::vector<std::string> made_;
};

}  // namespace

Result<Edit> add_files(Disk& disk, const Project& project, const std::string& folder,
                       const std::vector<std::string>& files, bool copy, Library cells,
                       std::vector<std::string>* copied, const std::set<std::string>& netlists) {
    Edit edit{files.size() == 1 ? "add " + file_name_of(files[0]) : "add files", {}};
    Project next = project;
    std::vector<std::string> paths;
    std::set<std::string> known;
    Copies copies(disk);
    for (const auto& file : files) {
        auto path = copies.take(folder, file, copy);
        if (!path) return path.messages();
        if (netlists.contains(file)) known.insert(path.value());
        paths.push_back(path.take());
    }
    // Cells first: whether a .v is a netlist depends on them.
    std::stable_partition(paths.begin(), paths.end(), [](const std::string& p) { return p.ends_with(".lib"); });
    // Of constraint files those that define clocks come before those that speak of them.
    std::stable_partition(paths.begin(), paths.end(), [&](const std::string& p) {
        return !p.ends_with(".sdc") || defines_clocks(disk, join_path(folder, p));
    });
    for (const auto& path : paths) {
        const auto full = join_path(folder, path);
        std::vector<Change> one;
        const auto add_to = [&](const char* field) {
            auto list = list_of(field_text(next, field));
            if (std::find(list.begin(), list.end(), path) != list.end()) return;
            list.push_back(path);
            one.push_back(set_field(next, field, lines_of(list)));
        };
        if (path.ends_with(".lib")) {
            auto library = load_libraries(disk, {full});
            if (!library) return library.messages();
            cells.merge(library.value());
            add_to("libraries");
        } else if (path.ends_with(".sdf")) {
            if (next.delays != path) one.push_back(set_field(next, "delays", path));
        } else if (path.ends_with(".sdc")) {
            auto text = disk.read(full, size_t{16} << 20);
            if (!text) return text.messages();
            one.push_back(
                SdcFileChange{std::nullopt, SdcFile{path, text.take(), true, true, true, next.constraints.empty()}});
        } else if (known.contains(path)) {
            add_to("netlists");
        } else if (is_models(disk, full)) {
            add_to("models");
        } else {
            add_to(is_netlist(disk, full, cells) ? "netlists" : "sources");
        }
        if (auto status = kp::apply(next, Edit{"", one}); !status) return status.messages();
        edit.changes.insert(edit.changes.end(), one.begin(), one.end());
    }
    const auto kept = copies.keep();
    if (copied) copied->insert(copied->end(), kept.begin(), kept.end());
    return edit;
}

namespace {

/// The shipped library whose cells a netlist among the sources is made of, when they bring none themselves.
std::optional<std::pair<std::string, Library>> shipped_library(Disk& disk, const NewProject& w,
                                                               const Catalogue& catalogue) {
    if (std::any_of(w.sources.begin(), w.sources.end(), [](const std::string& f) { return f.ends_with(".lib"); }))
        return std::nullopt;
    for (const auto& path : catalogue.libraries) {
        auto library = load_libraries(disk, {path});
        if (!library) continue;
        for (const auto& source : w.sources)
            if (is_netlist(disk, source, library.value())) return std::pair{file_name_of(path), library.take()};
    }
    return std::nullopt;
}

}  // namespace

Result<std::string> create_project(Disk& disk, const NewProject& w, const Catalogue& catalogue) {
    for (const auto& m : check(disk, w, catalogue))
        if (m.severity == Severity::stop) return m;
    // A project that could not be opened again would be of no use.
    if (auto ports = ports_of(disk, w); !ports) return ports.messages();
    if (auto status = disk.make_folder(w.folder); !status) return status.messages();
    ProjectFile file;
    auto& p = file.project;
    p.name = w.name;
    p.board = w.board;
    p.part = catalogue.part_of(w.part) ? w.part : std::string();
    p.top = w.top;
    for (const auto& b : catalogue.boards)
        if (b.file == w.board && p.part.empty()) p.part = b.part;
    Library cells;
    if (auto shipped = shipped_library(disk, w, catalogue)) {
        p.libraries = {shipped->first};
        cells = std::move(shipped->second);
    }
    auto files = add_files(disk, p, w.folder, w.sources, w.copy, std::move(cells), nullptr, w.netlists);
    if (!files) return files.messages();
    if (auto status = kp::apply(p, files.value()); !status) return status.messages();
    if (p.constraints.empty()) {
        const auto sdc = w.name + ".sdc";
        if (!disk.exists(join_path(w.folder, sdc)))
            if (auto status = save_whole(disk, join_path(w.folder, sdc), said("# {}: clocks and delays\n", w.name));
                !status)
                return status.messages();
        p.constraints.push_back({sdc, "", true, true, true, true});
    }
    const auto path = join_path(w.folder, w.name + ".kpeg");
    if (auto status = save_whole(disk, path, write_project(file)); !status) return status.messages();
    return path;
}

}  // namespace kp
