// SPDX-License-Identifier: GPL-3.0-or-later
// How fast descriptions are read: the ports of generated Verilog and VHDL of growing size. Bytes a second are what
// counts.
#include "core/hdl/read_ports.hpp"

#include <benchmark/benchmark.h>
#include <string>

namespace {

std::string verilog(size_t bytes) {
    std::string out;
    int i = 0;
    for (; out.size() < bytes; ++i) {
        const auto n = std::to_string(i);
        out += "module m" + n +
               " #(parameter W = 8) (input clk, input [W-1:0] a, b, output reg [2*W-1:0] q);\n  wire [W-1:0] t;\n";
        for (int k = 0; k < 30; ++k)
            out += "  always @(posedge clk) begin if (a[" + std::to_string(k % 8) + "]) q <= a * b + " +
                   std::to_string(k) + "; else q <= t; end // line\n";
        out += "  m" + std::to_string(i + 1) + " #(.W(W)) u (.clk(clk), .a(a), .b(b), .q());\nendmodule\n";
    }
    return out + "module m" + std::to_string(i) + " (input clk, input [7:0] a, b, q); endmodule\n";
}

std::string vhdl(size_t bytes) {
    std::string out;
    int i = 0;
    for (; out.size() < bytes; ++i) {
        const auto n = std::to_string(i);
        out += "entity e" + n +
               " is generic (w : natural := 8); port (clk : in std_logic; a, b : in std_logic_vector(w-1 downto 0); q "
               ": out std_logic_vector(2*w-1 downto 0)); end e" +
               n + ";\narchitecture r of e" + n + " is signal t : std_logic; begin\n";
        for (int k = 0; k < 30; ++k)
            out += "  process (clk) begin if rising_edge(clk) then if a(" + std::to_string(k % 8) +
                   ") = '1' then q <= a * b; end if; end if; end process; -- line\n";
        out += "  u : entity work.e" + std::to_string(i + 1) + " port map (clk, a, b, q);\nend r;\n";
    }
    return out;
}

void ports(benchmark::State& state, const char* file, const std::string& text) {
    const kp::SourceText source{file, text};
    for (auto _ : state) {
        auto read = kp::read_ports({&source, 1}, std::string(file) == "a.vhd" ? "e0" : "m0");
        if (!read) state.SkipWithError("does not read");
        benchmark::DoNotOptimize(read);
    }
    state.SetBytesProcessed(static_cast<int64_t>(state.iterations()) * static_cast<int64_t>(text.size()));
}

void read_verilog(benchmark::State& state) {
    ports(state, "a.v", verilog(static_cast<size_t>(state.range(0))));
}
void read_vhdl(benchmark::State& state) {
    ports(state, "a.vhd", vhdl(static_cast<size_t>(state.range(0))));
}

}  // namespace

BENCHMARK(read_verilog)->Arg(500'000)->Arg(5'000'000)->Unit(benchmark::kMillisecond);
BENCHMARK(read_vhdl)->Arg(500'000)->Arg(5'000'000)->Unit(benchmark::kMillisecond);
