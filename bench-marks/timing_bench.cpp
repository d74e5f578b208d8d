// SPDX-License-Identifier: GPL-3.0-or-later
// How fast timing is, on made netlists of growing size: reading, building, a full update, updates after edits, worst
// paths, memory. In the same run, on the same graph, Boost.Graph's dag_shortest_paths for one quantity. Prints the
// tables of docs/performance.md. timing_bench [FOLDER [CELLS …]]; FOLDER takes some 700 MB for a million cells.
#include "bench-marks/netlist_maker.hpp"

#include "core/base/disk.hpp"
#include "core/format/liberty/read.hpp"
#include "core/format/sdc/read.hpp"
#include "core/format/sdf/read.hpp"
#include "core/hdl/verilog/read_netlist.hpp"
#include "core/timing/engine.hpp"

#include <algorithm>
#include <boost/graph/compressed_sparse_row_graph.hpp>
#include <boost/graph/dag_shortest_paths.hpp>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <functional>
#include <memory>
#include <random>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace kp;

namespace {

double seconds(const std::function<void()>& what) {
    const auto from = std::chrono::steady_clock::now();
    what();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
}

double resident_mb() {
    long pages = 0, resident = 0;
    std::ifstream("/proc/self/statm") >> pages >> resident;
    return static_cast<double>(resident) * static_cast<double>(sysconf(_SC_PAGESIZE)) / 1e6;
}
double peak_mb() {
    rusage usage{};
    getrusage(RUSAGE_SELF, &usage);
    return static_cast<double>(usage.ru_maxrss) / 1e3;
}

double megabytes(const std::string& path) {
    return static_cast<double>(std::filesystem::file_size(path)) / 1e6;
}

template <class T>
T need(Result<T> r) {
    if (r) return r.take();
    std::fprintf(stderr, "%s\n", r.first().sentence().c_str());
    std::exit(2);
}

/// Longest distances from one vertex that leads to all starts; seconds.
double boost_pass(const TimingEngine::DelayEdges& links) {
    using G = boost::compressed_sparse_row_graph<boost::directedS, boost::no_property,
                                                 boost::property<boost::edge_weight_t, double>>;
    const auto n = links.vertices;
    std::vector<std::pair<std::size_t, std::size_t>> edges;
    std::vector<double> weight;
    edges.reserve(links.from.size() + links.begin.size());
    weight.reserve(edges.capacity());
    for (const auto s : links.begin) {
        edges.emplace_back(n, s);
        weight.push_back(0);
    }
    for (size_t i = 0; i < links.from.size(); ++i) {
        edges.emplace_back(links.from[i], links.to[i]);
        weight.push_back(-links.longest[i]);
    }
    const G g(boost::edges_are_unsorted_multi_pass, edges.begin(), edges.end(), weight.begin(), n + 1);
    std::vector<double> distance(n + 1);
    double best = 1e9;
    for (int i = 0; i < 3; ++i)
        best = std::min(best, seconds([&] {
                            boost::dag_shortest_paths(g, n,
                                                      boost::distance_map(boost::make_iterator_property_map(
                                                          distance.begin(), get(boost::vertex_index, g))));
                        }));
    return best;
}

struct Row {
    size_t cells = 0, arcs = 0, slots = 0, endpoints = 0;
    double verilog_mb = 0, verilog_s = 0, sdf_mb = 0, sdf_s = 0, build_s = 0, update_s = 0, arrivals_s = 0, boost_s = 0,
           resident = 0, peak = 0, paths_s = 0, deep_s = 0;
    double arc_s = 0, pin_s = 0, io_s = 0, period_s = 0;
    bool equal = true;
};

double median(std::vector<double>& v) {
    std::nth_element(v.begin(), v.begin() + static_cast<long>(v.size() / 2), v.end());
    return v[v.size() / 2];
}

void scale(TimingEngine& e, std::uint32_t arc, double factor) {
    for (const bool late : {false, true})
        for (const bool in : {false, true})
            for (const bool out : {false, true})
                if (const double d = e.delay(arc, late, in, out); !std::isnan(d))
                    e.set_delay(arc, late, in, out, d * factor);
}

/// 1000 edits of three kinds, each timed; in between, the same state computed from the start must have the same bits.
void edits(TimingEngine& e, const Netlist& n, Row& row) {
    std::mt19937 random(3);
    std::vector<double> arc, pin, io, period;
    const auto check = [&] {
        const auto before = e.fingerprint();
        e.forget_times();
        e.update();
        row.equal &= before == e.fingerprint();
    };
    for (int i = 0; i < 1000; ++i) {
        scale(e, static_cast<std::uint32_t>(random() % e.arcs()), random() % 2 ? 1.3 : 0.7);
        arc.push_back(seconds([&] { e.update(); }));
        for (const auto a : e.arcs_at(n.ports[random() % n.ports.size()].name)) scale(e, a, random() % 2 ? 1.2 : 0.8);
        pin.push_back(seconds([&] { e.update(); }));
        auto k = e.constraints();
        k.io_delays[random() % k.io_delays.size()].value = 0.5 + static_cast<double>(random() % 2000) / 1000;
        io.push_back(seconds([&] {
            e.set_constraints(k);
            e.update();
        }));
        if (i % 100 == 99) check();
    }
    for (int i = 0; i < 3; ++i) {
        auto k = e.constraints();
        auto& c = k.clocks[static_cast<size_t>(i)];
        c.period *= 0.9;
        for (auto& w : c.waveform) w *= 0.9;
        period.push_back(
            seconds([&] { e.what_if(k, [](const TimingEngine& t) { (void)t.summary(CheckKind::setup); }); }) / 2);
    }
    check();
    row.arc_s = median(arc);
    row.pin_s = median(pin);
    row.io_s = median(io);
    row.period_s = median(period);
}

Row measure(const bench::Recipe& recipe, const std::string& folder) {
    Row row;
    const auto made = bench::make_netlist(recipe, folder);  // written anew each time
    auto& disk = real_disk();
    const auto library = need(read_liberty(need(disk.read(made.library)), made.library));
    Netlist netlist;
    row.verilog_mb = megabytes(made.netlist);
    {
        const auto text = need(disk.read(made.netlist));
        const SourceText source{made.netlist, text};
        row.verilog_s = seconds([&] { netlist = need(read_netlist({&source, 1}, "made", library)); });
    }
    row.cells = netlist.cells.size();
    Constraints constraints;
    {
        const NetlistIndex index(netlist);
        constraints = read_sdc({{made.constraints, made.constraints, need(disk.read(made.constraints))}}, netlist,
                               index, library);
    }
    for (const auto& m : constraints.messages) std::fprintf(stderr, "%s\n", m.sentence().c_str());
    TimingCorner corner;
    corner.read = [&](DelaySink& sink) {
        auto stream = need(disk.stream(made.delays));
        row.sdf_mb = megabytes(made.delays);
        row.sdf_s = seconds([&] { need(read_sdf(*stream, made.delays, sink)); });
        return std::vector<Message>{};
    };
    TimingOptions options;
    options.all_endpoints = false;
    std::unique_ptr<TimingEngine> engine;
    row.build_s = seconds([&] {
                      engine = std::make_unique<TimingEngine>(TimingInput{netlist, library, constraints}, options,
                                                              std::vector{corner});
                      engine->update();
                  }) -
                  row.sdf_s;
    row.resident = resident_mb();
    row.peak = peak_mb();
    for (const auto& m : engine->report().messages) std::fprintf(stderr, "%s\n", m.sentence().c_str());
    row.arcs = engine->arcs();
    const auto again = [&] {
        double best = 1e9;
        for (int i = 0; i < 5; ++i) {
            engine->forget_times();
            best = std::min(best, seconds([&] { engine->update(); }));
        }
        return best;
    };
    row.arrivals_s = again();
    engine->require();
    row.update_s = again();
    row.slots = engine->work().slots;
    row.endpoints = engine->work().endpoints;
    row.boost_s = boost_pass(engine->delay_edges());
    size_t told = 0;
    row.paths_s = 1e9;
    for (int i = 0; i < 3; ++i)
        row.paths_s = std::min(row.paths_s, seconds([&] { told = engine->worst_paths(10'000, 1).size(); }));
    row.deep_s = seconds([&] { told = std::min(told, engine->worst_paths(10'000, 100).size()); });
    if (told != std::min<size_t>(10'000, row.endpoints)) std::fprintf(stderr, "%zu paths only\n", told);
    edits(*engine, netlist, row);
    return row;
}

/// In a process of its own, so that memory is that of one netlist.
Row apart(const bench::Recipe& recipe, const std::string& folder) {
    int ends[2];
    if (pipe(ends) != 0) std::exit(2);
    std::fflush(stdout);
    const auto child = fork();
    if (child == 0) {
        const Row row = measure(recipe, folder);
        const auto written = write(ends[1], &row, sizeof row);
        _exit(written == sizeof row ? 0 : 2);
    }
    close(ends[1]);
    Row row;
    const auto got = read(ends[0], &row, sizeof row);
    close(ends[0]);
    int status = 0;
    waitpid(child, &status, 0);
    if (got != sizeof row) std::exit(2);
    return row;
}

void print(const char* title, const std::vector<Row>& rows) {
    std::printf("\n%s\n\n| figure |", title);
    for (const auto& r : rows) std::printf(" %zu cells |", r.cells);
    std::printf("\n|---|");
    for (size_t i = 0; i < rows.size(); ++i) std::printf("---|");
    const auto line = [&](const char* name, const std::function<std::string(const Row&)>& tell) {
        std::printf("\n| %s |", name);
        for (const auto& r : rows) std::printf(" %s |", tell(r).c_str());
    };
    const auto text = [](const char* format, auto... v) {
        char out[100];
        std::snprintf(out, sizeof out, format, v...);
        return std::string(out);
    };
    line("arcs; slots; endpoints", [&](const Row& r) { return text("%zu; %zu; %zu", r.arcs, r.slots, r.endpoints); });
    line("full update: arrivals, required, slacks", [&](const Row& r) { return text("%.1f ms", 1e3 * r.update_s); });
    line("of which without required times", [&](const Row& r) { return text("%.1f ms", 1e3 * r.arrivals_s); });
    line("Boost.Graph, one quantity, same graph", [&](const Row& r) { return text("%.1f ms", 1e3 * r.boost_s); });
    line("full update / Boost.Graph", [&](const Row& r) { return text("%.2f", r.update_s / r.boost_s); });
    line("update after an arc delay, median of 1000",
         [&](const Row& r) { return text("%.3f ms (1/%.0f)", 1e3 * r.arc_s, r.update_s / r.arc_s); });
    line("update after a pin move, median of 1000",
         [&](const Row& r) { return text("%.3f ms (1/%.0f)", 1e3 * r.pin_s, r.update_s / r.pin_s); });
    line("update after an I/O delay, median of 1000",
         [&](const Row& r) { return text("%.3f ms (1/%.0f)", 1e3 * r.io_s, r.update_s / r.io_s); });
    line("same bits as a full update, each 100 edits",
         [&](const Row& r) { return std::string(r.equal ? "yes" : "NO"); });
    line("another period, there or back", [&](const Row& r) { return text("%.1f ms", 1e3 * r.period_s); });
    line("10,000 worst paths, one an endpoint",
         [&](const Row& r) { return text("%.1f ms (%.2f of the update)", 1e3 * r.paths_s, r.paths_s / r.update_s); });
    line("10,000 worst paths, up to 100 an endpoint", [&](const Row& r) { return text("%.1f ms", 1e3 * r.deep_s); });
    line("reading Verilog",
         [&](const Row& r) { return text("%.0f MB at %.0f MB/s", r.verilog_mb, r.verilog_mb / r.verilog_s); });
    line("reading SDF onto the graph",
         [&](const Row& r) { return text("%.0f MB at %.0f MB/s", r.sdf_mb, r.sdf_mb / r.sdf_s); });
    line("graph, clocks, tags and first update", [&](const Row& r) { return text("%.2f s", r.build_s); });
    line("memory after that; at most until then",
         [&](const Row& r) { return text("%.0f MB; %.0f MB", r.resident, r.peak); });
    std::printf("\n");
}

}  // namespace

int main(int argc, char** argv) {
    const std::string folder =
        argc > 1 ? argv[1] : (std::filesystem::temp_directory_path() / "kitepeg-timing-bench").string();
    std::filesystem::create_directories(folder);
    std::vector<size_t> sizes;
    for (int i = 2; i < argc; ++i) sizes.push_back(std::strtoull(argv[i], nullptr, 10));
    if (sizes.empty()) sizes = {10'000, 100'000, 1'000'000};
    std::vector<Row> plain, mixed, tree;
    for (const auto cells : sizes) plain.push_back(apart({cells}, folder));
    print("Ideal clocks.", plain);
    for (const auto cells : sizes)
        if (cells <= 100'000) {
            mixed.push_back(apart({.cells = cells, .mixing = 0.01}, folder));
            tree.push_back(apart({.cells = cells, .tree = true}, folder));
        }
    print("One look-up input in a hundred from another clock.", mixed);
    print("Propagated clocks through buffers, with common-path credit.", tree);
}
