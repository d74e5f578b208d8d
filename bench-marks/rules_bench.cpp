// SPDX-License-Identifier: GPL-3.0-or-later
// What all rules cost on plans of growing size, and what they cost after one edit. Plans come from make_large.py;
// prints a table, medians over many edits.
#include "core/planning/place.hpp"
#include "core/rules/live.hpp"
#include "core/session/session.hpp"

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <random>

namespace {

using Clock = std::chrono::steady_clock;
double ms_since(Clock::time_point from) {
    return std::chrono::duration<double, std::milli>(Clock::now() - from).count();
}

double median(std::vector<double> values) {
    std::nth_element(values.begin(), values.begin() + static_cast<long>(values.size() / 2), values.end());
    return values[values.size() / 2];
}

struct Row {
    size_t pins = 0, ports = 0, findings = 0;
    double full = 0, peg = 0, drive = 0, worst = 0;
};

Row measure(int side, int ports) {
    namespace fs = std::filesystem;
    const auto folder = fs::temp_directory_path() / ("kite-peg-rules-" + std::to_string(side));
    fs::remove_all(folder);
    const std::string command = "python3 '" KP_SOURCE "/bench-marks/make_large.py' '" + folder.string() + "' " +
                                std::to_string(side) + " " + std::to_string(ports) + " > /dev/null";
    if (std::system(command.c_str()) != 0) std::exit(1);
    std::string project_file;
    for (const auto& entry : fs::directory_iterator(folder))
        if (entry.path().extension() == ".kpeg") project_file = entry.path().string();
    auto session = kp::Session::open(kp::real_disk(), project_file, KP_SOURCE "/data").take();
    session->analyse_now();
    auto project = session->project();
    const auto& w = session->world();
    auto input = kp::rule_input(w, project, session->analysis());
    input.with_fixes = false;
    Row row{w.part.pins.size(), w.netlist.ports.size(), 0, 0, 0, 0, 0};
    std::vector<double> times;
    for (int i = 0; i < 15; ++i) {
        const auto from = Clock::now();
        const auto found = kp::run_rules(input);
        times.push_back(ms_since(from));
        row.findings = found.size();
    }
    row.full = median(times);
    kp::LiveRules live(input);
    std::mt19937 random(1);
    std::vector<std::string> names, free;
    for (const auto& p : w.netlist.ports) names.push_back(p.name);
    for (const auto& p : w.part.pins)
        if (p.usable()) free.push_back(p.name);
    const auto time_edits = [&](auto make) {
        std::vector<double> all;
        for (int i = 0; i < 500; ++i) {
            const kp::Edit edit = make();
            for (const auto& e : {edit, edit.inverse()}) {
                if (e.empty() || !kp::apply(project, e)) continue;
                const auto from = Clock::now();
                live.update(input, e);
                all.push_back(ms_since(from));
            }
        }
        row.worst = std::max(row.worst, *std::max_element(all.begin(), all.end()));
        return median(all);
    };
    row.peg = time_edits([&] {
        return kp::peg_edit(project, w.board, names[random() % names.size()], free[random() % free.size()], "by hand");
    });
    row.drive = time_edits([&] {
        const auto& port = names[random() % names.size()];
        const auto before = project.attributes.contains(port) ? project.attributes[port] : kp::PortAttributes{};
        auto after = before;
        after.drive = before.drive == "8" ? "4" : "8";
        return kp::Edit{"", {kp::AttributeChange{port, before, after}}};
    });
    return row;
}

}  // namespace

int main() {
    std::printf("%8s %8s %9s %10s %12s %12s %12s\n", "pins", "ports", "findings", "full ms", "peg edit ms", "drive ms",
                "worst ms");
    for (const auto& [side, ports] : {std::pair{16, 180}, {23, 375}, {32, 750}, {45, 1500}, {64, 3000}}) {
        const auto r = measure(side, ports);
        std::printf("%8zu %8zu %9zu %10.2f %12.3f %12.3f %12.3f\n", r.pins, r.ports, r.findings, r.full, r.peg, r.drive,
                    r.worst);
    }
}
