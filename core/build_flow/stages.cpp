// SPDX-License-Identifier: GPL-3.0-or-later
// What counts of an input is what the builder reads of it: the bytes of sources, not their times.
#include "core/build_flow/stages.hpp"

#include "core/base/checksum.hpp"
#include "core/base/bytes.hpp"
#include "core/inputs/source_list.hpp"
#include "core/model/edit.hpp"

namespace kp::build_flow {

const char* word_of(StageOutcome outcome) {
    constexpr std::array words{"not done", "done", "kept", "not needed", "failed"};
    return words[static_cast<size_t>(outcome)];
}

std::optional<Stage> stage_of(const std::string& name) {
    for (size_t k = 0; k < stage_names.size(); ++k)
        if (name == stage_names[k]) return static_cast<Stage>(k);
    return std::nullopt;
}

const char* word_of(BuildInput input) {
    constexpr std::array words{"source or part", "pegs", "constraints"};
    return words[static_cast<size_t>(input)];
}

std::span<const BuildInput> made_of(Stage stage) {
    static constexpr std::array all{BuildInput::source, BuildInput::pegs, BuildInput::constraints};
    return std::span(all).first(stage < Stage::pins ? 1 : stage < Stage::place ? 2 : 3);
}

std::string digest_of_pins(const PegMap& pegs, const std::map<std::string, PortAttributes>& attributes) {
    std::string text;
    for (const auto& [port, peg] : pegs) {
        const auto a = attributes.find(port);
        text += port + "=" + peg.pin + " " + (a == attributes.end() ? "" : a->second.standard) + "\n";
    }
    return sha256(text);
}

InputDigests digests_of(Disk& disk, const Project& p, const std::string& folder) {
    std::string source = p.part + "\n" + p.top + "\n" + field_text(p.defines) + "\n" + field_text(p.parameters), text;
    const auto expanded = expand_sources(disk, folder, p.sources);
    auto files = p.sources.empty() ? p.netlists : expanded ? expanded.value().files : p.sources;
    if (expanded) files.insert(files.end(), expanded.value().lists.begin(), expanded.value().lists.end());
    for (const auto& file : files) {
        const auto read = disk.read(join_path(folder, file), size_t{64} << 20);
        source += file + "\n" + (read ? sha256(read.value()) : "missing") + "\n";
    }
    for (const auto& file : p.constraints) text += file.path + "\n" + file.text + "\n";
    return {sha256(source), digest_of_pins(p.pegs, p.attributes), sha256(text)};
}

std::span<const std::pair<const char*, Stage>> stage_files() {
    static constexpr std::array<std::pair<const char*, Stage>, 4> files{std::pair("netlist.v", Stage::map),
                                                                        {"pins.csv", Stage::pins},
                                                                        {"placed.json", Stage::place},
                                                                        {"delays.sdf", Stage::delays}};
    return files;
}

}  // namespace kp::build_flow
