// SPDX-License-Identifier: GPL-3.0-or-later
// What a file is is told by its ending; everything else about it by its reader. Nothing is written but by
// bring_along.
#include "core/inputs/part_files.hpp"

#include "core/base/said.hpp"
#include "core/base/text.hpp"
#include "core/format/bsdl/read.hpp"
#include "core/format/json/world_json.hpp"
#include "core/model/former_names.hpp"

namespace kp {

namespace {
Message part_error(const std::string& text, const std::string& file = "") {
    return {Severity::stop, Code::part, text, file};
}
}  // namespace

Result<Part> part_called(Disk& disk, const std::string& code, const std::string& folder, const std::string& data) {
    if (code.ends_with(".part.json")) {
        auto text = disk.read(code);
        if (!text) return text.messages();
        return read_part(text.value(), code);
    }
    const auto catalogue = read_catalogue(disk, folder, data);
    const auto* part = catalogue.part_of(code);
    if (const auto now = present_code(code); !part && now != code) return part_called(disk, now, folder, data);
    if (!part) {
        std::vector<std::string> starts;
        for (const auto& p : catalogue.parts) starts.push_back(p.codes);
        return part_error(said("No part file knows the ordering code '{}'; known are codes that start with {}.{}", code,
                               list_names(starts, 6), did_you_mean(code, catalogue.codes())));
    }
    const auto decoded = decode_ordering_code(part->ordering, code);
    if (!decoded.complete) return part_error(decoded.trouble);
    return *part;
}

std::vector<Message> messages_of(const std::vector<table::CellTrouble>& troubles, const table::Grid& grid,
                                 const std::string& file) {
    std::vector<Message> out;
    for (const auto& t : troubles) {
        const bool of_row = t.row < grid.rows.size() && t.column >= 0;
        out.push_back({t.severity, Code::table, t.text, file, of_row ? grid.rows[t.row].line : 0});
    }
    return out;
}

Result<StandardTable> shipped_standards(Disk& disk, const std::string& data) {
    const auto path = data + "/standards/io.standards.json";
    auto text = disk.read(path);
    if (!text) return text.messages();
    return read_standards(text.value(), path);
}

Result<Part> part_from(Disk& disk, const std::string& path, const std::string& name, const table::Columns& columns,
                       const StandardTable& standards) {
    auto text = disk.read(path, size_t{64} << 20);
    if (!text) return text.messages();
    const auto low = lower(path);
    if (low.ends_with(".part.json")) return read_part(text.value(), path);
    if (low.ends_with(".bsd") || low.ends_with(".bsdl") || low.ends_with(".bsm")) {
        auto bsdl = read_bsdl(text.value(), path);
        if (!bsdl) return bsdl.messages();
        return part_from_bsdl(bsdl.value());
    }
    auto grid = table::read_table(text.value(), path, columns);
    if (!grid) return grid.messages();
    auto mapping = table::guess_pin_mapping(grid.value());
    if (auto status = table::take_columns(grid.value(), columns, mapping); !status) return status.messages();
    auto draft = table::draft_part(grid.value(), mapping, standards, name);
    auto told = messages_of(draft.troubles, grid.value(), path);
    for (const auto& m : told)
        if (m.severity == Severity::stop) return m;
    if (draft.pins == 0) return part_error("No row of the table gives a pin.", path);
    return Result<Part>(std::move(draft.part), std::move(told));
}

/// A part or board that is named by its file comes along, and is called from then on as the folder knows it.
Status bring_along(Disk& disk, NewProject& w, std::vector<std::string>& brought) {
    for (auto* name : {&w.part, &w.board}) {
        const std::string ending = name == &w.part ? ".part.json" : ".board.json";
        if (!name->ends_with(ending)) continue;
        if (auto status = disk.make_folder(w.folder); !status) return status;
        const bool fresh = !disk.exists(join_path(w.folder, file_name_of(*name)));
        const auto taken = take_in(disk, w.folder, *name, true);
        if (!taken) return taken.messages();
        if (fresh) brought.push_back(join_path(w.folder, taken.value()));
        if (name == &w.board) {
            *name = taken.value().substr(0, taken.value().size() - ending.size());
            continue;
        }
        const auto text = disk.read(join_path(w.folder, taken.value()));
        const auto part = text ? read_part(text.value(), *name) : Result<Part>(text.messages());
        if (!part) return part.messages();
        *name = part.value().codes;
    }
    return Done{};
}

}  // namespace kp
