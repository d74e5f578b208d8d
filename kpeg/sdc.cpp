// SPDX-License-Identifier: GPL-3.0-or-later
#include "kpeg/commands.hpp"

#include "core/format/sdc/read.hpp"
#include "core/session/report_json.hpp"
#include "core/session/world.hpp"

#include "core/base/output.hpp"

#include <algorithm>
#include <memory>

namespace kpeg {

void add_sdc(CLI::App& app, Run& run) {
    struct Arguments {
        std::vector<std::string> files, netlists, libraries, models, allow;
        std::string top, out = "-";
    };
    auto a = std::make_shared<Arguments>();
    auto* c = app.add_subcommand("sdc", "Findings of constraint text");
    c->add_option("files", a->files, "SDC text, in order")->required();
    c->add_option("--netlist", a->netlists, "Structural Verilog")->required();
    c->add_option("--top", a->top, "Top module");
    c->add_option("--lib", a->libraries, "Liberty cell library");
    c->add_option("--models", a->models, "Verilog models of cells that no library has");
    c->add_option("--json", a->out, "Where the result goes; - is standard output")->required();
    add_allow(*c, a->allow);
    c->callback([a, &run] {
        run = [a] {
            auto inputs = a->files;
            for (const auto* list : {&a->netlists, &a->libraries, &a->models})
                inputs.insert(inputs.end(), list->begin(), list->end());
            if (auto status = kp::check_outputs({a->out}, inputs); !status) return refuse(status.messages());
            const auto own_disk = kp::disk_with_pipes(inputs);
            auto& disk = *own_disk;
            const auto design = kp::load_design(disk, {a->netlists, a->libraries, a->models, a->top, {}});
            if (!design) return refuse(design.messages());
            const auto& [library, netlist, cells] = design.value();
            std::vector<kp::sdc::Script> scripts;
            for (const auto& file : a->files) {
                auto text = disk.read(file, size_t{64} << 20);
                if (!text) return refuse(text.messages());
                scripts.push_back({file, file, text.take()});
            }
            const kp::NetlistIndex index(netlist);
            const auto constraints = kp::read_sdc(scripts, netlist, index, library, limits_of(a->files, a->allow));
            const bool trouble = std::any_of(constraints.messages.begin(), constraints.messages.end(),
                                             [](const kp::Message& m) { return m.severity != kp::Severity::note; });
            return write_out(kp::sdc_json(constraints.messages, constraints.commands.size(), constraints.clocks.size()),
                             a->out, trouble ? findings : in_order);
        };
    });
}

}  // namespace kpeg
