// SPDX-License-Identifier: GPL-3.0-or-later
// place and lanes as a script sees them.
#include "core/format/json/json_text.hpp"
#include "tests/kpeg/runner.hpp"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <set>

namespace {

using namespace kpeg_test;
using Json = nlohmann::json;

Json answer_of(const Answer& a) {
    EXPECT_FALSE(a.out.empty()) << a.err;
    return Json::parse(a.out);
}

/// The demo with some pegs changed.
struct PlaceChanged : Demo {
    explicit PlaceChanged(const std::string& name) : Demo(name) {}
    [[nodiscard]] Json project() const { return Json::parse(slurp(*this / "vane.kpeg")); }
    void keep(const Json& j) const { std::ofstream(*this / "vane.kpeg") << j.dump(1); }
};

TEST(KpegPlace, PlacesWhatIsAdriftAndTheRulesAgree) {
    const PlaceChanged d("place_rest");
    auto j = d.project();
    j["pegs"] = Json::array();
    d.keep(j);
    const auto a = run("place " + (d / "vane.kpeg") + " --json -");
    EXPECT_EQ(a.status, 0) << a.err;
    const auto found = answer_of(a);
    EXPECT_EQ(found["schema"], "kitepeg.place/1");
    EXPECT_EQ(found["status"], "placed");
    EXPECT_EQ(found["placed"].size(), 22u);
    EXPECT_EQ(found["moved"], 0);
    EXPECT_TRUE(found["conflict"].empty());
    EXPECT_GE(found["cost"].get<long long>(), found["bound"].get<long long>());
    std::set<std::string> pins;
    for (const auto& p : found["placed"]) {
        EXPECT_TRUE(p["was"].is_null());
        EXPECT_TRUE(pins.insert(p["pin"]).second);
    }
    EXPECT_EQ(run("place " + (d / "vane.kpeg") + " --json -").out, a.out) << "the same question, the same bytes";
    EXPECT_EQ(d.project(), j) << "without --write nothing is written";
    ASSERT_EQ(run("place " + (d / "vane.kpeg") + " --write --json -").status, 0);
    EXPECT_EQ(d.project()["pegs"].size(), 22u);
    for (const auto& p : d.project()["pegs"]) EXPECT_EQ(p["state"], "loose");
    const auto rules = answer_of(run("rules " + (d / "vane.kpeg") + " --json -"));
    const std::set<std::string> counted{"L01", "L02", "L03", "L04", "L05", "L06", "L07", "L08", "E02", "E03", "E04"};
    for (const auto& f : rules["findings"])
        if (f["severity"] == "stop") EXPECT_FALSE(counted.contains(f["rule"])) << f["text"];
    const auto again = answer_of(run("place " + (d / "vane.kpeg") + " --json -"));
    EXPECT_EQ(again["moved"], 0);
    for (const auto& p : again["placed"]) EXPECT_EQ(p["was"], p["pin"]);
}

TEST(KpegPlace, OnlyThoseNamedAreSpokenOf) {
    const PlaceChanged d("place_some");
    auto j = d.project();
    Json kept = Json::array();
    for (const auto& p : j["pegs"])
        if (!p["port"].get<std::string>().starts_with("gray")) kept.push_back(p);
    j["pegs"] = kept;
    d.keep(j);
    // The planted peg is wrong by itself: it is told by its rule, and hinders nobody.
    const auto planted = answer_of(run("place " + (d / "vane.kpeg") + " --ports 'gray[3:1]' --json -"));
    EXPECT_EQ(planted["status"], "placed");
    EXPECT_EQ(planted["placed"].size(), 3u);
    ASSERT_FALSE(planted["messages"].empty());
    bool told = false;
    for (const auto& m : planted["messages"])
        told |= m["text"].get<std::string>().find("rose_n[5]") != std::string::npos;
    EXPECT_TRUE(told) << planted["messages"];
    for (auto& p : kept)
        if (p["port"] == "rose_n[5]") p["pin"] = "59";
    j["pegs"] = kept;
    d.keep(j);
    const auto found = answer_of(run("place " + (d / "vane.kpeg") + " --ports 'gray[3:1]' --json -"));
    ASSERT_EQ(found["placed"].size(), 3u);
    for (const auto& p : found["placed"]) EXPECT_TRUE(p["port"].get<std::string>().starts_with("gray["));
    const auto wrong = run("place " + (d / "vane.kpeg") + " --ports grey --json -");
    EXPECT_EQ(wrong.status, 2);
    EXPECT_NE(wrong.err.find("gray"), std::string::npos) << "the nearest name";
}

TEST(KpegPlace, AConflictIsMinimalAndWritesNothing) {
    const PlaceChanged d("place_conflict");
    auto j = d.project();
    // The clock is pegged to a pin that is none, which is wrong by itself; the sounder wants what no bank has.
    Json kept = Json::array();
    for (auto& p : j["pegs"]) {
        if (p["port"] == "osc_20") p["pin"] = "22";
        if (p["port"] == "gray[0]") p["pin"] = "24";
        if (p["port"] != "tone") kept.push_back(p);
    }
    j["pegs"] = kept;
    for (auto& a : j["attributes"])
        if (a["port"] == "tone") a = {{"port", "tone"}, {"standard", "LVCMOS 1.2 V"}, {"standard_origin", "chosen"}};
    d.keep(j);
    const auto before = slurp(d / "vane.kpeg");
    const auto a = run("place " + (d / "vane.kpeg") + " --write --json -");
    EXPECT_EQ(a.status, 1);
    EXPECT_EQ(slurp(d / "vane.kpeg"), before);
    const auto found = answer_of(a);
    EXPECT_EQ(found["status"], "conflict");
    ASSERT_FALSE(found["conflict"].empty());
    EXPECT_FALSE(found["messages"].empty()) << "what is wrong between pegs is told";
    bool to_place = false;
    for (const auto& member : found["conflict"]) to_place |= member["kind"] == "port";
    EXPECT_TRUE(to_place) << found["conflict"];
    for (const auto& member : found["conflict"]) {
        for (const char* key : {"id", "kind", "objects", "text", "relax"}) EXPECT_TRUE(member.contains(key)) << key;
        const auto then = answer_of(
            run("place " + (d / "vane.kpeg") + " --relax '" + member["id"].get<std::string>() + "' --json -"));
        for (const auto& other : then["conflict"]) EXPECT_NE(other["id"], member["id"]);
    }
    EXPECT_EQ(run("place " + (d / "vane.kpeg") + " --relax peg:nobody --json -").status, 2);
    EXPECT_EQ(run("place " + (d / "vane.kpeg") + " --seconds -1 --json -").status, 2);
}

TEST(KpegLanes, TheUplinkJoinsWhenTheCameraIsLoosened) {
    const Demo d("lanes");
    std::filesystem::copy(KP_SOURCE "/demo/uplink/uplink.kpeg", d / "uplink.kpeg");
    const auto a = run("lanes " + (d / "uplink.kpeg") + " --spots camera --json -");
    EXPECT_EQ(a.status, 1);
    const auto found = answer_of(a);
    EXPECT_EQ(found["schema"], "kitepeg.lanes/1");
    EXPECT_EQ(found["conflict"].size(), 2u);
    EXPECT_GE(found["spots"].size(), 4u);
    const auto then = answer_of(run("lanes " + (d / "uplink.kpeg") + " --relax peg:camera --write --json -"));
    EXPECT_EQ(then["status"], "placed");
    EXPECT_EQ(then["placed"].size(), 3u);
    for (const auto& p : then["placed"])
        if (p["link"] == "camera") EXPECT_EQ(p["engine"], "serial_b");
    const auto kept = Json::parse(slurp(d / "uplink.kpeg"));
    EXPECT_TRUE(kept["links"][0].contains("pegged"));
    EXPECT_TRUE(kept["links"][1].contains("loose"));
    EXPECT_EQ(run("lanes " + (d / "uplink.kpeg") + " --json -").status, 0);
}

TEST(KpegLanes, AnAskNeedsNoProject) {
    const Demo d("lanes_ask");
    std::ofstream(d / "ask.json") << R"({"schema":"kitepeg.links/1","links":[
        {"name":"up","protocol":"host link 5 G","lanes":4,"gbps":5,"clock_mhz":100}]})";
    const auto a = run("lanes --part SKR44L-B529-HW --ask " + (d / "ask.json") + " --json -");
    EXPECT_EQ(a.status, 0) << a.err;
    EXPECT_EQ(answer_of(a)["placed"][0]["lanes"].size(), 4u);
    EXPECT_EQ(run("lanes --part SKR11-Q144-MN --ask " + (d / "ask.json") + " --json -").status, 2);
    EXPECT_EQ(run("lanes --ask " + (d / "ask.json") + " --json -").status, 2);
    std::ofstream(d / "bad.json") << "{";
    const auto bad = run("lanes --part SKR44L-B529-HW --ask " + (d / "bad.json") + " --json -");
    EXPECT_EQ(bad.status, 2);
    EXPECT_NE(bad.err.find("bad.json"), std::string::npos);
}

}  // namespace
