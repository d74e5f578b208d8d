// SPDX-License-Identifier: GPL-3.0-or-later
// chip: SVF into the simulated chip at the end of the simulated cable.
#include "core/format/json/json_text.hpp"
#include "core/jtag/own_image.hpp"
#include "core/jtag/svf.hpp"

#include "core/base/output.hpp"
#include "core/format/image/image.hpp"
#include "core/model/proof_notes.hpp"
#include "kpeg/commands.hpp"

#include <algorithm>
#include <cstdio>
#include <memory>

namespace kpeg {

namespace {

struct ChipArguments {
    std::string project, svf, fault, image, out_image, out_svf, json;
    std::vector<std::string> allow;
};

std::string hex(std::uint32_t v) {
    char text[16];
    std::snprintf(text, sizeof text, "0x%08X", v);
    return text;
}

kp::Json answer_json(const std::vector<kp::SvfStep>& steps, const std::vector<std::uint32_t>& found, bool configured) {
    kp::Json list = kp::Json::array(), chain = kp::Json::array(), messages = kp::Json::array();
    for (const auto& s : steps) {
        list.push_back({{"line", s.line},
                        {"command", s.command},
                        {"state", s.state},
                        {"tdo", s.tdo ? kp::Json(*s.tdo) : kp::Json(nullptr)},
                        {"ok", s.ok}});
        if (!s.why.empty())
            messages.push_back(kp::message_json({kp::Severity::stop, kp::Code::tdo, s.why, "", s.line}));
    }
    for (const auto code : found) chain.push_back(hex(code));
    return {{"schema", "kitepeg.chip/1"},
            {"stand_in", "A simulated chip behind a simulated cable; no hardware was touched."},
            {"steps", std::move(list)},
            {"idcode", found.empty() ? kp::Json(nullptr) : kp::Json(hex(found.back()))},
            {"chain", std::move(chain)},
            {"configured", configured},
            {"messages", std::move(messages)}};
}

kp::Message chip_error(const std::string& text) {
    return {kp::Severity::stop, kp::Code::chip, text};
}

/// The project's own image. Errors: there is nothing to load.
kp::Result<std::string> image_of(const kp::Session& s) {
    const auto& w = s.world();
    if (w.netlist.cells.empty())
        return chip_error(
            "The design has no netlist yet, only its ports, so there is nothing to load; set netlists, or build it.");
    return kp::own_image(w.part, s.project(), w.netlist.top,
                         kp::image_origin(s.project(), kp::digest_of_netlist(w.netlist)));
}

/// What is to be played: the file that was named, or what will be written.
kp::Result<std::string> text_to_play(const ChipArguments& a, const std::string& own, std::uint32_t idcode) {
    if (a.svf.empty()) return kp::write_svf(own, idcode);
    return kp::disk_with_pipes({a.svf})->read(a.svf, std::size_t{512} << 20);
}

int write_own(const ChipArguments& a, const std::string& image, std::uint32_t idcode) {
    if (!a.out_image.empty())
        if (const int status = write_text(image, a.out_image, in_order)) return status;
    return a.out_svf.empty() ? in_order : write_text(kp::write_svf(image, idcode), a.out_svf, in_order);
}

int run_chip(const ChipArguments& a) {
    if (a.svf.empty() && a.out_image.empty() && a.out_svf.empty())
        return refuse(
            {chip_error("Name --svf to play one, or --write-svf or --write-image for those of the project.")});
    kp::CableFault fault;
    if (!a.fault.empty()) {
        const auto parsed = kp::CableFault::parse(a.fault);
        if (!parsed) return refuse(parsed.messages());
        fault = parsed.value();
    }
    auto opened = open_project(a.project, a.allow, kp::OpenTo::look, "chip");
    if (!opened) return refuse(opened.messages());
    auto& s = *opened.value();
    auto inputs = files_of(s);
    for (const auto& file : {a.svf, a.image})
        if (!file.empty()) inputs.push_back(file);
    if (auto status = kp::check_outputs({a.json, a.out_image, a.out_svf}, inputs); !status)
        return refuse(status.messages());
    if (s.world().part.name.empty())
        return refuse({chip_error("The project has no part, so there is no chip; choose one (kpeg set part=CODE).")});
    const auto idcode = s.world().part.idcode;
    const bool writes = !a.out_image.empty() || !a.out_svf.empty();
    const auto own = writes ? image_of(s) : kp::Result<std::string>(std::string());
    if (!own) return refuse(own.messages());
    const auto played = text_to_play(a, own.value(), idcode);
    if (!played) return refuse(played.messages());
    kp::SimulatedChip chip(fault.kind == kp::CableFault::other_part ? idcode ^ 0x00010000U : idcode,
                           static_cast<size_t>(s.world().part.usable_pins()));
    if (!a.image.empty()) {
        const auto bytes = kp::real_disk().read(a.image, std::size_t{64} << 20);
        if (!bytes) return refuse(bytes.messages());
        if (auto image = kp::read_image(bytes.value(), a.image); !image) return refuse(image.messages());
        chip.store(bytes.value());
    }
    kp::ScanChain chain(chip, fault);
    const auto found = kp::scan_idcodes(chain);
    const auto steps = kp::play_svf(played.value(), a.svf.empty() ? a.out_svf : a.svf, chain);
    if (!steps) return refuse(steps.messages());
    // Only now, when nothing that was asked for has been refused.
    if (const int status = write_own(a, own.value(), idcode)) return status;
    const bool good = std::all_of(steps.value().begin(), steps.value().end(), [](const auto& step) { return step.ok; });
    return write_out(answer_json(steps.value(), found, chip.loaded()), a.json, good ? in_order : findings);
}

}  // namespace

void add_chip(Command& app, Run& run) {
    auto a = std::make_shared<ChipArguments>();
    auto* c =
        app.add_subcommand("chip", "SVF into the simulated chip at the simulated cable; image and SVF of the project");
    c->add_option("project", a->project, "A project (*.kpeg)")->required();
    c->add_option("--svf", a->svf, "Serial Vector Format to play; else what is written is played");
    c->add_option("--write-image", a->out_image, "Where the image of the project goes");
    c->add_option("--write-svf", a->out_svf, "Where the SVF that loads it goes");
    c->add_option("--fault", a->fault, "no-cable, other-part, second-device, bit:N or power:STEP");
    c->add_option("--image", a->image, "Image stored for power-on");
    c->add_option("--json", a->json, "Where the result goes; - is standard output")->required();
    add_allow(*c, a->allow);
    c->callback([a, &run] { run = [a] { return run_chip(*a); }; });
}

}  // namespace kpeg
