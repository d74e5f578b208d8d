// SPDX-License-Identifier: GPL-3.0-or-later
#include "kpeg/commands.hpp"

#include "core/base/disk.hpp"
#include "core/session/report_json.hpp"

#include <memory>

namespace kpeg {

void add_ports(CLI::App& app, Run& run) {
    struct Arguments {
        std::vector<std::string> files;
        std::string top, out = "-";
    };
    auto a = std::make_shared<Arguments>();
    auto* c = app.add_subcommand("ports", "The ports a module header declares");
    c->add_option("files", a->files, "Verilog text")->required();
    c->add_option("--top", a->top, "Module");
    c->add_option("--json", a->out, "Where the result goes; - is standard output")->required();
    c->callback([a, &run] {
        run = [a] {
            std::vector<std::string> texts;
            for (const auto& file : a->files) {
                auto text = kp::real_disk().read(file);
                if (!text) return refuse(text.messages());
                texts.push_back(text.take());
            }
            std::vector<kp::SourceText> sources;
            for (size_t i = 0; i < texts.size(); ++i) sources.push_back({a->files[i], texts[i]});
            const auto ports = kp::read_ports(sources, a->top);
            if (!ports) return refuse(ports.messages());
            return write_out(kp::ports_json(ports.value()), a->out, in_order);
        };
    });
}

}  // namespace kpeg
