// SPDX-License-Identifier: GPL-3.0-or-later
// Content decides, the ending of a name only where content says nothing. Which .v is a netlist can be told when all are
// seen: its instances are of cells that no file of the folder describes. The order is that of a depth-first walk over
// what files need of each other (packages, then modules), files by name where nothing else decides.
#include "core/inputs/folder.hpp"

#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/hdl/outline.hpp"
#include "core/hdl/read_ports.hpp"
#include "core/format/table/grid.hpp"
#include "core/inputs/source_list.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <functional>
#include <set>

namespace kp {

namespace {

constexpr size_t largest_read = size_t{64} << 20, head_size = size_t{1} << 16;

bool ends(const std::string& path, std::initializer_list<const char*> endings) {
    const auto low = lower(path);
    return std::any_of(endings.begin(), endings.end(), [&](const char* e) { return low.ends_with(e); });
}

bool binary(std::string_view text) {
    return text.substr(0, 4096).find('\0') != std::string_view::npos;
}

/// The first word of a text behind blanks and comments of the C kind.
std::string_view first_word(std::string_view text) {
    size_t at = 0;
    for (;;) {
        while (at < text.size() && std::isspace(static_cast<unsigned char>(text[at]))) ++at;
        if (text.substr(at).starts_with("/*"))
            at = std::min(text.find("*/", at), text.size() - 2) + 2;
        else if (text.substr(at).starts_with("//"))
            at = std::min(text.find('\n', at), text.size());
        else
            break;
    }
    size_t end = at;
    while (end < text.size() && !std::isspace(static_cast<unsigned char>(text[end])) && text[end] != '(') ++end;
    return text.substr(at, std::max(end - at, size_t{text.substr(at).starts_with("(") ? 1u : 0u}));
}

/// The command of SDC that a text is made of; empty when none begins a line.
std::string sdc_command(std::string_view text) {
    static const std::set<std::string_view> commands{
        "create_clock",      "create_generated_clock", "set_input_delay",   "set_output_delay", "set_false_path",
        "set_clock_groups",  "set_multicycle_path",    "set_max_delay",     "set_min_delay",    "set_clock_uncertainty",
        "set_clock_latency", "set_case_analysis",      "set_disable_timing"};
    for (const auto line : split(text, '\n')) {
        const auto plain = trim(line);
        const auto word = plain.substr(0, plain.find_first_of(" \t"));
        if (commands.contains(word)) return std::string(word);
    }
    return {};
}

/// The heading that makes a table one of pins; empty for other tables.
std::string pin_heading(std::string_view text, const std::string& path) {
    if (!ends(path, {".csv", ".tsv", ".txt"})) return {};
    const auto grid = table::read_grid(text.substr(0, head_size), path);
    if (!grid || grid.value().header.size() < 2) return {};
    bool place = false, signal = false;
    std::string found;
    for (const auto& heading : grid.value().header) {
        const auto low = lower(heading);
        const auto has = [&](const char* word) { return low.find(word) != std::string::npos; };
        if (has("pin") || has("pad") || has("ball") || has("location")) {
            place = true;
            if (found.empty()) found = heading;
        }
        signal |= has("port") || has("signal") || has("net") || has("name") || has("function") || has("bank");
    }
    return place && signal ? found : std::string();
}

class Looker {
public:
    Looker(Disk& disk, std::string folder, const std::stop_token& stop)
        : disk_(disk), folder_(std::move(folder)), stop_(stop) {}

    Result<FolderView> run() {
        if (disk_.kind(folder_) != FileKind::folder)
            return Message{Severity::stop, Code::folder, "This is not a folder that can be looked at.", folder_};
        auto paths = files_below(disk_, folder_);
        if (!paths) return paths.messages();
        out_.messages = paths.messages();
        paths_ = paths.take();
        for (const auto& path : paths_) {
            if (stop_.stop_requested()) return Message{Severity::stop, Code::cancelled, "Cancelled.", folder_};
            look(path);
        }
        headers();
        judge_verilog();
        tree();
        order();
        return std::move(out_);
    }

private:
    struct Text {
        std::string path;
        TextOutline outline;
        std::string role;
    };

