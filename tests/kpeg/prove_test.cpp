// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/format/json/json_text.hpp"
#include "tests/kpeg/runner.hpp"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

namespace kpeg_test {
namespace {

using Json = nlohmann::json;

struct ProveVane : Demo {
    ProveVane() : Demo("vane") {
        for (const char* file : {"vane-closed.kpeg", "closed-clocks.sdc", "closed-ports.sdc"})
            std::filesystem::copy_file(std::string(KP_SOURCE "/demo/vane/") + file, *this / file);
    }
    std::string write(const std::string& name, const std::string& text) const {
        std::ofstream(*this / name) << text;
        return *this / name;
    }
    Answer prove(const std::string& project, const std::string& more) const {
        return run("prove " + (*this / project) + " " + more + " --json -");
    }
};

TEST(KpegProve, TheClosedDemoAgreesAndACrossedOneNamesItsPair) {
    const ProveVane v;
    const std::string directions = "--board-part J3 --board-part D1 --before 2",
                      rest = " --leave-out tone --leave-out raw";
    const auto good = v.prove("vane-closed.kpeg", directions + rest);
    ASSERT_EQ(good.status, 0) << good.err;
    EXPECT_EQ(v.prove("vane-closed.kpeg", directions).status, 1) << "what was not asked is not proven";
    auto j = Json::parse(good.out);
    EXPECT_EQ(j["schema"], "kitepeg.proof/1");
    EXPECT_EQ(j["rows"].size(), 32u);
    EXPECT_EQ(j["differ"], 0);
    EXPECT_EQ(j["rows"][1]["inputs"]["gray"], "00001");
    EXPECT_TRUE(j["first_difference"].is_null());
    auto project = Json::parse(slurp(v / "vane-closed.kpeg"));
    Json* crossed[2] = {};
    for (auto& peg : project["pegs"]) {
        if (peg["port"] == "rose_n[2]") crossed[0] = &peg["pin"];
        if (peg["port"] == "rose_n[3]") crossed[1] = &peg["pin"];
    }
    std::swap(*crossed[0], *crossed[1]);
    v.write("crossed.kpeg", project.dump(1));
    const auto bad = v.prove("crossed.kpeg", directions);
    ASSERT_EQ(bad.status, 1) << bad.err;
    j = Json::parse(bad.out);
    EXPECT_EQ(j["differ"], 8);
    EXPECT_EQ(j["crossed"], Json::parse(R"([["D1.rose2","D1.rose3"]])"));
    EXPECT_FALSE(j["first_difference"]["port"].get<std::string>().empty());
    EXPECT_GT(j["first_difference"]["cone"]["cells"].get<int>(), 0);
}

TEST(KpegProve, AgainstFileFormulaAndSimulation) {
    const ProveVane v;
    const auto file = v.write("v.csv",
                              "time,gray,hold_n,zero_n,=rose_n\n0,00000,1,1,-\n2000000,01100,1,1,11111011\n"
                              "2001000,00000,1,1,11111110\n");
    auto a = v.prove("vane-closed.kpeg", "--leave-out tone --leave-out raw --vectors " + file);
    ASSERT_EQ(a.status, 0) << a.err;
    EXPECT_EQ(Json::parse(a.out)["against"], "what the vectors say");
    a = v.prove("vane-closed.kpeg",
                "--leave-out tone --leave-out raw --board-part J3 --board-part D1 --before 2 --against simulation");
    EXPECT_EQ(a.status, 0) << a.err;
    a = v.prove("vane-closed.kpeg",
                "--board-part J3 --board-part D1 --before 2 --against formula --formula "
                "'rose_n = ~(8'\\''d1 << gray[4:2])'");
    EXPECT_EQ(a.status, 1) << a.err;  // a Gray code is not a binary number
}

TEST(KpegProve, WhatCannotBeProvedIsOneSentence) {
    const ProveVane v;
    for (const char* more : {"--against source", "--against nobody", "--against file", "--against formula", "--each 0",
                             "--each nan", "--before -1", "--vectors none.csv", "--board-part NONE",
                             "--against formula --formula 'x ='", "--against source --source none.v"}) {
        const auto a = v.prove("vane-closed.kpeg", more);
        EXPECT_EQ(a.status, 2) << more;
        EXPECT_FALSE(a.err.empty()) << more;
        EXPECT_EQ(a.out, "") << more;
    }
    EXPECT_EQ(v.prove("none.kpeg", "").status, 2);
}

}  // namespace
}  // namespace kpeg_test
