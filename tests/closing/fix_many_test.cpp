// SPDX-License-Identifier: GPL-3.0-or-later
// Many fixes at once make nothing worse: what is taken clears something and adds nothing, what only the user knows is
// left.
#include "core/rules/preview.hpp"
#include "core/closing/fix_many.hpp"
#include "core/closing/preview.hpp"
#include "core/session/session.hpp"
#include "core/base/memory_disk.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

struct Copied {
    MemoryDisk disk;
    std::unique_ptr<Session> session;
    explicit Copied(const std::string& project = "profiler.kpeg") {
        const std::string from = KP_SOURCE "/demo/profiler/";
        for (const char* file :
             {"profiler.kpeg", "profiler-closed.kpeg", "profiler.v", "profiler.sdf", "profiler-clocks.sdc",
              "profiler-ports.sdc", "profiler-closed-clocks.sdc", "profiler-closed-ports.sdc"})
            if (auto text = real_disk().read(from + file)) disk.files[std::string("p/") + file] = text.take();
        for (const auto* folder : {"parts", "boards", "standards", "cells", "modules"})
            for (const auto* ending : {".json", ".lib"})
                for (const auto& path : real_disk().list(std::string(KP_SOURCE "/data/") + folder, ending))
                    disk.files[std::string("data/") + folder + "/" + file_name_of(path)] =
                        real_disk().read(path).take();
        auto opened = Session::open(disk, "p/" + project, "data");
        if (!opened) throw std::runtime_error(opened.first().sentence());
        session = opened.take();
        session->analyse_now();
    }
};

TEST(FixMany, ClearsWithoutAddingAndIsOneUndo) {
    Copied c;
    auto& s = *c.session;
    const auto before = s.findings();
    const auto many = fix_many(*s.snapshot(), before);
    EXPECT_GE(many.taken.size(), 5u);
    for (const auto& t : many.taken) EXPECT_FALSE(t.clears.empty()) << t.text;
    ASSERT_TRUE(s.apply(many.edit).ok());
    s.analyse_now();
    const auto change = compare_findings(before, s.findings());
    EXPECT_TRUE(change.come.empty()) << codes_of(change.come);
    EXPECT_GE(change.gone.size(), many.taken.size());
    // Everything that stands is said to be left, with a reason.
    for (const auto& f : s.findings()) {
        const bool said =
            std::any_of(many.left.begin(), many.left.end(), [&](const FixLeft& l) { return l.rule == f.rule; });
        EXPECT_TRUE(said) << f.rule << " " << f.text;
    }
    for (const auto& l : many.left) EXPECT_FALSE(l.why.empty());
    ASSERT_TRUE(s.undo().ok());
    s.analyse_now();
    EXPECT_TRUE(compare_findings(before, s.findings()).come.empty());
}

TEST(FixMany, ANumberThatOnlyTheUserKnowsIsLeft) {
    Copied c;
    std::vector<Finding> delays;
    for (const auto& f : c.session->findings())
        if (f.rule == "D06") delays.push_back(f);
    ASSERT_FALSE(delays.empty());
    const auto many = fix_many(*c.session->snapshot(), delays);
    EXPECT_TRUE(many.edit.empty());
    for (const auto& l : many.left) EXPECT_TRUE(l.why.starts_with("needs a number: ")) << l.why;
    // With the number it is a command in the file behind the clocks, and the finding is gone.
    for (const auto& f : delays) {
        const auto fixes = c.session->fixes_of(f);
        ASSERT_EQ(fixes.size(), 1u);
        ASSERT_TRUE(fixes[0].asks());
        const auto edit = answered(fixes[0], "1.5");
        const auto after = preview(*c.session->snapshot(), edit);
        ASSERT_TRUE(after.ok());
        const auto change = compare_findings(c.session->findings(), *after.value().findings);
        EXPECT_TRUE(std::any_of(change.gone.begin(), change.gone.end(), [&](const Finding& g) {
            return g.rule == "D06" && g.objects == f.objects;
        })) << f.text;
        EXPECT_TRUE(std::none_of(change.come.begin(), change.come.end(), [](const Finding& g) {
            return g.rule == "D03";
        })) << codes_of(change.come);
    }
}

TEST(FixMany, AFixThatWouldAddAFindingIsNotTaken) {
    Copied c("profiler-closed.kpeg");
    auto& s = *c.session;
    // A second port on the pin of the first: moving it to its own terminal is fine, but there somebody else sits on a
    // foreign pin.
    auto port = s.project().pegs.begin();
    ASSERT_TRUE(s.apply(Edit{"e", {AttributeChange{port->first, s.project().attributes.at(port->first), {}}}}).ok());
    s.analyse_now();
    const auto before = s.findings();
    ASSERT_FALSE(before.empty());
    const auto many = fix_many(*s.snapshot(), before);
    ASSERT_TRUE(s.apply(many.edit).ok());
    s.analyse_now();
    EXPECT_TRUE(compare_findings(before, s.findings()).come.empty());
}

}  // namespace
}  // namespace kp