    void add(const std::string& path, std::string role, std::string why) {
        out_.files.push_back({path, std::move(role), std::move(why)});
    }

    void look(const std::string& path) {
        if (ends(path, {".kpeg.log", ".kpeg.lock", ".kpeg.bak", ".kpeg.journal"}))
            return add(path, "other", "kept by this program beside a project");
        const auto full = join_path(folder_, path);
        auto read = disk_.read(full, largest_read);
        if (!read) return add(path, "other", "cannot be read: " + read.first().text);
        const std::string_view text = without_mark(read.value());
        if (binary(text)) return add(path, "other", "holds bytes that are not text");
        const auto head = text.substr(0, head_size);
        const auto word = first_word(head);
        if (ends(path, {".json", ".kpeg"})) return look_json(path, head);
        if (ends(path, {".bsd", ".bsdl"}) || (is_entity(head) && head.find("PIN_MAP_STRING") != std::string_view::npos))
            return add(path, "part", "a boundary-scan description (BSDL)");
        if (word == "library" && (ends(path, {".lib"}) || head.find("cell (") != std::string_view::npos ||
                                  head.find("cell(") != std::string_view::npos))
            if (!ends(path, {".vhd", ".vhdl"})) return add(path, "cells", "a Liberty library");
        if (head.substr(0, 4096).find("(DELAYFILE") != std::string_view::npos ||
            lower(head.substr(0, 4096)).find("(delayfile") != std::string::npos)
            return add(path, "delays", "begins with DELAYFILE");
        if (ends(path, {".v", ".sv", ".vh", ".svh", ".vhd", ".vhdl"})) return look_hdl(path, text);
        if (ends(path, {".f"})) return add(path, "other", "a list of files");
        if (const auto command = sdc_command(text); !command.empty())
            return add(path, "constraints", "holds " + command);
        if (ends(path, {".sdc"})) return add(path, "constraints", "by its name; no command is in it yet");
        if (const auto heading = pin_heading(text, path); !heading.empty())
            return add(path, "table", said("has the column '{}'", heading));
        if (ends(path, {".inc", ".h"}) && head.find("module") != std::string_view::npos) return look_hdl(path, text);
        add(path, "other", "nothing in it says what it is for");
    }

    static bool is_entity(std::string_view head) { return lower(head).find("entity ") != std::string::npos; }

    void look_json(const std::string& path, std::string_view head) {
        const auto at = head.find("\"kitepeg.");
        if (at == std::string_view::npos) return add(path, "other", "no file of this program");
        const auto kind = head.substr(at + 9, head.find_first_of("/\"", at + 9) - at - 9);
        if (kind == "part") return add(path, "part", "a part file");
        if (kind == "board") return add(path, "board", "a board file");
        add(path, "other", kind == "project" ? "a project of this program" : "a file of this program");
    }

    void look_hdl(const std::string& path, std::string_view text) {
        Text t{path, outline_of({path, text}), ""};
        at_[path] = texts_.size();
        file_at_[path] = out_.files.size();
        texts_.push_back(std::move(t));
        add(path, "hdl", "");
    }

    void set(const std::string& path, std::string role, std::string why) {
        auto& f = out_.files[file_at_.at(path)];
        f.role = role;
        f.why = std::move(why);
        texts_[at_.at(path)].role = std::move(role);
    }

    /// Files that others include.
    void headers() {
        std::map<std::string, std::vector<const Text*>> by_name;
        for (const auto& t : texts_) by_name[file_name_of(t.path)].push_back(&t);
        for (const auto& t : texts_)
            for (const auto& name : t.outline.includes)
                for (const auto* other : by_name[file_name_of(name)])
                    if (other->path == name || other->path.ends_with("/" + name))
                        included_.try_emplace(other->path, t.path);
    }

