// SPDX-License-Identifier: GPL-3.0-or-later
// map: HDL to a netlist of library cells.
#include "core/format/json/json_text.hpp"
#include "core/base/output.hpp"
#include "core/build_flow/mapper.hpp"
#include "kpeg/commands.hpp"

#include <memory>

namespace kpeg {

namespace {

struct MapArguments {
    std::vector<std::string> files, defines, parameters, allow;
    std::string top, part, out, json;
};

kp::Json answer_json(const kp::synthesis::MapAnswer& a, const std::string& library) {
    kp::Json cells = kp::Json::array();
    for (const auto& [type, count] : a.cells) cells.push_back({{"type", type}, {"count", count}});
    return {{"schema", "kitepeg.map/1"},
            {"stand_in", "Mapped by the stand-in builder of Kite Peg, for made-up parts."},
            {"top", kp::json_safe(a.top)},
            {"library", kp::json_safe(library)},
            {"mapped", !a.netlist.empty()},
            {"cells", std::move(cells)},
            {"depth", a.depth},
            {"messages", kp::messages_json(a.messages)}};
}

int run_map(const MapArguments& a) {
    const auto part = part_called(a.part);
    if (!part) return refuse(part.messages());
    if (auto status = kp::check_outputs({a.out, a.json}, a.files); !status) return refuse(status.messages());
    kp::MapFiles files;
    files.sources = a.files;
    files.library = kp::shipped_cells();
    files.top = a.top;
    for (const auto& text : a.defines) files.defines.insert(assignment(text, "1"));
    for (const auto& text : a.parameters) files.parameters.insert(assignment(text, ""));
    const auto disk = kp::disk_with_pipes(a.files);
    const kp::Reach reach(*disk, kp::folder_of(a.files[0]), a.allow);
    const auto answer = kp::map_files(*disk, files, &reach);
    if (!answer) return refuse(answer.messages());
    const bool mapped = !answer.value().netlist.empty();
    if (!mapped) refuse(answer.value().messages);
    int status = mapped ? in_order : findings;
    if (mapped) status = write_text(answer.value().netlist, a.out, status);
    return status == unusable ? status : write_out(answer_json(answer.value(), files.library), a.json, status);
}

}  // namespace

void add_map(Command& app, Run& run) {
    auto a = std::make_shared<MapArguments>();
    auto* c =
        app.add_subcommand("map", "A netlist of made-up cells from Verilog or SystemVerilog: the stand-in mapper");
    c->add_option("files", a->files, "HDL text, in the order it is compiled")->required();
    c->add_option("--top", a->top, "Module at the top; without it the only one that none other uses");
    c->add_option("--define", a->defines, "A macro, NAME or NAME=TEXT")->one_each();
    c->add_option("--param", a->parameters, "A parameter of the top, NAME=NUMBER")->one_each();
    c->add_option("--part", a->part, "Ordering code of the part, or a part file")->required();
    c->add_option("--out", a->out, "Where the netlist goes")->required();
    c->add_option("--json", a->json, "Where the result goes; - is standard output")->required();
    add_allow(*c, a->allow);
    c->callback([a, &run] { run = [a] { return run_map(*a); }; });
}

}  // namespace kpeg
