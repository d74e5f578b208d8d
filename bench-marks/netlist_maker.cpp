// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench-marks/netlist_maker.hpp"

#include <array>
#include <cstdio>
#include <cstdint>
#include <memory>
#include <random>
#include <string>
#include <tuple>
#include <stdexcept>
#include <vector>

namespace kp::bench {

namespace {

constexpr int clocks = 5;
constexpr size_t block = 2'000;  ///< cells that mostly talk to each other
constexpr int ports = 200;       ///< inputs, and as many outputs

struct Close {
    void operator()(std::FILE* f) const { std::fclose(f); }
};
using File = std::unique_ptr<std::FILE, Close>;

File create(const std::string& path) {
    File f(std::fopen(path.c_str(), "wb"));
    if (!f) throw std::runtime_error("cannot write " + path);
    return f;
}

void library(const std::string& path) {
    const auto f = create(path);
    std::fprintf(f.get(), "library (made) {\n time_unit : \"1ns\"; capacitive_load_unit (1, pf);\n");
    for (int n = 1; n <= 4; ++n) {
        std::fprintf(f.get(), " cell (%s) {\n", n == 1 ? "BUF" : ("LUT" + std::to_string(n)).c_str());
        for (int i = 0; i < n; ++i)
            std::fprintf(f.get(), "  pin (%c) { direction : input; capacitance : 0.002; }\n", 'A' + i);
        std::fprintf(f.get(), "  pin (Y) { direction : output;%s\n", n == 1 ? " function : \"A\";" : "");
        for (int i = 0; i < n; ++i)
            std::fprintf(f.get(),
                         "   timing () { related_pin : \"%c\"; timing_sense : %s; cell_rise (scalar) { values "
                         "(\"0.1\"); } cell_fall (scalar) { values (\"0.1\"); } }\n",
                         'A' + i, n == 1 ? "positive_unate" : "non_unate");
        std::fprintf(f.get(), "  }\n }\n");
    }
    std::fprintf(f.get(), R"( cell (REG) { ff (S, SN) { clocked_on : "CK"; next_state : "D"; }
  pin (D) { direction : input; capacitance : 0.002;
   timing () { related_pin : "CK"; timing_type : setup_rising; rise_constraint (scalar) { values ("0.05"); }
       fall_constraint (scalar) { values ("0.05"); } }
   timing () { related_pin : "CK"; timing_type : hold_rising; rise_constraint (scalar) { values ("0.02"); }
       fall_constraint (scalar) { values ("0.02"); } } }
  pin (CK) { direction : input; clock : true; capacitance : 0.001; }
  pin (Q) { direction : output; function : "S"; timing () { related_pin : "CK"; timing_type : rising_edge;
      cell_rise (scalar) { values ("0.2"); } cell_fall (scalar) { values ("0.2"); } } } }
}
)");
}

class Maker {
public:
    Maker(const Recipe& r, const std::string& folder)
        : r_(r), random_(r.seed), v_(create(folder + "/made.v")), d_(create(folder + "/made.sdf")) {}

    size_t run() {
        // One cell in five is a register; 0.8 × 2.875 look-up inputs and 0.2 data pins make 2.5 sinks a driver.
        const size_t registers = r_.cells / 5, tables = r_.cells - registers;
        head();
        // In blocks: registers first, then the layers; each block belongs to one clock.
        const size_t blocks = blocks_ = std::max<size_t>(clocks, r_.cells / block);
        for (int c = 0; c < clocks; ++c) recent_[c].clear();
        for (size_t b = 0; b < blocks; ++b) registers_of(b, share(registers, blocks, b), share(tables, blocks, b));
        for (size_t i = 0; i < registers_.size(); ++i) capture(i);
        for (int i = 0; i < ports; ++i) {
            std::fprintf(v_.get(), "assign y[%d] = %s;\n", i, name(ends_[below(ends_.size())]).c_str());
        }
        std::fprintf(v_.get(), "endmodule\n");
        std::fprintf(d_.get(), ")\n");
        return count_;
    }

private:
    struct Driver {
        std::uint32_t cell = 0;  ///< 0: an input port
        char kind = 'r';         ///< r register, g table, p port
    };

    static size_t share(size_t whole, size_t parts, size_t part) {
        return whole * (part + 1) / parts - whole * part / parts;
    }
    size_t below(size_t n) { return std::uniform_int_distribution<size_t>(0, n - 1)(random_); }
    bool chance(double p) { return std::uniform_real_distribution<double>(0, 1)(random_) < p; }
    static std::string name(const Driver& d) {
        return d.kind == 'p'   ? "d[" + std::to_string(d.cell) + "]"
               : d.kind == 'r' ? "q" + std::to_string(d.cell)
                               : "n" + std::to_string(d.cell);
    }
    static std::string pin(const Driver& d) {
        return d.kind == 'p'   ? "d[" + std::to_string(d.cell) + "]"
               : d.kind == 'r' ? "r" + std::to_string(d.cell) + "/Q"
                               : "g" + std::to_string(d.cell) + "/Y";
    }

