// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/memory_disk.hpp"
#include "core/base/output.hpp"

#include <fcntl.h>
#include <filesystem>
#include <gtest/gtest.h>
#include <sys/stat.h>
#include <thread>
#include <unistd.h>

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

/// A folder of its own, gone at the end.
struct Folder {
    std::filesystem::path path = std::filesystem::temp_directory_path() / ("kpeg-disk-" + std::to_string(::getpid()));
    Folder() { std::filesystem::create_directories(path); }
    ~Folder() { std::filesystem::remove_all(path); }
    std::string operator/(const char* name) const { return (path / name).string(); }
};

std::string text_of(const std::string& path) {
    return real_disk().read(path).take();
}

mode_t mode_of(const std::string& path) {
    struct stat info {};
    return ::stat(path.c_str(), &info) == 0 ? info.st_mode & 07777 : 0;
}

TEST(RealDisk, NeitherPipesNorDevicesStopIt) {
    const Folder f;
    ASSERT_EQ(::mkfifo((f / "pipe").c_str(), 0600), 0);
    for (const auto& path : {f / "pipe", std::string("/dev/zero"), std::string("/dev/null")}) {
        const auto read = real_disk().read(path);
        ASSERT_FALSE(read.ok()) << path;
        EXPECT_NE(read.first().text.find("a file was expected"), std::string::npos) << read.first().text;
        EXPECT_FALSE(real_disk().stream(path).ok());
        EXPECT_FALSE(real_disk().append(path, "x").ok());
    }
    // A pipe that is named is read to its end; /dev/null is the empty file of scripts.
    std::thread writer([&] {
        const int fd = ::open((f / "pipe").c_str(), O_WRONLY);
        EXPECT_EQ(::write(fd, "text", 4), 4);
        ::close(fd);
    });
    EXPECT_EQ(disk_with_pipes({f / "pipe"})->read(f / "pipe").take(), "text");
    writer.join();
    EXPECT_EQ(disk_with_pipes({"/dev/null"})->read("/dev/null").take(), "");
    EXPECT_FALSE(disk_with_pipes({"/dev/zero"})->read("/dev/zero").ok());
}

TEST(RealDisk, LinksUnderItsOwnNamesAreNotFollowed) {
    const Folder f;
    ASSERT_TRUE(real_disk().create(f / "p", "old").ok());
    ASSERT_TRUE(real_disk().create(f / "victim", "precious").ok());
    for (const char* name : {"p.new", "p.bak.new", "p.bak"}) std::filesystem::create_symlink(f / "victim", f / name);
    ASSERT_TRUE(save_whole(real_disk(), f / "p", "new").ok());
    EXPECT_EQ(text_of(f / "victim"), "precious");
    EXPECT_EQ(text_of(f / "p"), "new");
    EXPECT_EQ(text_of(f / "p.bak"), "old");
    std::filesystem::create_symlink(f / "victim", f / "log");
    EXPECT_FALSE(real_disk().append(f / "log", "x").ok());
    EXPECT_FALSE(real_disk().read_own(f / "log", 100).ok());
    EXPECT_FALSE(real_disk().create(f / "log", "x").ok());
    std::filesystem::create_symlink(f / "nowhere", f / "dangling");
    EXPECT_EQ(real_disk().create(f / "dangling", "x").first().code, Code::exists);
    EXPECT_EQ(real_disk().kind(f / "dangling"), FileKind::link);
}

TEST(RealDisk, ASaveKeepsModeAndGoesThroughALink) {
    const Folder f;
    std::filesystem::create_directories(f / "store");
    ASSERT_TRUE(real_disk().create(f / "store/p", "old").ok());
    ASSERT_EQ(::chmod((f / "store/p").c_str(), 0640), 0);
    std::filesystem::create_symlink("store/p", f / "p");
    ASSERT_TRUE(save_whole(real_disk(), f / "p", "new").ok());
    EXPECT_TRUE(std::filesystem::is_symlink(f / "p"));
    EXPECT_EQ(text_of(f / "store/p"), "new");
    EXPECT_EQ(mode_of(f / "store/p"), 0640u);
    EXPECT_EQ(mode_of(f / "store/p.bak"), 0640u);
    ASSERT_TRUE(replace_file(real_disk(), f / "p", "newer").ok());
    EXPECT_TRUE(std::filesystem::is_symlink(f / "p"));
    EXPECT_EQ(mode_of(f / "store/p"), 0640u);
    const std::string seen = "old";
    EXPECT_EQ(save_whole(real_disk(), f / "p", "mine", &seen).first().code, Code::changed);
    EXPECT_EQ(text_of(f / "p"), "newer");
}

