// SPDX-License-Identifier: GPL-3.0-or-later
// Generated clocks by hand arithmetic: a master of 10 ns that rises at 0 and falls at 4.
#include "core/format/sdc/generated.hpp"

#include <gtest/gtest.h>

namespace kp::sdc {
namespace {

ClockDefinition master() {
    ClockDefinition m;
    m.period = 10;
    m.waveform = {0, 4};
    return m;
}

TEST(GeneratedClock, PeriodAndEdges) {
    struct Row {
        GeneratedForm form;
        double period, rise, fall;
    };
    for (const auto& r : {
             Row{{}, 10, 0, 4},
             Row{{.divide = {1}}, 10, 0, 4},
             Row{{.divide = {2}}, 20, 0, 10},  // toggles at rising edges: the duty of the master is gone
             Row{{.divide = {8}}, 80, 0, 40},
             Row{{.divide = {3}}, 30, 0, 12},  // scaled
             Row{{.multiply = {4}}, 2.5, 0, 1},
             Row{{.multiply = {2}, .duty = {50}}, 5, 0, 2.5},
             Row{{.divide = {2}, .duty = {25}}, 20, 0, 5},
             Row{{.edges = {1, 3, 5}}, 20, 0, 10},
             Row{{.edges = {1, 2, 3}}, 10, 0, 4},
             Row{{.edges = {2, 4, 6}}, 20, 4, 14},
             Row{{.edges = {1, 3, 5}, .shift = {1, 2, 1}}, 20, 1, 12},
             Row{{.invert = true}, 10, 4, 10},
             Row{{.divide = {2}, .invert = true}, 20, 10, 20},
         }) {
        ClockDefinition made;
        EXPECT_EQ(derive_clock(master(), r.form, made), "");
        EXPECT_DOUBLE_EQ(made.period, r.period);
        EXPECT_DOUBLE_EQ(made.waveform.at(0), r.rise) << r.period;
        EXPECT_DOUBLE_EQ(made.waveform.at(1), r.fall) << r.period;
    }
}

TEST(GeneratedClock, FormsWithoutSenseAreSentences) {
    ClockDefinition made;
    made.period = 7;
    EXPECT_EQ(derive_clock(master(), {.divide = {0}}, made), "-divide_by needs a whole number of at least 1.");
    EXPECT_EQ(derive_clock(master(), {.multiply = {1.5}}, made), "-multiply_by needs a whole number of at least 1.");
    EXPECT_EQ(derive_clock(master(), {.duty = {100}}, made), "-duty_cycle lies between 0 and 100 %.");
    EXPECT_EQ(derive_clock(master(), {.edges = {0, 1, 2}}, made), "-edges needs edge numbers of the master from 1 on.");
    EXPECT_EQ(derive_clock(master(), {.edges = {1, 3}}, made),
              "-edges needs three edge numbers, each later than the one before.");
    EXPECT_EQ(derive_clock(master(), {.edges = {3, 3, 5}}, made),
              "-edges needs three edge numbers, each later than the one before.");
    EXPECT_DOUBLE_EQ(made.period, 7) << "a refused form leaves the clock as it was";
}

}  // namespace
}  // namespace kp::sdc