    std::array<char, 64> triple(double low, double high) {
        const double typical = std::uniform_real_distribution<double>(low, high)(random_);
        std::array<char, 64> out;
        std::snprintf(out.data(), out.size(), "(%.3f:%.3f:%.3f)", 0.9 * typical, typical, 1.1 * typical);
        return out;
    }
    void wire(const std::string& from, const std::string& to, double low, double high) {
        std::fprintf(d_.get(), "   (INTERCONNECT %s %s %s %s)\n", from.c_str(), to.c_str(), triple(low, high).data(),
                     triple(low, high).data());
    }

    void head() {
        std::fprintf(v_.get(), "module made (input [%d:0] clk, input [%d:0] d, output [%d:0] y);\n", clocks - 1,
                     ports - 1, ports - 1);
        std::fprintf(d_.get(),
                     "(DELAYFILE (SDFVERSION \"3.0\") (DESIGN \"made\") (DIVIDER /) (TIMESCALE 1ns)\n (CELL (CELLTYPE "
                     "\"made\") (INSTANCE) (DELAY (ABSOLUTE\n");
    }

    void registers_of(size_t b, size_t registers, size_t tables) {
        const int clock = static_cast<int>(b % clocks);
        std::vector<Driver> layer;
        for (size_t i = 0; i < registers; ++i) {
            layer.push_back({static_cast<std::uint32_t>(registers_.size()), 'r'});
            registers_.push_back({clock, {}});
            recent_[clock].push_back(layer.back());
        }
        const size_t first_register = registers_.size() - registers;
        // Each port goes to one block, as one more driver of it.
        for (size_t p = share(ports, blocks_, b), i = 0; i < p; ++i)
            layer.push_back({static_cast<std::uint32_t>(b * ports / blocks_ + i), 'p'});
        std::vector<Driver> before = layer, all = layer;
        for (int l = 0; l < r_.layers; ++l) {
            std::vector<Driver> now;
            for (size_t i = 0; i < share(tables, static_cast<size_t>(r_.layers), static_cast<size_t>(l)); ++i)
                now.push_back(table(clock, before, all));
            if (now.empty()) continue;
            all.insert(all.end(), now.begin(), now.end());
            before = now;
        }
        for (size_t i = first_register; i < registers_.size(); ++i)
            registers_[i].data = chance(0.8) ? before[below(before.size())] : all[below(all.size())];
        ends_.push_back(before[0]);
    }

    Driver table(int clock, const std::vector<Driver>& before, const std::vector<Driver>& all) {
        const auto id = static_cast<std::uint32_t>(++tables_);
        ++count_;
        const double x = std::uniform_real_distribution<double>(0, 1)(random_);
        const int inputs = x < 0.35 ? 2 : x < 0.775 ? 3 : 4;
        std::string text = "  LUT" + std::to_string(inputs) + " #(\n    .TABLE(" + std::to_string(1 << inputs) + "'h" +
                           (inputs == 2   ? "6"
                            : inputs == 3 ? "96"
                                          : "6996") +
                           ")\n  ) g" + std::to_string(id) + " (\n";
        const std::string me = "g" + std::to_string(id);
        for (int k = 0; k < inputs; ++k) {
            Driver from = chance(0.7) ? before[below(before.size())] : all[below(all.size())];
            // Some wires come from far away in the same clock, and as many as asked for from another one.
            if (chance(0.05) && !recent_[clock].empty()) from = recent_[clock][below(recent_[clock].size())];
            if (const int other = static_cast<int>(below(clocks));
                r_.mixing > 0 && chance(r_.mixing) && !recent_[other].empty())
                from = recent_[other][below(recent_[other].size())];
            text += std::string("    .") + static_cast<char>('A' + k) + "(" + name(from) + "),\n";
            wire(pin(from), me + "/" + static_cast<char>('A' + k), 0.05, 0.6);
        }
        std::fprintf(v_.get(), "%s    .Y(n%u)\n  );\n", text.c_str(), id);
        std::fprintf(d_.get(), "   )))\n (CELL (CELLTYPE \"LUT%d\") (INSTANCE g%u) (DELAY (ABSOLUTE\n", inputs, id);
        for (int k = 0; k < inputs; ++k) {
            const auto up = triple(0.08, 0.16);
            // Delays of rising and falling outputs differ, but not with the input's edge: that is what such files give.
            std::fprintf(d_.get(), "   (IOPATH %c Y %s %s)\n", 'A' + k, up.data(), triple(0.08, 0.16).data());
        }
        std::fprintf(d_.get(), "  ))) (CELL (CELLTYPE \"made\") (INSTANCE) (DELAY (ABSOLUTE\n");
        return {id, 'g'};
    }