TEST(RealDisk, ALockIsHeldOnceAndTakenOverKnowingly) {
    const Folder f;
    auto first = real_disk().lock(f / "l", "here\nfirst", false).take();
    ASSERT_TRUE(first.lock && first.lock->held());
    const auto second = real_disk().lock(f / "l", "here\nsecond", false).take();
    EXPECT_FALSE(second.lock);
    EXPECT_EQ(second.owner, "here\nfirst");
    auto third = real_disk().lock(f / "l", "here\nthird", true).take();
    ASSERT_TRUE(third.lock && third.lock->held());
    EXPECT_FALSE(first.lock->held());
    first.lock.reset();  // who lost it does not remove the other's
    EXPECT_TRUE(third.lock->held());
    third.lock.reset();
    EXPECT_EQ(real_disk().kind(f / "l"), FileKind::none);
    // What a dead program of this machine left is taken; of another machine nobody knows.
    ASSERT_TRUE(real_disk().create(f / "l", "here\ndead").ok());
    EXPECT_TRUE(real_disk().lock(f / "l", "here\nnew", false).value().lock);
    ASSERT_TRUE(real_disk().create(f / "l", "elsewhere\nperhaps").ok());
    EXPECT_FALSE(real_disk().lock(f / "l", "here\nnew", false).value().lock);
    EXPECT_TRUE(real_disk().lock(f / "l", "here\nnew", true).value().lock);
}

TEST(Output, GoesWhereItIsSentAndNeverOverAnInput) {
    const Folder f;
    ASSERT_TRUE(real_disk().create(f / "in", "input").ok());
    ASSERT_TRUE(real_disk().create(f / "out", "old").ok());
    std::filesystem::create_symlink("in", f / "alias");
    std::filesystem::create_hard_link(f / "in", f / "twin");
    for (const char* name : {"in", "alias", "twin", "./in"})
        EXPECT_FALSE(check_outputs({f / name}, {f / "in"}).ok()) << name;
    EXPECT_FALSE(check_outputs({f / "new", f / "new"}, {}).ok());
    EXPECT_TRUE(check_outputs({f / "out", "-", "/dev/null", "/dev/null"}, {f / "in", "/dev/null"}).ok());
    ASSERT_TRUE(write_output(f / "out", "fresh").ok());
    EXPECT_EQ(text_of(f / "out"), "fresh");
    EXPECT_EQ(real_disk().kind(f / "out.bak"), FileKind::none);
    ASSERT_TRUE(write_output("/dev/null", "gone").ok());
    EXPECT_EQ(real_disk().kind("/dev/null"), FileKind::other);
    EXPECT_FALSE(write_output("/dev/full", "text").ok());
    EXPECT_FALSE(write_output(f.path.string(), "text").ok());
    ASSERT_EQ(::mkfifo((f / "pipe").c_str(), 0600), 0);
    std::string read;
    std::thread reader([&] { read = disk_with_pipes({f / "pipe"})->read(f / "pipe").take(); });
    EXPECT_TRUE(write_output(f / "pipe", std::string(200000, 'x')).ok());
    reader.join();
    EXPECT_EQ(read.size(), 200000u);
    // Nothing of it is left beside the files.
    for (const auto& e : std::filesystem::directory_iterator(f.path))
        EXPECT_NE(e.path().extension(), ".new") << e.path();
}

TEST(RealDisk, SaysWhereAPathReallyLeads) {
    const Folder f;
    std::filesystem::create_directories(f / "a/b");
    std::filesystem::create_symlink("a/b", f / "short");
    std::filesystem::create_symlink("/nowhere/yet", f / "dangling");
    std::filesystem::create_symlink("round", f / "round");
    const auto base = std::filesystem::canonical(f.path).string();
    EXPECT_EQ(real_disk().real_path(f / "short/../x"), base + "/a/x");
    EXPECT_EQ(real_disk().real_path(f / "a/./b/../../y/z"), base + "/y/z");
    EXPECT_EQ(real_disk().real_path(f / "dangling"), "/nowhere/yet");
    EXPECT_EQ(real_disk().real_path(f / "dangling/more"), "/nowhere/yet/more");
    EXPECT_EQ(real_disk().real_path(f / "round"), "/");
    EXPECT_EQ(real_disk().real_path("/../.."), "/");
    EXPECT_EQ(real_disk().real_path(f / "a/b"), std::filesystem::weakly_canonical(f / "a/b").string());
}

TEST(Paths, KnowWhatLiesInWhat) {
    EXPECT_TRUE(lies_in("/a/b/c", "/a/b"));
    EXPECT_TRUE(lies_in("/a/b", "/a/b"));
    EXPECT_FALSE(lies_in("/a/bc", "/a/b"));
    EXPECT_TRUE(lies_in("/a", "/"));
    EXPECT_EQ(tidy_path("a/./b/../c/"), "a/c");
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
