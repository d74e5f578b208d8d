// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/synthesis/random_source.hpp"
#include "tests/synthesis/same.hpp"

#include <filesystem>

namespace kp::synthesis {
namespace {

TEST(MapRandom, ARandomModuleIsWhatItsSourceSays) {
    const unsigned count =
        std::getenv("KP_MAP_ROUNDS") ? static_cast<unsigned>(std::atoi(std::getenv("KP_MAP_ROUNDS"))) : 150;
    for (unsigned seed = 1; seed <= count; ++seed) {
        SideBySide both(RandomSource(seed).module());
        both.compare(seed, 12);
        if (HasFailure()) {
            ADD_FAILURE() << "seed " << seed;
            return;
        }
    }
}

TEST(Map, EveryDesignOfTheCollectionIsWhatItsSourceSays) {
    size_t count = 0;
    for (const auto& entry : std::filesystem::directory_iterator(KP_SOURCE "/tests/synthesis/designs")) {
        const auto path = entry.path().string();
        SCOPED_TRACE(path);
        SideBySide both(file_text(path));
        both.compare(static_cast<unsigned>(count + 7), 120);
        ++count;
    }
    EXPECT_GE(count, 60U);
}

}  // namespace
}  // namespace kp::synthesis
