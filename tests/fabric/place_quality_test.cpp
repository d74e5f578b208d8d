// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/build_flow/build.hpp"
#include "core/inputs/data_folder.hpp"
#include "core/inputs/world.hpp"
#include "core/session/session.hpp"

#include <gtest/gtest.h>

namespace kp::fabric {
namespace {

std::map<std::string, std::string> pegs_of(const Project& project) {
    std::map<std::string, std::string> out;
    for (const auto& [port, peg] : project.pegs) out[port] = peg.pin;
    return out;
}

TEST(Placement, TenTimesTheMovesGainLittle) {
    const auto session = Session::open(real_disk(), KP_SOURCE "/demo/linkwatch/linkwatch.kpeg", data_folder());
    ASSERT_TRUE(session.ok());
    const auto& w = session.value()->world();
    PlaceSettings usual, patient;
    usual.seed = patient.seed = 3;
    patient.effort = 10;
    const auto pins = pegs_of(session.value()->project());
    const auto a = place_cells(w.netlist, w.library, w.part, pins, usual);
    const auto b = place_cells(w.netlist, w.library, w.part, pins, patient);
    ASSERT_TRUE(a.ok() && b.ok());
    RecordProperty("usual", static_cast<int>(a.value().wirelength));
    RecordProperty("patient", static_cast<int>(b.value().wirelength));
    EXPECT_LE(a.value().wirelength, b.value().wirelength * 11 / 10)
        << a.value().wirelength << " " << b.value().wirelength;
    EXPECT_EQ(wirelength_of(w.netlist, w.library, a.value().spots), a.value().wirelength);
}

TEST(Placement, TheSameSeedGivesTheSamePlaces) {
    const auto session = Session::open(real_disk(), KP_SOURCE "/demo/vane/vane-closed.kpeg", data_folder());
    ASSERT_TRUE(session.ok());
    const auto& w = session.value()->world();
    PlaceSettings settings;
    const auto pins = pegs_of(session.value()->project());
    const auto a = place_cells(w.netlist, w.library, w.part, pins, settings),
               b = place_cells(w.netlist, w.library, w.part, pins, settings);
    ASSERT_TRUE(a.ok() && b.ok());
    for (size_t c = 0; c < a.value().spots.size(); ++c) {
        EXPECT_EQ(a.value().spots[c].column, b.value().spots[c].column);
        EXPECT_EQ(a.value().spots[c].row, b.value().spots[c].row);
        EXPECT_EQ(a.value().spots[c].slot, b.value().spots[c].slot);
    }
}

}  // namespace
}  // namespace kp::fabric
