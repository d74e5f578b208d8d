// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/disk.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

TEST(SaveWhole, EveryFailingStepLeavesOldOrNewText) {
    for (int n = 1;; ++n) {
        MemoryDisk disk;
        disk.files["p"] = "old text";
        disk.fail_at = n;
        const bool good = save_whole(disk, "p", "new text").ok();
        const auto now = disk.files["p"];
        EXPECT_TRUE(now == "old text" || now == "new text") << "step " << n << ": " << now;
        EXPECT_EQ(good, now == "new text") << "step " << n;
        if (disk.calls < n) break;  // a run that met no fault
    }
}

TEST(SaveWhole, KeepsThePreviousTextBesideIt) {
    MemoryDisk disk;
    ASSERT_TRUE(save_whole(disk, "p", "one"));
    ASSERT_TRUE(save_whole(disk, "p", "two"));
    EXPECT_EQ(disk.files["p.bak"], "one");
}

TEST(RealDisk, SaysWhatIsWrongInOneSentence) {
    const auto missing = real_disk().read("/nowhere/at/all");
    ASSERT_FALSE(missing.ok());
    EXPECT_EQ(missing.first().sentence(), "/nowhere/at/all: cannot be read: No such file or directory.");
    EXPECT_FALSE(real_disk().read("/").ok());
}

TEST(Paths, JoinAndSplit) {
    EXPECT_EQ(folder_of("a/b.c"), "a");
    EXPECT_EQ(folder_of("b.c"), ".");
    EXPECT_EQ(file_name_of("a/b.c"), "b.c");
    EXPECT_EQ(join_path("a", "b"), "a/b");
    EXPECT_EQ(join_path("a", "/b"), "/b");
}

}  // namespace
}  // namespace kp
