// SPDX-License-Identifier: GPL-3.0-or-later
// A part by what stands on the chip.
#include "core/base/text.hpp"
#include "core/format/json/world_json.hpp"
#include "core/model/former_names.hpp"
#include "core/session/data_folder.hpp"
#include "core/session/new_project.hpp"
#include "kpeg/commands.hpp"

namespace kpeg {

kp::Result<kp::Part> part_called(const std::string& code) {
    const auto wrong = [](const std::string& text) { return kp::Message{kp::Severity::stop, "part", text, "", 0, 0}; };
    auto& disk = kp::real_disk();
    if (code.ends_with(".part.json")) {
        auto text = disk.read(code);
        if (!text) return text.messages();
        return kp::read_part(text.value(), code);
    }
    const auto catalogue = kp::read_catalogue(disk, ".", kp::data_folder());
    const auto* part = catalogue.part_of(code);
    if (const auto now = kp::present_code(code); !part && now != code) return part_called(now);
    if (!part) {
        std::vector<std::string> starts;
        for (const auto& p : catalogue.parts) starts.push_back(p.codes);
        return wrong("No part file knows the ordering code '" + code + "'; known are codes that start with " +
                     kp::list_names(starts, 6) + ".");
    }
    const auto decoded = kp::decode_ordering_code(part->ordering, code);
    if (!decoded.complete) return wrong(decoded.trouble);
    return *part;
}

}  // namespace kpeg
