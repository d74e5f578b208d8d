// SPDX-License-Identifier: GPL-3.0-or-later
// Real processes on a real disk: killed at random moments of edits, saves and openings, and two of them on one folder.
#include "tests/campaign/campaign.hpp"

#include "core/base/checksum.hpp"

#include <chrono>
#include <csignal>
#include <filesystem>
#include <fstream>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

namespace kp::campaign {

namespace {

namespace fs = std::filesystem;

OpenOptions options(const std::string& folder) {
    OpenOptions out;
    out.user = folder + "/../user";
    return out;
}

void lay_out(const std::string& folder) {
    fs::remove_all(folder);
    fs::create_directories(folder);
    for (const auto& [name, text] : small_project()) std::ofstream(folder + "/" + name, std::ios::binary) << text;
}

std::string digest(const Project& p) {
    return sha256(state_of(p)).substr(0, 32);
}

/// Lines through a pipe to the one that kills: what is about to be done, and what was done.
class Voice {
public:
    explicit Voice(int fd) : fd_(fd) {}
    void say(char what, const std::string& state) const {
        const auto line = what + state + "\n";
        if (::write(fd_, line.data(), line.size()) < 0) _exit(4);
    }

private:
    int fd_;
};

[[noreturn]] void work(const std::string& folder, std::uint64_t seed, const Voice& voice) {
    Random random(seed);
    auto opened = Document::open(real_disk(), folder + "/p.kpeg", options(folder));
    if (!opened) _exit(5);
    auto& document = *opened.value();
    voice.say('o', digest(document.project()));
    for (;;) {
        Project then = document.project();
        Status status = Done{};
        if (random() % 4 == 0) {
            voice.say('a', digest(then));
            status = document.save();
        } else {
            const auto edit = random_edit(document.project(), random);
            if (!kp::apply(then, edit)) continue;
            voice.say('a', digest(then));
            status = document.apply(edit);
        }
        if (!status || document.risk()) _exit(6);
        voice.say('d', digest(document.project()));
    }
}

std::string all_of(int fd) {
    std::string out;
    char buffer[4096];
    for (ssize_t n = 0; (n = ::read(fd, buffer, sizeof buffer)) > 0;) out.append(buffer, static_cast<size_t>(n));
    return out;
}

/// A process that works until it is killed, and the end of the pipe from which its voice is heard; -1 when there is
/// none.
struct Worker {
    pid_t process = -1;
    int voice = -1;
};
Worker start_worker(const std::string& folder, std::uint64_t seed) {
    int ends[2];
    if (::pipe(ends) != 0) return {};
    const pid_t child = ::fork();
    if (child == 0) {
        ::close(ends[0]);
        work(folder, seed, Voice(ends[1]));
    }
    ::close(ends[1]);
    return {child, ends[0]};
}

void pause_up_to(Random& random, unsigned microseconds) {
    std::this_thread::sleep_for(std::chrono::microseconds(random() % microseconds));
}

}  // namespace

std::string kill_a_process(std::uint64_t seed, const std::string& folder, Figures& figures) {
    Random random(seed);
    const auto where = "kills, seed " + std::to_string(seed) + ": ";
    lay_out(folder);
    std::string expected, attempted;
    for (int round = 0; round < 8; ++round) {
        const auto worker = start_worker(folder, random());
        const pid_t child = worker.process;
        const int voice = worker.voice;
        if (child < 0) return where + "no worker";
        pause_up_to(random, 20000);
        ::kill(child, SIGKILL);
        int status = 0;
        ::waitpid(child, &status, 0);
        const auto told = all_of(voice);
        ::close(voice);
        if (!WIFSIGNALED(status))
            return where + "the worker ended by itself with " + std::to_string(WEXITSTATUS(status));
        ++figures.kills;
        for (size_t at = 0; at < told.size();) {
            const auto end = told.find('\n', at);
            if (end == std::string::npos) break;
            const auto line = told.substr(at, end - at);
            at = end + 1;
            if (line[0] == 'o' && !expected.empty() && line.substr(1) != expected && line.substr(1) != attempted)
                return where + "it opened as neither what was done nor what was being done";
            if (line[0] == 'a')
                attempted = line.substr(1);
            else {
                expected = line.substr(1);
                attempted = expected;
            }
        }
        if (expected.empty()) continue;
        auto look = options(folder);
        look.purpose = OpenTo::look;
        auto seen = Document::open(real_disk(), folder + "/p.kpeg", look);
        ++figures.openings;
        if (!seen) return where + "does not open: " + seen.first().sentence();
        if (seen.value()->offer()) return where + "its own journal was not taken: " + seen.value()->offer()->sentence;
        const auto now = digest(seen.value()->project());
        if (now != expected && now != attempted) return where + "an acknowledged edit is lost";
        expected = attempted = now;
        if (random() % 4 == 0) {
            // The folder goes elsewhere; a copy of it must not reach back.
            fs::remove_all(folder + "-copy");
            fs::copy(folder, folder + "-copy", fs::copy_options::recursive);
            auto copy = Document::open(real_disk(), folder + "-copy/p.kpeg", options(folder));
            if (!copy || digest(copy.value()->project()) != now) return where + "a copy of the folder opens otherwise";
            (void)copy.value()->apply(random_edit(copy.value()->project(), random));
            (void)copy.value()->save();
            copy.value().reset();
            auto again = Document::open(real_disk(), folder + "/p.kpeg", look);
            if (!again || digest(again.value()->project()) != now) return where + "the copy changed the original";
            fs::remove_all(folder + "-copy");
            ++figures.moves;
        }
    }
    return {};
}

std::string two_processes(std::uint64_t seed, const std::string& folder, Figures& figures) {
    Random random(seed);
    const auto where = "two processes, seed " + std::to_string(seed) + ": ";
    lay_out(folder);
    const auto worker = start_worker(folder, random());
    const pid_t child = worker.process;
    const int voice = worker.voice;
    if (child < 0) return where + "no worker";
    char first = 0;
    if (::read(voice, &first, 1) != 1) return where + "the worker did not begin";
    const auto finish = [&](int signal) {
        ::kill(child, signal);
        int status = 0;
        ::waitpid(child, &status, 0);
        return status;
    };
    auto second = Document::open(real_disk(), folder + "/p.kpeg", options(folder));
    if (!second || !second.value()->looking()) {
        finish(SIGKILL);
        return where + "both work on one project";
    }
    if (second.value()->apply(random_edit(second.value()->project(), random)) || second.value()->save()) {
        finish(SIGKILL);
        return where + "who only looks could write";
    }
    second.value().reset();
    auto taking = options(folder);
    taking.take_over = true;
    // The pipe has to be emptied or the worker stops before it learns of it.
    std::string rest;
    std::thread reader([&] { rest = all_of(voice); });
    pause_up_to(random, 5000);
    auto taken = Document::open(real_disk(), folder + "/p.kpeg", taking);
    const bool works = taken && !taken.value()->looking();
    int status = 0;
    for (int i = 0; i < 2000 && ::waitpid(child, &status, WNOHANG) == 0; ++i)
        std::this_thread::sleep_for(std::chrono::milliseconds(1));
    if (!WIFEXITED(status) || WEXITSTATUS(status) != 6) (void)finish(SIGKILL);
    reader.join();
    ::close(voice);
    ++figures.takeovers;
    if (!works) return where + "it cannot be taken over";
    if (!WIFEXITED(status) || WEXITSTATUS(status) != 6) return where + "the old owner went on writing";
    if (!taken.value()->apply(random_edit(taken.value()->project(), random)) || !taken.value()->save())
        return where + "the new owner cannot write";
    return {};
}

}  // namespace kp::campaign
