// SPDX-License-Identifier: GPL-3.0-or-later
#include "kpeg/commands.hpp"

#include "core/session/data_folder.hpp"
#include "core/session/report_json.hpp"
#include "core/session/session.hpp"

#include <memory>

namespace kpeg {

void add_rules(CLI::App& app, Run& run) {
    struct Arguments {
        std::string project, out = "-";
    };
    auto a = std::make_shared<Arguments>();
    auto* c = app.add_subcommand("rules", "All rule findings of a project");
    c->add_option("project", a->project, "A project (*.kpeg)")->required();
    c->add_option("--json", a->out, "Where the result goes; - is standard output")->required();
    c->callback([a, &run] {
        run = [a] {
            auto opened = kp::Session::open(kp::real_disk(), a->project, kp::data_folder());
            if (!opened) return refuse(opened.messages());
            auto& session = *opened.value();
            const auto analysis = kp::analyse(session.world(), session.project(), session.folder(), {});
            const auto found = kp::find(session.world(), session.project(), *analysis);
            const auto counts = kp::count(found);
            return write_out(kp::findings_json(found), a->out, counts.stops + counts.cautions > 0 ? findings : in_order);
        };
    });
}

}  // namespace kpeg