    void judge_verilog() {
        std::map<std::string, const ModuleOutline*> designs;  // with code of their own
        std::set<std::string> cells;
        for (const auto& t : texts_)
            for (const auto& m : t.outline.modules) {
                if (m.cell) cells.insert(m.name);
                if (!m.cell) designs.try_emplace(m.name, &m);
            }
        for (auto& t : texts_) {
            const auto& modules = t.outline.modules;
            if (const auto by = included_.find(t.path); by != included_.end()) {
                set(t.path, "hdl", "is included by " + by->second);
                continue;
            }
            if (modules.empty() && t.outline.primitives) {
                set(t.path, "models", "user-defined primitives");
                continue;
            }
            if (modules.empty()) {
                set(t.path, "hdl", t.outline.packages.empty() ? "no module in it" : "package " + t.outline.packages[0]);
                continue;
            }
            const auto all = [&](auto what) { return std::all_of(modules.begin(), modules.end(), what); };
            if (all([](const auto& m) { return m.cell; })) {
                set(t.path, "models", "cells with specify blocks, such as " + modules[0].name);
            } else if (all([](const auto& m) { return !m.only_simulated.empty(); })) {
                set(t.path, "bench", modules[0].name + " " + modules[0].only_simulated);
            } else if (const auto cell = cell_of_netlist(t, designs); !cell.empty()) {
                set(t.path, "netlist", "only instances, of cells such as " + cell);
            } else {
                set(t.path, "hdl", (t.outline.vhdl ? "entity " : "module ") + modules[0].name);
            }
        }
        take_wrappers();
        for (const auto& cell : cells) models_.insert(cell);
    }

    /// What looks like a netlist and is the only one to have a module that the design instantiates is a wrapper of a
    /// cell, and belongs to the sources.
    void take_wrappers() {
        for (bool more = true; more;) {
            more = false;
            std::set<std::string> wanted, had;
            for (const auto& t : texts_) {
                if (t.role != "hdl") continue;
                for (const auto& m : t.outline.modules) {
                    had.insert(m.name);
                    for (const auto& [type, count] : m.instances) wanted.insert(type);
                }
            }
            for (auto& t : texts_) {
                if (t.role != "netlist") continue;
                const auto wrapper =
                    std::find_if(t.outline.modules.begin(), t.outline.modules.end(),
                                 [&](const auto& m) { return wanted.contains(m.name) && !had.contains(m.name); });
                if (wrapper == t.outline.modules.end()) continue;
                set(t.path, "hdl", said("module {}, a wrapper of a cell", wrapper->name));
                more = true;
            }
        }
    }

    /// A cell that the text instantiates and no design of the folder has, when the text holds nothing but instances.
    static std::string cell_of_netlist(const Text& t, const std::map<std::string, const ModuleOutline*>& designs) {
        std::string cell;
        size_t of_cells = 0, of_designs = 0;
        for (const auto& m : t.outline.modules) {
            if (m.behaviour || t.outline.vhdl) return {};
            for (const auto& [type, count] : m.instances) {
                const bool design = designs.contains(type);
                (design ? of_designs : of_cells) += static_cast<size_t>(count);
                if (!design && cell.empty()) cell = type;
            }
        }
        // Some hand-written tops place a pad or a PLL beside the modules of the design.
        return of_cells > of_designs ? cell : std::string();
    }

    void tree() {
        std::map<std::string, size_t> at;
        for (const auto& t : texts_) {
            if (t.role != "hdl" && t.role != "bench") continue;
            for (const auto& m : t.outline.modules) {
                if (!at.try_emplace(m.name, out_.hierarchy.size()).second) {
                    out_.messages.push_back({Severity::caution, Code::folder,
                                             said("Module {} is declared a second time; {} has the other one.", m.name,
                                                  out_.hierarchy[at[m.name]].file),
                                             t.path, m.line});
                    continue;
                }
                out_.hierarchy.push_back({m.name, t.path, m.instances, m.only_simulated});
            }
        }
        std::sort(out_.hierarchy.begin(), out_.hierarchy.end(),
                  [](const auto& a, const auto& b) { return a.module < b.module; });
        find_top();
    }

