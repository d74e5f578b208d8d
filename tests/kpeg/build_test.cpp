// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/format/json/json_text.hpp"
#include "core/format/json/world_json.hpp"
#include "tests/synthesis/same.hpp"
#include "tests/kpeg/runner.hpp"

#include <cmath>
#include <filesystem>
#include <nlohmann/json.hpp>
#include <set>

namespace kpeg_test {
namespace {

using Json = nlohmann::json;

struct BuildFolder : Demo {
    BuildFolder() : Demo("vane") {}
    std::string write(const std::string& name, const std::string& text) const {
        std::ofstream(*this / name) << text;
        return *this / name;
    }
};

Json json_of(const std::string& text) {
    auto j = Json::parse(text, nullptr, false);
    EXPECT_FALSE(j.is_discarded()) << text.substr(0, 400);
    return j;
}

const char* counter =
    "module top #(parameter N = 8) (input clk, rst_n, en, output reg [N-1:0] q, output carry);\n"
    "  always @(posedge clk or negedge rst_n) if (!rst_n) q <= 0; else if (en) q <= q + 1;\n"
    "  assign carry = &q;\nendmodule\n";

/// Constraints of every endpoint of the counter.
const char* all_of_counter =
    "create_clock -name clk -period 10 [get_ports clk]\nset_input_delay -clock clk 0 [get_ports {rst_n en}]\n"
    "set_output_delay -clock clk 0 [get_ports {q* carry}]\n";

TEST(KpegMap, WritesANetlistOfTheCellsThatItsAnswerNames) {
    const BuildFolder f;
    const auto source = f.write("c.v", counter);
    const auto a =
        run("map " + source + " --top top --param N=4 --part SKR11-Q144-MN --out " + (f / "n.v") + " --json -");
    ASSERT_EQ(a.status, 0) << a.err;
    const auto j = json_of(a.out);
    EXPECT_EQ(j["schema"], "kitepeg.map/1");
    EXPECT_TRUE(std::filesystem::exists(j["library"].get<std::string>()));
    const auto time =
        run("time --netlist " + (f / "n.v") + " --top top --lib " + j["library"].get<std::string>() + " --sdc " +
            f.write("c.sdc", "create_clock -name clk -period 10 [get_ports clk]\n") + " --json -");
    EXPECT_EQ(time.status, 0) << time.err;
    EXPECT_EQ(json_of(time.out)["summary"]["setup"]["endpoints"].get<int>(), 4);
}

TEST(KpegMap, RefusesWithFileAndLineAndWritesNothing) {
    const BuildFolder f;
    const auto source = f.write("c.v", "module top(input a, output b);\n\nassign b = missing;\nendmodule\n");
    const auto a = run("map " + source + " --part SKR11-Q144-MN --out " + (f / "n.v") + " --json -");
    EXPECT_EQ(a.status, 2);
    EXPECT_NE(a.err.find("c.v:3"), std::string::npos) << a.err;
    EXPECT_NE(a.err.find("'missing'"), std::string::npos) << a.err;
    EXPECT_FALSE(std::filesystem::exists(f / "n.v"));
    const auto two = f.write("d.v", "module top(input a, c, output b);\nassign b = a;\nassign b = c;\nendmodule\n");
    const auto b = run("map " + two + " --part SKR11-Q144-MN --out " + (f / "n.v") + " --json -");
    EXPECT_EQ(b.status, 1);
    EXPECT_EQ(json_of(b.out)["messages"][0]["code"], "two-drivers");
    EXPECT_FALSE(std::filesystem::exists(f / "n.v"));
}

/// What the contract says of places and wires, read from the files alone.
struct Built {
    Json placed, build;
    kp::Part part;
    std::string sdf;
    std::map<std::string, Json> by_name;

