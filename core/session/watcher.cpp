// SPDX-License-Identifier: GPL-3.0-or-later
// Stamps tell what changed; what it means is told by reading all of it once more beside what is open.
#include "core/session/watcher.hpp"

#include "core/base/text.hpp"
#include "core/format/sdc/rename.hpp"
#include "core/base/said.hpp"

namespace kp {

std::vector<std::string> changed_files(Disk& disk, const World& world) {
    std::vector<std::string> out;
    for (const auto& f : world.files)
        if (disk.stamp(f.full) != f.stamp) out.push_back(f.path);
    return out;
}

std::vector<PortGroup> accepted_ports(const Project& project, const std::vector<Port>& fallback) {
    std::vector<PortGroup> out;
    for (const auto& line : project.ports)
        if (auto group = port_from_line(line)) out.push_back(std::move(*group));
    return out.empty() ? group_ports(fallback) : out;
}

Edit merge_edit(const Project& project, const std::vector<Port>& ports, const PortMerge& merge,
                const std::vector<PortRename>& accepted) {
    Edit edit{accepted.empty()       ? "accept the ports as read"
              : accepted.size() == 1 ? said("rename {} to {}", accepted[0].before.name, accepted[0].after.name)
                                     : "rename " + counted(accepted.size(), "port"),
              {}};
    std::vector<std::string> lines;
    for (const auto& group : group_ports(ports)) lines.push_back(port_line(group));
    if (const auto text = lines_of(lines); text != field_text(project, "ports"))
        edit.changes.push_back(set_field(project, "ports", text));
    const auto bits = renamed_bits(merge, accepted);
    const auto carried = carry_over(project, bits);
    edit.changes.insert(edit.changes.end(), carried.begin(), carried.end());
    std::vector<std::pair<std::string, std::string>> buses;
    for (const auto& r : accepted) buses.emplace_back(r.before.name, r.after.name);
    if (buses.empty()) return edit;
    for (const auto& file : project.constraints) {
        const auto found = sdc::rename_ports(file.text, buses);
        // From the end, so that the offsets before stay right.
        for (auto at = found.rbegin(); at != found.rend(); ++at)
            edit.changes.push_back(TextChange{file.path, at->offset, at->before, at->after});
    }
    return edit;
}

std::vector<std::string> Watcher::changed() const {
    auto out = changed_files(disk_, world_);
    for (const auto& name : changed_own_files()) out.push_back(name);
    return out;
}

std::vector<std::string> Watcher::changed_own_files() const {
    std::vector<std::string> out;
    for (const auto& name : document_.changed_on_disk())
        out.push_back(name.empty() ? file_name_of(document_.path()) : name);
    return out;
}

PortMerge Watcher::port_changes() const {
    const auto& ports = world_.netlist.ports;
    return compare_ports(accepted_ports(document_.project(), ports), group_ports(ports));
}

std::vector<std::string> Watcher::files() const {
    std::vector<std::string> out;
    for (const auto& f : world_.files) out.push_back(f.full);
    for (const auto& f : document_.project().constraints) out.push_back(join_path(document_.folder(), f.path));
    out.push_back(document_.path());
    return out;
}

Result<Rereading> reread(const Snapshot& now) {
    auto world = load_world(*now.grounds, *now.project);
    if (!world) return world.messages();
    Rereading out{world.take(), changed_files(*now.grounds->disk, *now.world), {}};
    out.merge = compare_ports(group_ports(now.world->netlist.ports), group_ports(out.world->netlist.ports));
    return out;
}

}  // namespace kp