    void find_top() {
        std::map<std::string, const FolderModule*> by_name;
        for (const auto& m : out_.hierarchy) by_name[m.module] = &m;
        std::set<std::string> used;
        for (const auto& m : out_.hierarchy)
            if (m.only_simulated.empty())
                for (const auto& [type, count] : m.instances)
                    if (type != m.module) used.insert(type);
        std::vector<std::pair<size_t, std::string>> tops;  // modules below, then the name
        for (const auto& m : out_.hierarchy) {
            if (!m.only_simulated.empty() || used.contains(m.module)) continue;
            std::set<std::string> below;
            std::vector<const FolderModule*> open{&m};
            while (!open.empty()) {
                const auto* now = open.back();
                open.pop_back();
                for (const auto& [type, count] : now->instances)
                    if (const auto next = by_name.find(type); next != by_name.end() && below.insert(type).second)
                        open.push_back(next->second);
            }
            tops.emplace_back(below.size(), m.module);
        }
        std::sort(tops.begin(), tops.end(), [](const auto& a, const auto& b) {
            return a.first != b.first ? a.first > b.first : a.second < b.second;
        });
        for (const auto& [size, name] : tops) out_.candidates.push_back(name);
        if (tops.size() == 1 || (tops.size() > 1 && tops[0].first > tops[1].first)) out_.top = tops[0].second;
        if (tops.size() > 1 && out_.top.empty())
            out_.messages.push_back(
                {Severity::caution, Code::folder,
                 said("Several modules could be the top: {}; choose one.", list_names(out_.candidates)), folder_});
    }

    void order() {
        std::map<std::string, std::string> packages, modules;
        for (const auto& t : texts_) {
            if (t.role != "hdl" || included_.contains(t.path)) continue;
            for (const auto& p : t.outline.packages) packages.try_emplace(p, t.path);
            for (const auto& m : t.outline.modules) modules.try_emplace(m.name, t.path);
        }
        std::set<std::string> done, open;
        const std::function<void(const Text&)> visit = [&](const Text& t) {
            if (done.contains(t.path) || !open.insert(t.path).second) return;
            const auto need = [&](const std::map<std::string, std::string>& where, const std::string& name) {
                if (const auto at = where.find(name); at != where.end() && at->second != t.path && open.size() < 1000)
                    visit(texts_[at_.at(at->second)]);
            };
            for (const auto& use : t.outline.uses) need(packages, use);
            for (const auto& m : t.outline.modules)
                for (const auto& [type, count] : m.instances) need(modules, type);
            open.erase(t.path);
            if (done.insert(t.path).second) out_.order.push_back(t.path);
        };
        for (const auto& t : texts_)
            if (t.role == "hdl" && !included_.contains(t.path)) visit(t);
    }

    Disk& disk_;
    std::string folder_;
    const std::stop_token& stop_;
    FolderView out_;
    std::vector<std::string> paths_;
    std::vector<Text> texts_;
    std::map<std::string, size_t> at_, file_at_;
    std::map<std::string, std::string> included_;
    std::set<std::string> models_;
};

}  // namespace

std::vector<std::string> FolderView::with_role(std::string_view role) const {
    std::vector<std::string> out;
    for (const auto& f : files)
        if (f.role == role) out.push_back(f.path);
    return out;
}

void FolderView::set_role(const std::string& path, const std::string& role) {
    for (auto& f : files)
        if (f.path == path) {
            f.role = role;
            f.why = "as you said";
        }
    std::erase(order, path);
    if (role == "hdl") order.push_back(path);
}

Result<FolderView> look_at_folder(Disk& disk, const std::string& folder, const std::stop_token& stop) {
    return Looker(disk, folder, stop).run();
}

}  // namespace kp