    void capture(size_t i) {
        ++count_;
        const auto& r = registers_[i];
        Driver data = r.data;
        // Signals change clocks from register to register, as they should.
        if (chance(0.01)) data = {static_cast<std::uint32_t>(below(registers_.size())), 'r'};
        const std::string me = "r" + std::to_string(i);
        std::string clock = "clk[" + std::to_string(r.clock) + "]", clock_pin = clock;
        if (r_.tree) std::tie(clock, clock_pin) = leaf(r.clock);
        std::fprintf(v_.get(), "  REG %s (\n    .D(%s),\n    .CK(%s),\n    .Q(q%zu)\n  );\n", me.c_str(),
                     name(data).c_str(), clock.c_str(), i);
        wire(pin(data), me + "/D", 0.05, 0.6);
        wire(clock_pin, me + "/CK", 0.1, 0.2);
        std::fprintf(
            d_.get(),
            "   )))\n (CELL (CELLTYPE \"REG\") (INSTANCE %s) (DELAY (ABSOLUTE (IOPATH (posedge CK) Q %s %s)))\n  "
            "(TIMINGCHECK (SETUPHOLD D (posedge CK) %s %s)))\n (CELL (CELLTYPE \"made\") (INSTANCE) (DELAY (ABSOLUTE\n",
            me.c_str(), triple(0.2, 0.3).data(), triple(0.2, 0.3).data(), triple(0.04, 0.06).data(),
            triple(0.01, 0.02).data());
        if (i + 1 == registers_.size()) std::fprintf(d_.get(), "   )))\n");
    }

    void buffer(const std::string& cell, const std::string& from_net, const std::string& from_pin,
                const std::string& to_net) {
        ++count_;
        std::fprintf(v_.get(), "BUF %s (.A(%s), .Y(%s));\n", cell.c_str(), from_net.c_str(), to_net.c_str());
        wire(from_pin, cell + "/A", 0.1, 0.2);
        std::fprintf(d_.get(),
                     "   )))\n (CELL (CELLTYPE \"BUF\") (INSTANCE %s) (DELAY (ABSOLUTE (IOPATH A Y %s %s)))) (CELL "
                     "(CELLTYPE \"made\") (INSTANCE) (DELAY (ABSOLUTE\n",
                     cell.c_str(), triple(0.1, 0.2).data(), triple(0.1, 0.2).data());
    }

    /// A leaf buffer for every 64 registers of a clock, a branch for every 32 leaves.
    std::tuple<std::string, std::string> leaf(int clock) {
        auto& n = on_tree_[clock];
        const std::string c = std::to_string(clock), b = c + "_" + std::to_string(n / (64 * 32)),
                          l = c + "_" + std::to_string(n / 64);
        if (n % (64 * 32) == 0) buffer("kb" + b, "clk[" + c + "]", "clk[" + c + "]", "kbn" + b);
        if (n % 64 == 0) buffer("kl" + l, "kbn" + b, "kb" + b + "/Y", "kln" + l);
        ++n;
        return {"kln" + l, "kl" + l + "/Y"};
    }

    struct Register {
        int clock = 0;
        Driver data;
    };
    const Recipe& r_;
    std::mt19937 random_;
    File v_, d_;
    std::vector<Register> registers_;
    std::vector<Driver> recent_[clocks], ends_;
    size_t blocks_ = 1, tables_ = 0, count_ = 0, on_tree_[clocks] = {};
};

}  // namespace

Made make_netlist(const Recipe& recipe, const std::string& folder) {
    Made out{folder + "/made.lib", folder + "/made.v", folder + "/made.sdf", folder + "/made.sdc", 0};
    library(out.library);
    out.cells = Maker(recipe, folder).run();
    const auto f = create(out.constraints);
    const double period[clocks] = {8, 10, 5, 12.5, 20};
    for (int c = 0; c < clocks; ++c)
        std::fprintf(f.get(),
                     "create_clock -name c%d -period %g {clk[%d]}\nset_clock_uncertainty 0.05 [get_clocks c%d]\n", c,
                     period[c], c, c);
    if (recipe.tree) std::fprintf(f.get(), "set_propagated_clock [all_clocks]\n");
    for (int i = 0; i < ports; ++i)
        std::fprintf(f.get(), "set_input_delay -clock c%d %g {d[%d]}\nset_output_delay -clock c%d %g {y[%d]}\n",
                     i % clocks, 1.0 + i * 0.001, i, i % clocks, 1.0 + i * 0.001, i);
    std::fprintf(f.get(),
                 "set_false_path -from [get_clocks c0] -to [get_clocks c4]\nset_multicycle_path 2 -setup -from "
                 "[get_clocks c2] -to [get_clocks c1]\n");
    return out;
}

}  // namespace kp::bench