    explicit Built(const std::string& folder, const std::string& part_file) {
        placed = json_of(slurp(folder + "/placed.json"));
        build = json_of(slurp(folder + "/build.json"));
        sdf = slurp(folder + "/delays.sdf");
        const auto text = slurp(part_file);
        auto read = kp::read_part(text, part_file);
        EXPECT_TRUE(read.ok());
        part = read.take();
        for (const auto& cell : placed["cells"]) by_name[cell["name"]] = cell;
    }
    static std::string kind(const std::string& type) {
        if (type.starts_with("SK_REGISTER") || type == "SK_LATCH") return "register";
        if (type.starts_with("SK_PAD") || type.starts_with("SK_PAIR")) return "pad";
        return type == "SK_MEMORY" ? "memory" : type == "SK_CLOCK_ROOT" ? "root" : type == "SK_PLL" ? "pll" : "look";
    }
    void check_places() const {
        std::set<std::tuple<std::string, int, int, int>> seen;
        const auto& f = part.fabric;
        for (const auto& c : placed["cells"]) {
            const auto k = kind(c["type"]);
            const int x = c["column"], y = c["row"], slot = c["slot"];
            EXPECT_TRUE(seen.insert({k, x, y, slot}).second) << c;
            EXPECT_LT(slot, f.cells_per_site) << c;
            std::string special;
            for (const auto& s : f.special)
                if (std::find(s.columns.begin(), s.columns.end(), x) != s.columns.end()) special = s.kind;
            if (k != "pad") {
                EXPECT_EQ(special == "memory", k == "memory") << c;
                EXPECT_NE(special, "multiply") << c;
                EXPECT_TRUE(x >= 0 && x < f.columns && y >= 0 && y < f.rows) << c;
                continue;
            }
            const auto* pin = part.pin(c["pin"]);
            ASSERT_NE(pin, nullptr) << c;
            for (const auto& r : part.regions)
                if (r.name == pin->region)
                    EXPECT_TRUE(x >= r.left - 1 && x <= r.right + 1 && y >= r.bottom - 1 && y <= r.top + 1) << c;
        }
    }
    /// "a/Y" without backslashes: the cell.
    Json cell(std::string end) const {
        std::erase(end, '\\');
        return by_name.at(end.substr(0, end.rfind('/')));
    }
    void check_wires(double factor) const {
        std::stringstream in(sdf);
        int wires = 0;
        for (std::string word; in >> word;) {
            if (word != "(INTERCONNECT") continue;
            std::string from, to, triple;
            in >> from >> to >> triple;
            double min = 0, typ = 0, max = 0;
            ASSERT_EQ(std::sscanf(triple.c_str(), "(%lf:%lf:%lf)", &min, &typ, &max), 3) << triple;
            const auto a = cell(from), b = cell(to);
            const auto& f = part.fabric;
            EXPECT_NEAR(min, max * f.fast_factor, 2e-4);
            EXPECT_NEAR(typ, max * f.typical_factor, 2e-4);
            if (a["type"] == "SK_CLOCK_ROOT") {
                EXPECT_GE(max, f.clock_ns * factor - 1e-4);
                EXPECT_LE(max, (f.clock_ns + f.clock_skew_ns) * factor + 1e-4);
            } else {
                const double dx = std::abs(a["column"].get<int>() - b["column"].get<int>()),
                             dy = std::abs(a["row"].get<int>() - b["row"].get<int>());
                EXPECT_NEAR(max, (f.base_ns + f.per_column_ns * dx + f.per_row_ns * dy) * factor, 1e-4)
                    << from << " " << to;
            }
            ++wires;
        }
        EXPECT_GT(wires, 10);
    }
};

TEST(KpegBuild, PlacesLegallyAndWritesTheDelaysOfItsPlaces) {
    const BuildFolder f;
    const auto source = f.write("c.v", counter);
    const auto sdc = f.write("c.sdc", all_of_counter);
    const auto pins = f.write("p.csv", "port,pin\nclk,20\nq[0],22\n");
    const auto a = run("build " + source + " --top top --part SKR11-Q144-LN --sdc " + sdc + " --pins " + pins +
                       " --out " + (f / "o") + " --json -");
    ASSERT_EQ(a.status, 0) << a.err << a.out;
    const Built b(f / "o", KP_SOURCE "/data/parts/skr11-q144.part.json");
    b.check_places();
    b.check_wires(1.18);
    EXPECT_EQ(b.by_name.at("pad_clk")["pin"], "20");
    EXPECT_EQ(b.by_name.at("pad_q_0")["pin"], "22");
    EXPECT_EQ(json_of(a.out), b.build);
    EXPECT_EQ(b.build["timing"]["setup"]["failing"], 0);
    double sum = b.build["power"]["static_w"];
    for (const auto& g : b.build["power"]["groups"]) sum += g["w"].get<double>();
    EXPECT_NEAR(sum, b.build["power"]["total_w"].get<double>(), 1e-12);
    // The same again, to the byte; another seed, other places.
    const auto again = run("build " + source + " --top top --part SKR11-Q144-LN --sdc " + sdc + " --pins " + pins +
                           " --out " + (f / "o2") + " --json -");
    for (const char* name : {"netlist.v", "delays.sdf", "pins.csv", "placed.json"})
        EXPECT_EQ(slurp(f / "o/" + name), slurp(f / "o2/" + name)) << name;
    const auto other = run("build " + source + " --top top --part SKR11-Q144-LN --sdc " + sdc + " --pins " + pins +
                           " --seed 9 --out " + (f / "o3") + " --json -");
    ASSERT_EQ(other.status, 0);
    EXPECT_NE(slurp(f / "o/placed.json"), slurp(f / "o3/placed.json"));
    // From a later stage: what is there is kept.
    const auto later = run("build " + source + " --top top --part SKR11-Q144-LN --sdc " + sdc + " --pins " + pins +
                           " --from delays --out " + (f / "o2") + " --json -");
    ASSERT_EQ(later.status, 0) << later.err;
    EXPECT_EQ(json_of(later.out)["stages"][2]["state"], "kept");
    EXPECT_EQ(json_of(later.out)["timing"], b.build["timing"]);
    // Pegs that were swapped since are not gone on from; the pins of then stand in the folder.
    const auto swapped = f.write("p.csv", "port,pin\nclk,20\nq[0],23\n");
    const auto from = [&](const std::string& more) {
        return run("build " + source + " --top top --part SKR11-Q144-LN --sdc " + sdc + more + " --out " + (f / "o2") +
                   " --json -");
    };
    const auto refused = from(" --pins " + swapped + " --from place");
    EXPECT_EQ(refused.status, 2);
    EXPECT_NE(refused.err.find("build from 'pins'"), std::string::npos) << refused.err;
    EXPECT_EQ(slurp(f / "o/placed.json"), slurp(f / "o2/placed.json")) << "nothing was changed";
    EXPECT_EQ(from(" --from place").status, 0) << "who asks for no pins goes on from those that are there";
    EXPECT_EQ(from(" --pins " + swapped + " --from pins").status, 0);
    EXPECT_EQ(from(" --pins " + swapped + " --from place").status, 0);
}

TEST(KpegBuild, ItsVerdictIsOfWhatWasLookedAt) {
    const BuildFolder f;
    const auto source = f.write("c.v", counter);
    const auto build = [&](const std::string& constraints, int status) {
        const auto sdc = constraints.empty() ? "" : " --sdc " + f.write("v.sdc", constraints);
        const auto a =
            run("build " + source + " --top top --part SKR11-Q144-LN" + sdc + " --out " + (f / "v") + " --json -");
        EXPECT_EQ(a.status, status) << constraints << a.err;
        return json_of(a.out);
    };
    const auto met = build(all_of_counter, 0);
    EXPECT_EQ(met["verdict"], "met");
    EXPECT_EQ(met["failing"], 0);
    EXPECT_GT(met["coverage"]["endpoints"].get<int>(), 8);
    EXPECT_EQ(met["coverage"]["endpoints"], met["coverage"]["constrained"]);
    EXPECT_EQ(met["constraints"]["commands"], 3);
    EXPECT_TRUE(met["constraints"]["refused"].empty());
    // Nobody said when anything has to be there.
    const auto none = build("", 1);
    EXPECT_EQ(none["verdict"], "not constrained");
    EXPECT_EQ(none["coverage"]["constrained"], 0);
    EXPECT_EQ(build("create_clock -name clk -period 10 [get_ports clk]\n", 1)["verdict"], "not constrained");
    // A port that is not there: the line, whatever else is met.
    const auto wrong = build(std::string(all_of_counter) + "set_input_delay -clock clk 1 [get_ports enable]\n", 1);
    EXPECT_EQ(wrong["verdict"], "constraints refused");
    ASSERT_GE(wrong["constraints"]["refused"].size(), 1U);
    EXPECT_EQ(wrong["constraints"]["refused"][0]["line"], 4);
    EXPECT_NE(wrong["constraints"]["refused"][0]["text"].get<std::string>().find("enable"), std::string::npos);
    // Read and not used.
    const auto idle = build(std::string(all_of_counter) + "set_operating_conditions slow\n", 0);
    ASSERT_EQ(idle["constraints"]["without effect"].size(), 1U);
    EXPECT_EQ(idle["constraints"]["without effect"][0]["line"], 4);
    // Too fast, in setup or in the width of the clock alone.
    std::string fast = all_of_counter;
    const auto missed = build(fast.replace(fast.find("-period 10"), 10, "-period 1"), 1);
    EXPECT_EQ(missed["verdict"], "missed");
    EXPECT_GT(missed["failing"].get<int>(), 0);
    const auto wide = f.write("w.v", "module top(input a, c, output b);\nassign b = a;\nassign b = c;\nendmodule\n");
    const auto not_built = run("build " + wide + " --part SKR11-Q144-LN --out " + (f / "w") + " --json -");
    EXPECT_EQ(not_built.status, 1);
    EXPECT_EQ(json_of(not_built.out)["verdict"], "not built");
    EXPECT_TRUE(json_of(not_built.out)["coverage"].is_null());
}

TEST(KpegBuild, HoldIsRepairedWhereSetupLeavesRoom) {
    const BuildFolder f;
    const auto source = f.write("h.v",
                                "module top(input clk, input [3:0] d, output reg [3:0] q);\n  reg [3:0] r;\n"
                                "  always @(posedge clk) begin r <= d; q <= r ^ d; end\nendmodule\n");
    const auto common =
        "create_clock -name clk -period 10 [get_ports clk]\nset_input_delay -clock clk -min -2.5 [get_ports d*]\n"
        "set_output_delay -clock clk 0 [get_ports q*]\n";
    const auto sdc = f.write("h.sdc", common + std::string("set_input_delay -clock clk -max 1 [get_ports d*]\n"));
    const auto build = "build " + source + " --top top --part SKR11-Q144-LN --sdc ";
    const auto plain = run(build + sdc + " --out " + (f / "plain") + " --json -");
    ASSERT_EQ(plain.status, 1) << plain.err;
    const auto failing = json_of(plain.out)["timing"]["hold"]["failing"].get<int>();
    EXPECT_GE(failing, 8);
    EXPECT_TRUE(json_of(plain.out)["steps"].empty());

    const auto mended = run(build + sdc + " --fix-hold --out " + (f / "mended") + " --json -");
    ASSERT_EQ(mended.status, 0) << mended.err << mended.out;
    const auto j = json_of(mended.out);
    EXPECT_EQ(j["timing"]["hold"]["failing"], 0);
    EXPECT_EQ(j["timing"]["setup"]["failing"], 0);
    ASSERT_EQ(j["steps"].size(), 1U);
    const auto& step = j["steps"][0];
    EXPECT_EQ(step["state"], "taken");
    EXPECT_EQ(step["before"]["hold_failing"], failing);
    EXPECT_EQ(step["after"]["hold_failing"], 0);
    EXPECT_GE(step["cells"].get<int>(), failing);
    // What the step promised is what the files give; places and wires keep the contract.
    EXPECT_NEAR(step["after"]["hold"].get<double>(), j["timing"]["hold"]["wns"].get<double>(), 2e-3);
    EXPECT_NEAR(step["after"]["setup"].get<double>(), j["timing"]["setup"]["wns"].get<double>(), 2e-3);
    const Built b(f / "mended", KP_SOURCE "/data/parts/skr11-q144.part.json");
    b.check_places();
    b.check_wires(1.18);
    // Places that are kept are not changed, and that is said.
    const auto kept = json_of(run(build + sdc + " --fix-hold --from delays --out " + (f / "plain") + " --json -").out);
    EXPECT_TRUE(kept["steps"].empty());
    EXPECT_EQ(kept["messages"].back()["code"], "step");
    // Where setup has no room, nothing is touched and the reason is said.
    const auto full = f.write("f.sdc", common + std::string("set_input_delay -clock clk -max 9 [get_ports d*]\n"));
    const auto tight = json_of(run(build + full + " --fix-hold --out " + (f / "tight") + " --json -").out);
    EXPECT_EQ(tight["steps"][0]["state"], "not possible");
    EXPECT_NE(tight["steps"][0]["why"].get<std::string>().find("setup leaves no room"), std::string::npos);
    EXPECT_EQ(slurp(f / "tight/netlist.v"), slurp(f / "plain/netlist.v"));
}

TEST(KpegBuild, AWideRegisterGetsCopiesIfThatHelps) {
    const BuildFolder f;
    const auto source = f.write("w.v",
                                "module top(input clk, input d, output reg q);\n  reg go, two;\n  reg [299:0] r;\n"
                                "  always @(posedge clk) begin two <= ~two & d; go <= ~go | two;\n"
                                "    r <= {r[298:0], d} ^ {300{go}}; q <= ^r; end\nendmodule\n");
    const auto sdc = f.write("w.sdc", "create_clock -name clk -period 6 [get_ports clk]\n");
    const auto build = "build " + source + " --top top --part SKR11-Q144-LN --sdc " + sdc;
    const auto a = run(build + " --most-loads 40 --out " + (f / "o") + " --json -");
    ASSERT_NE(a.status, 2) << a.err;
    const auto j = json_of(a.out);
    ASSERT_EQ(j["steps"].size(), 1U);
    EXPECT_EQ(j["steps"][0]["state"], "taken") << j["steps"];
    EXPECT_GE(j["steps"][0]["cells"].get<int>(), 7);
    EXPECT_GT(j["steps"][0]["after"]["setup"].get<double>(), j["steps"][0]["before"]["setup"].get<double>());
    EXPECT_NE(slurp(f / "o/netlist.v").find("go_reg_copy0"), std::string::npos)
        << slurp(f / "o/netlist.v").substr(0, 3000);
    Built(f / "o", KP_SOURCE "/data/parts/skr11-q144.part.json").check_places();
    // `two` and what comes from the pad are never copied: two copies could settle differently.
    EXPECT_EQ(slurp(f / "o/netlist.v").find("two_reg_copy"), std::string::npos);
    // What an exception names stays one: the copy would not have it.
    f.write(
        "w.sdc",
        "create_clock -name clk -period 6 [get_ports clk]\nset_multicycle_path 2 -setup -from [get_cells go_reg]\n");
    const auto named = json_of(run(build + " --most-loads 40 --out " + (f / "e") + " --json -").out);
    EXPECT_EQ(named["steps"][0]["state"], "not needed") << named["steps"];
    const auto none = json_of(run(build + " --most-loads 4000 --out " + (f / "n") + " --json -").out);
    EXPECT_EQ(none["steps"][0]["state"], "not needed");
}

TEST(KpegBuild, SaysWhatFailsAndWhatCannotBeBuilt) {
    const BuildFolder f;
    const auto source = f.write("c.v", counter);
    const auto fast = f.write("c.sdc", "create_clock -name clk -period 0.5 [get_ports clk]\n");
    const auto a =
        run("build " + source + " --top top --part SKR11-Q144-MN --sdc " + fast + " --out " + (f / "o") + " --json -");
    EXPECT_EQ(a.status, 1);
    EXPECT_GT(json_of(a.out)["timing"]["setup"]["failing"].get<int>(), 0);
    const auto wide = f.write("w.v", "module top(input [199:0] a, output y); assign y = ^a; endmodule\n");
    const auto b = run("build " + wide + " --part SKR11-Q144-MN --out " + (f / "o2") + " --json -");
    EXPECT_EQ(b.status, 1);
    const auto j = json_of(b.out);
    EXPECT_FALSE(j["built"].get<bool>());
    EXPECT_EQ(j["stages"][1]["state"], "failed");
    EXPECT_NE(j["stages"][1]["why"], nullptr);
    EXPECT_EQ(run("build " + source + " --out " + (f / "o3") + " --json -").status, 2);
    EXPECT_EQ(run("build " + source + " --part SKR11-Q144-MN --from nowhere --out " + (f / "o3") + " --json -").status,
              2);
    EXPECT_FALSE(std::filesystem::exists(f / "o3"));
    const auto c = run("build " + source + " --part SKR11-Q144-MN --out " + source + " --json -");
    EXPECT_EQ(c.status, 2);
    EXPECT_EQ(c.err, "kpeg: --out " + source + " is not a folder; name a folder for the results, or one to be made.\n");
    EXPECT_EQ(slurp(source), counter);
}

TEST(KpegBuild, AProjectIsBuiltWithItsPegs) {
    const BuildFolder f;
    const auto a = run("build " KP_SOURCE "/demo/vane/vane-closed.kpeg --out " + (f / "o") + " --json -");
    ASSERT_EQ(a.status, 0) << a.err << a.out;
    const Built b(f / "o", KP_SOURCE "/data/parts/skr11-q144.part.json");
    b.check_places();
    b.check_wires(1.0);
    EXPECT_EQ(b.build["stages"][0]["state"], "not needed");
    const auto project = json_of(slurp(KP_SOURCE "/demo/vane/vane-closed.kpeg"));
    for (const auto& peg : project["pegs"])
        if (peg["port"] == "osc_20") EXPECT_EQ(b.by_name.at("pad_osc_20")["pin"], peg["pin"]);
    EXPECT_EQ(b.build["loose"], 0);
}

TEST(KpegSimulate, ComparesWithWhatIsExpected) {
    const BuildFolder f;
    const auto source = f.write("c.v", counter);
    ASSERT_EQ(
        run("map " + source + " --top top --part SKR11-Q144-MN --out " + (f / "n.v") + " --json " + (f / "m.json"))
            .status,
        0);
    const auto vectors =
        f.write("v.csv", "time,rst_n,en,=q,=carry\n0,0,1,0x00,0\n100,1,,0x0a,0\n200,,0,0x0a,0\n300,,,0x0b,-\n");
    const auto a =
        run("simulate --netlist " + (f / "n.v") + " --top top --lib " KP_SOURCE "/data/cells/skerry.lib --vectors " +
            vectors + " --clock clk=10 --vcd " + (f / "o.vcd") + " --json -");
    EXPECT_EQ(a.status, 1) << a.err;
    const auto j = json_of(a.out);
    EXPECT_EQ(j["failed"], 1);
    EXPECT_TRUE(j["rows"][1]["ok"].get<bool>()) << j["rows"][1];
    EXPECT_FALSE(j["rows"][3]["ok"].get<bool>());
    EXPECT_EQ(j["rows"][3]["observed"]["q"], "00001010");
    EXPECT_NE(slurp(f / "o.vcd").find("$enddefinitions"), std::string::npos);
    EXPECT_EQ(run("simulate --netlist " + (f / "n.v") + " --lib " KP_SOURCE "/data/cells/skerry.lib --json -").status,
              2);
    EXPECT_EQ(run("simulate --netlist " + (f / "n.v") +
                  " --lib " KP_SOURCE "/data/cells/skerry.lib --all-combinations --json -")
                  .status,
              2);
}

TEST(KpegChip, PlaysSvfIntoTheProjectsPart) {
    const BuildFolder f;
    const auto svf = f.write("i.svf", "STATE RESET;\nSTATE IDLE;\nSDR 32 TDI (0) TDO (1A2460FF);\n");
    const auto a = run("chip " + (f / "vane.kpeg") + " --svf " + svf + " --json -");
    ASSERT_EQ(a.status, 0) << a.err;
    const auto j = json_of(a.out);
    EXPECT_EQ(j["idcode"], "0x1A2460FF");
    EXPECT_EQ(j["steps"][2]["tdo"], "1A2460FF");
    EXPECT_EQ(j["steps"][2]["state"], "IDLE");
    EXPECT_FALSE(j["configured"].get<bool>());
    EXPECT_EQ(run("chip " + (f / "vane.kpeg") + " --svf " + svf + " --fault other-part --json -").status, 1);
    EXPECT_EQ(run("chip " + (f / "vane.kpeg") + " --svf " + svf + " --fault nothing --json -").status, 2);
    EXPECT_EQ(run("chip " + (f / "vane.kpeg") + " --svf " + f.write("b.svf", "NONSENSE;\n") + " --json -").status, 2);
}

TEST(VaneHdl, IsCycleForCycleWhatTheNetlistBesideItSays) {
    using namespace kp;
    synthesis::SideBySide both(synthesis::file_text(KP_SOURCE "/demo/vane/vane_hdl.v"), "vane");
    ASSERT_TRUE(both.good);
    const auto text = synthesis::file_text(KP_SOURCE "/demo/vane/vane.v");
    const SourceText source{"vane.v", text};
    const auto netlist = read_netlist({&source, 1}, "vane", synthesis::shipped_library());
    ASSERT_TRUE(netlist.ok());
    const auto circuit = simulation::Circuit::of(netlist.value(), synthesis::shipped_library());
    simulation::EventSimulator old(circuit.value());
    std::mt19937 random(4);
    const auto set = [&](const std::string& port, const std::string& bits) {
        both.set(port, bits);
        for (const auto& g : simulation::groups_of(netlist.value()))
            if (g.name == port)
                for (size_t i = 0; i < bits.size(); ++i) old.set(g.ports[i], simulation::bit_of(bits[i] == '1'));
    };
    for (const char* name : {"osc_20", "hold_n", "zero_n"}) set(name, "0");
    set("gray", "00000");
    const auto settle = [&] {
        static_cast<void>(both.simulator->run_until(both.simulator->now() + 1000));
        static_cast<void>(old.run_until(old.now() + 1000));
    };
    settle();
    for (int cycle = 0; cycle < 70000; ++cycle) {
        if (random() % 5000 == 0) {
            set("gray", random() % 2 ? "01101" : "10010");
            set("hold_n", random() % 2 ? "1" : "0");
            set("zero_n", random() % 2 ? "1" : "0");
        }
        for (const char* level : {"1", "0"}) {
            set("osc_20", level);
            settle();
        }
        if (cycle % 101) continue;
        for (std::uint32_t p = 0; p < netlist.value().ports.size(); ++p) {
            const auto& port = netlist.value().ports[p];
            if (port.direction != Direction::out) continue;
            for (std::uint32_t q = 0; q < both.netlist.ports.size(); ++q)
                if (both.netlist.ports[q].name == port.name)
                    ASSERT_EQ(simulation::letter(old.port(p)), simulation::letter(both.simulator->port(q)))
                        << port.name << " in cycle " << cycle;
        }
    }
}

TEST(KpegBuild, PowerTakesItsActivityFromAValueChangeDump) {
    const BuildFolder f;
    const auto source = f.write("c.v", counter);
    const auto sdc = f.write("c.sdc", "create_clock -name clk -period 10 [get_ports clk]\n");
    const auto build = "build " + source + " --top top --part SKR11-Q144-MN --sdc " + sdc + " --out " + (f / "out");
    ASSERT_LE(run(build + " --json -").status, 1);
    const auto vectors = f.write("v.csv", "time,rst_n,en\n0,0,0\n100,1,1\n2660,1,1\n");
    const auto library = std::string(KP_SOURCE "/data/cells/skerry.lib");
    const auto simulated = run("simulate --netlist " + (f / "out/netlist.v") + " --lib " + library + " --vectors " +
                               vectors + " --clock clk=10 --vcd " + (f / "run.vcd") + " --json -");
    ASSERT_EQ(simulated.status, 0) << simulated.err;
    const auto a = run(build + " --activity " + (f / "run.vcd") + " --json -");
    ASSERT_LE(a.status, 1) << a.err;
    const auto j = json_of(a.out);
    const auto& first = j["power"]["assumed"][0];
    EXPECT_NE(first["from"].get<std::string>().find("run.vcd"), std::string::npos) << first;
    // A counter's bits change less often from bit to bit: 1 + 1/2 + 1/4 … < 2 changes a clock for eight of them, while
    // one in eight is assumed for each of its nets.
    const auto plain = json_of(run(build + " --json -").out);
    EXPECT_NE(j["power"]["total_w"], plain["power"]["total_w"]);
    EXPECT_EQ(run(build + " --activity " + sdc + " --json -").status, 2);
    EXPECT_EQ(run(build + " --activity none.vcd --json -").status, 2);
}

TEST(KpegBuild, PowerOfBanksAndModulesAddsUpToItsGroups) {
    const BuildFolder f;
    const auto source = f.write(
        "m.v",
        "module half(input c, d, output reg q); always @(posedge c) q <= q ^ d; endmodule\n"
        "module top(input clk, a, b, output x, y);\n half one(clk, a, x); half two(clk, b & x, y);\nendmodule\n");
    const auto a = run("build " + source + " --top top --part SKR11-Q144-MN --out " + (f / "out") + " --json -");
    ASSERT_LE(a.status, 1) << a.err;
    const auto power = json_of(a.out)["power"];
    std::map<std::string, double> groups;
    for (const auto& g : power["groups"]) groups[g["what"]] = g["w"];
    double banks = 0, modules = 0;
    for (const auto& b : power["banks"]) banks += b["w"].get<double>();
    std::set<std::string> paths;
    for (const auto& m : power["modules"]) {
        modules += m["w"].get<double>();
        paths.insert(m["path"]);
    }
    EXPECT_NEAR(banks, groups["pad"], 1e-12);
    EXPECT_NEAR(modules, groups["logic"] + groups["wire"] + groups["memory"], 1e-12);
    EXPECT_GT(banks, 0);
    EXPECT_TRUE(paths.count("one") && paths.count("two")) << power["modules"];
}

}  // namespace
}  // namespace kpeg_test
