// SPDX-License-Identifier: GPL-3.0-or-later
// Whatever is edited: undoing all gives the plan as it was, redoing all gives it as it became, and what is saved is
// what is read.
#include "core/format/json/project_json.hpp"
#include "core/planning/attributes.hpp"
#include "core/planning/proposals.hpp"
#include "core/planning/ways.hpp"
#include "core/session/session.hpp"

#include <filesystem>
#include <gtest/gtest.h>
#include <random>

namespace kp {
namespace {

namespace fs = std::filesystem;

/// The plan as text: equal texts are equal plans.
std::string written(const Session& s) {
    return write_project({s.project()});
}

class Editor {
public:
    Editor(Session& session, unsigned seed) : s_(session), random_(seed) {}

    Edit one() {
        const auto& w = s_.world();
        const auto& p = s_.project();
        switch (random_() % 9) {
            case 0: return peg_edit(p, w.board, port(), pin(), "by hand");
            case 1: return unpeg_edit(p, port());
            case 2: return swap_edit(p, port(), port());
            case 3: return accept_edit(p);
            case 4: return take_proposals(p, w.board, proposals_by_name(w.netlist.ports, w.board, p), "take all");
            case 5:
                return copy_attributes({w.part, w.board, w.standards, w.netlist.ports, p}, port(),
                                       {port(), port(), port()})
                    .edit;
            case 6: {
                const auto ports = find_ports(w.netlist.ports[random_() % w.netlist.ports.size()].bus, w.netlist.ports);
                std::vector<std::string> pins;
                for (size_t i = 0; ports && i < ports.value().size(); ++i) pins.push_back(pin());
                std::sort(pins.begin(), pins.end());
                pins.erase(std::unique(pins.begin(), pins.end()), pins.end());
                return ports ? peg_many(p, w.board, ports.value(), pins, "by hand").edit : Edit{};
            }
            case 7: {
                // Loose here and there, and a waiver.
                const auto name = port();
                const auto peg = p.pegs.find(name);
                Edit edit{"waive", {WaiverChange{{"L08", {name}, "random", "a test", "2026-11-23"}, true}}};
                if (peg != p.pegs.end())
                    edit.changes.push_back(
                        PegChange{name, peg->second, Peg{peg->second.pin, PegState::loose, "by the solver"}});
                return edit;
            }
            default: break;
        }
        const auto kinds = attribute_kinds();
        const auto& kind = kinds[random_() % kinds.size()];
        const AttributeInput in{w.part, w.board, w.standards, w.netlist.ports, p};
        const std::vector<std::string> ports{port(), port()};
        const auto legal = legal_for_all(in, ports, kind);
        const auto value = kind.free_text                        ? "a \"note\", with\na second line"
                           : legal.empty() || random_() % 5 == 0 ? ""
                                                                 : legal[random_() % legal.size()];
        auto edit = attribute_edit(in, ports, kind, value);
        EXPECT_TRUE(edit.ok()) << edit.first().text;
        return edit ? edit.value() : Edit{};
    }

private:
    std::string port() { return s_.world().netlist.ports[random_() % s_.world().netlist.ports.size()].name; }
    std::string pin() { return s_.world().part.pins[random_() % s_.world().part.pins.size()].name; }
    Session& s_;
    std::mt19937 random_;
};

TEST(Property, UndoAllRedoAllSaveAndLoadKeepThePlan) {
    for (unsigned seed = 1; seed <= 6; ++seed) {
        const auto folder =
            fs::temp_directory_path() / ("kitepeg-property-" + std::to_string(::getpid()) + "-" + std::to_string(seed));
        fs::remove_all(folder);
        fs::create_directories(folder);
        const bool small = seed % 2 == 0;
        for (const auto& entry : fs::directory_iterator(small ? KP_SOURCE "/demo/vane" : KP_SOURCE "/demo/profiler"))
            fs::copy(entry.path(), folder);
        for (const auto& entry : fs::directory_iterator(folder))
            fs::permissions(entry.path(), fs::perms::owner_write, fs::perm_options::add);
        const auto path = (folder / (small ? "vane.kpeg" : "profiler.kpeg")).string();
        auto opened = Session::open(real_disk(), path, KP_SOURCE "/data");
        ASSERT_TRUE(opened.ok()) << opened.first().sentence();
        auto s = opened.take();
        const auto start = written(*s);
        Editor editor(*s, seed);
        for (int i = 0; i < 80; ++i) ASSERT_TRUE(s->apply(editor.one()).ok()) << "seed " << seed << ", edit " << i;
        const auto end = written(*s);
        EXPECT_NE(start, end);
        while (s->document().can_undo()) ASSERT_TRUE(s->undo().ok());
        EXPECT_EQ(written(*s), start) << "seed " << seed;
        while (s->document().can_redo()) ASSERT_TRUE(s->redo().ok());
        EXPECT_EQ(written(*s), end) << "seed " << seed;
        // The findings of a plan that was edited to are those of the plan that is read.
        const auto findings = s->findings().size();
        ASSERT_TRUE(s->document().save().ok());
        s.reset();
        auto again = Session::open(real_disk(), path, KP_SOURCE "/data");
        ASSERT_TRUE(again.ok()) << again.first().sentence();
        EXPECT_EQ(written(*again.value()), end) << "seed " << seed;
        again.value()->analyse_now();
        EXPECT_GE(again.value()->findings().size(), findings);
        fs::remove_all(folder);
    }
}

}  // namespace
}  // namespace kp
