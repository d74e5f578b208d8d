// SPDX-License-Identifier: GPL-3.0-or-later
// ports: what a design declares, from HDL text.
#include "kpeg/commands.hpp"

#include "core/base/output.hpp"
#include "core/format/json/json_text.hpp"
#include "core/base/text.hpp"
#include "core/handoff/report_json.hpp"
#include "core/inputs/world.hpp"
#include "core/base/said.hpp"

#include <memory>

namespace kpeg {

namespace {}  // namespace

void add_ports(Command& app, Run& run) {
    struct Arguments {
        std::vector<std::string> files, defines, parameters, allow;
        std::string top, out = "-";
    };
    auto a = std::make_shared<Arguments>();
    auto* c = app.add_subcommand("ports", "The ports a design declares, from Verilog, SystemVerilog or VHDL text");
    c->add_option("files", a->files, "HDL text, packages before what uses them")->required();
    c->add_option("--top", a->top, "Module or entity; without it the only one that none other uses");
    c->add_option("--define", a->defines, "A macro, NAME or NAME=TEXT")->one_each();
    c->add_option("--param", a->parameters, "A parameter or generic of the top, NAME=NUMBER")->one_each();
    c->add_option("--json", a->out, "Where the result goes; - is standard output")->required();
    add_allow(*c, a->allow);
    c->callback([a, &run] {
        run = [a] {
            kp::PortRequest request;
            request.top = a->top;
            for (const auto& text : a->defines) request.defines.insert(assignment(text, "1"));
            for (const auto& text : a->parameters) {
                const auto [name, value] = assignment(text, "");
                const auto number = kp::to_integer(value);
                if (!number)
                    return refuse({{kp::Severity::stop, kp::Code::arguments,
                                    kp::said("--param wants NAME=NUMBER, not '{}'.", text)}});
                request.parameters[name] = *number;
            }
            if (auto status = kp::check_outputs({a->out}, a->files); !status) return refuse(status.messages());
            const auto disk = kp::disk_with_pipes(a->files);
            const kp::Reach reach(*disk, kp::folder_of(a->files[0]), a->allow);
            const auto ports = kp::load_ports(*disk, a->files, request, &reach);
            if (!ports) return refuse(ports.messages());
            return write_out(kp::ports_json(ports.value(), ports.messages()), a->out, in_order);
        };
    });
}

}  // namespace kpeg
