// SPDX-License-Identifier: GPL-3.0-or-later
// Links on lanes seen by rules, comparison and handoff: two on one lane, and one where the board wires another, once
// left the program without a word.
#include "tests/kpeg/runner.hpp"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

namespace kpeg_test {
namespace {

using Json = nlohmann::json;

struct Uplink : Demo {
    Json project = Json::parse(slurp(KP_SOURCE "/demo/uplink/uplink.kpeg"));
    explicit Uplink(const char* name) : Demo(name) { keep("uplink.kpeg"); }
    void keep(const std::string& name) const { std::ofstream(*this / name) << project.dump(1); }
    Json& link(const std::string& name) {
        for (auto& l : project["links"])
            if (l["name"] == name) return l;
        throw std::runtime_error("no link " + name);
    }
    void peg(const std::string& name, std::initializer_list<const char*> lanes) {
        link(name)["pegged"] = {{"lanes", lanes}};
    }
    [[nodiscard]] std::string findings() const {
        keep("now.kpeg");
        std::string out;
        const auto j = Json::parse(run("rules " + (*this / "now.kpeg") + " --json -").out);
        for (const auto& f : j["findings"])
            if (f["rule"] == "L16") out += f["severity"].get<std::string>() + " " + f["text"].get<std::string>() + "\n";
        return out;
    }
};

TEST(LaneRules, TwoLinksOnALaneAreAStop) {
    Uplink u("lane_rules");
    u.peg("camera", {"lane0", "lane1"});
    const auto text = u.findings();
    EXPECT_NE(text.find("stop lane0 holds 2 links: cage0 and camera."), std::string::npos) << text;
}

TEST(LaneRules, ALinkLiesWhereTheBoardWiresIt) {
    Uplink u("lane_wires");
    EXPECT_EQ(u.findings().find("cage0"), std::string::npos) << u.findings();
    u.peg("cage0", {"lane1"});
    EXPECT_NE(u.findings().find("cage0 lies on lane1, which the board wires to J2"), std::string::npos) << u.findings();
    u.peg("cage0", {"lane6"});
    const auto text = u.findings();
    EXPECT_NE(
        text.find("cage0 lies on lane6, whose pins the board leaves open; J1 (optical cage 1) is wired to lane0."),
        std::string::npos)
        << text;
    EXPECT_NE(text.find("refclk1 has 100 MHz from the board"), std::string::npos) << text;
}

TEST(LaneRules, RatesClocksAndNamesAreChecked) {
    Uplink u("lane_rates");
    u.link("cage0")["gbps"] = 9;
    EXPECT_NE(u.findings().find("cage0 runs at 9 Gbit/s, and lane0 takes 0.6 to 5.4."), std::string::npos);
    u.link("cage0")["gbps"] = 5;
    u.link("cage0")["clock_mhz"] = 50;
    EXPECT_NE(u.findings().find("refclk0 takes 60 to 400 MHz"), std::string::npos) << u.findings();
}

TEST(LaneRules, PinsGoOutAndPlansAreCompared) {
    Uplink u("lane_out");
    const auto placed = Json::parse(run("lanes " + (u / "uplink.kpeg") + " --relax peg:camera --json -").out);
    for (const auto& p : placed["placed"]) {
        ASSERT_EQ(p["pins"].size(), p["lanes"].size());
        if (p["link"] == "cage0") {
            EXPECT_EQ(p["pins"][0], Json::parse(R"({"lane": "lane0", "tx_p": "A3", "tx_n": "A4", "rx_p": "C3",
                                                    "rx_n": "C4"})"));
        }
    }
    u.peg("camera", {"lane6", "lane7"});
    u.keep("other.kpeg");
    const auto compared = run("compare " + (u / "uplink.kpeg") + " " + (u / "other.kpeg") + " --json -");
    EXPECT_EQ(compared.status, 1) << compared.err;
    const auto j = Json::parse(compared.out);
    ASSERT_EQ(j["lanes"].size(), 1u);
    EXPECT_EQ(j["lanes"][0], Json::parse(R"({"link": "camera", "a": "lane4, lane5", "b": "lane6, lane7"})"));
    const auto out = run("handoff " + (u / "uplink.kpeg") + " --out " + (u / "out") + " --open-stops tried --json -");
    EXPECT_EQ(out.status, 0) << out.err;
    const auto sheet = slurp(u / "out/lanes.csv");
    EXPECT_NE(sheet.find("cage0,optical 5 G,pegged,block0,lane0,A3,A4,C3,C4,5,125,J1"), std::string::npos) << sheet;
    EXPECT_NE(sheet.find("uplink,host link 5 G,adrift"), std::string::npos) << sheet;
}

}  // namespace
}  // namespace kpeg_test
