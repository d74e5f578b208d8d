// SPDX-License-Identifier: GPL-3.0-or-later
// A small coverage-guided fuzzer for the readers, for GCC (which has no fuzzing library of its own): the readers are
// compiled with -fsanitize-coverage=trace-pc and the address sanitizer; inputs that reach new places are kept and
// changed further.
//     fuzz_readers TARGET SECONDS [SEED]      or: fuzz_readers --list      or, one input again: fuzz_readers TARGET
//     FILE
// Ends with 1 when an input takes longer than 10 s or the process grows without end; a crash ends it by the sanitizer.
// The input at hand is then in fuzz-TARGET.bin.
#include "tests/fuzz/targets.hpp"

#include <algorithm>
#include <array>
#include <cctype>
#include <chrono>
#include <csignal>
#include <cstdint>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <iterator>
#include <random>
#include <unistd.h>

namespace {

std::array<std::uint8_t, 1 << 16> hits;
std::uintptr_t before;
bool found_new;
std::string current, dump_name;

void keep_current() {
    if (FILE* f = std::fopen(dump_name.c_str(), "wb")) {
        std::fwrite(current.data(), 1, current.size(), f);
        std::fclose(f);
    }
}
void on_alarm(int) {
    keep_current();
    static const char text[] = "fuzz: an input took longer than 10 s\n";
    (void)!write(2, text, sizeof text - 1);
    _exit(1);
}
void on_abort(int) {
    keep_current();
    _exit(1);
}

size_t resident_mb() {
    std::ifstream in("/proc/self/statm");
    size_t all = 0, resident = 0;
    in >> all >> resident;
    return resident * static_cast<size_t>(sysconf(_SC_PAGESIZE)) >> 20;
}

std::string load(const std::filesystem::path& path) {
    std::ifstream in(path, std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
}

class Fuzzer {
public:
    Fuzzer(const kp::fuzz::Target& target, unsigned seed) : target_(target), random_(seed) {
        for (const auto& name : target.seeds) {
            const std::filesystem::path path = std::filesystem::path(KP_SOURCE) / name;
            if (!std::filesystem::is_directory(path))
                corpus_.push_back(load(path));
            else
                for (const auto& entry : std::filesystem::directory_iterator(path))
                    corpus_.push_back(load(entry.path()));
        }
    }

    int run(double seconds) {
        using clock = std::chrono::steady_clock;
        const auto start = clock::now();
        for (const auto& text : std::vector(corpus_)) one(text);
        size_t early_mb = 0;
        for (double now = 0; now < seconds; now = std::chrono::duration<double>(clock::now() - start).count()) {
            for (int i = 0; i < 50; ++i) {
                const auto text = changed();
                if (one(text) && corpus_.size() < 4000) corpus_.push_back(text);
            }
            if (early_mb == 0 && now > seconds / 3) early_mb = resident_mb();
        }
        const auto covered = std::count_if(hits.begin(), hits.end(), [](auto h) { return h != 0; });
        std::printf("%-14s %8zu inputs, %5zu kept, %6td places, %zu MB\n", target_.name, runs_, corpus_.size(), covered,
                    resident_mb());
        if (early_mb > 0 && resident_mb() > 2 * early_mb + 500) {
            std::printf("%s grows: %zu MB after a third of the time, %zu MB now\n", target_.name, early_mb,
                        resident_mb());
            return 1;
        }
        return 0;
    }

private:
    size_t upto(size_t n) { return n == 0 ? 0 : random_() % n; }

    const char* extreme() {
        static constexpr std::array numbers{"99999999999999999999", "-1",     "0",     "65536", "4294967296",
                                            "9223372036854775807",  "-1e308", "1e308", "nan",   "2147483648"};
        return numbers[upto(numbers.size())];
    }

    /// Two words of letters and digits change places.
    void swap_words(std::string& text) {
        const auto word_at = [&](size_t at) {
            const auto is = [&](size_t i) {
                return std::isalnum(static_cast<unsigned char>(text[i])) || text[i] == '_';
            };
            while (at < text.size() && !is(at)) ++at;
            auto end = at;
            while (end < text.size() && is(end)) ++end;
            return std::pair(at, end);
        };
        const auto a = word_at(upto(text.size() + 1));
        const auto b = word_at(a.second + upto(text.size() - a.second + 1));
        if (a.first == a.second || b.first == b.second) return;
        text = text.substr(0, a.first) + text.substr(b.first, b.second - b.first) +
               text.substr(a.second, b.first - a.second) + text.substr(a.first, a.second - a.first) +
               text.substr(b.second);
    }

    std::string changed() {
        std::string out = corpus_.empty() ? std::string() : corpus_[upto(corpus_.size())];
        for (auto n = 1 + upto(5); n > 0; --n) {
            const size_t at = upto(out.size() + 1), length = std::min(upto(60), out.size() - at);
            switch (upto(11)) {
                case 0:
                    if (!out.empty()) out[upto(out.size())] = static_cast<char>(random_());
                    break;
                case 1: out.erase(at, length); break;
                case 2: out.insert(at, out.substr(at, length)); break;
                case 3: out.insert(upto(out.size() + 1), out.substr(at, length)); break;
                case 4: out.insert(at, std::string(1 + upto(80), "(){}[]\"\\;:,'`"[upto(13)])); break;
                case 5: out.insert(at, extreme()); break;
                case 8:
                    if (!out.empty()) out[upto(out.size())] ^= static_cast<char>(1U << upto(8));
                    break;
                case 9: swap_words(out); break;
                case 6: out.insert(at, target_.words[upto(target_.words.size())] + " "); break;
                case 7: {
                    const auto& other = corpus_[upto(corpus_.size())];
                    const size_t from = upto(other.size() + 1);
                    out.insert(at, other.substr(from, upto(200)));
                    break;
                }
                default: out.resize(at); break;
            }
        }
        if (out.size() > 65536) out.resize(65536);
        return out;
    }

    bool one(const std::string& text) {
        current = text;
        found_new = false;
        before = 0;
        ++runs_;
        alarm(10);
        target_.run(text);
        alarm(0);
        return found_new;
    }

    const kp::fuzz::Target& target_;
    std::mt19937 random_;
    std::vector<std::string> corpus_;
    size_t runs_ = 0;
};

}  // namespace

/// Called by the compiler at every edge of the readers: where from, where to, hashed into one place of the map.
extern "C" void __sanitizer_cov_trace_pc() {
    const auto here = reinterpret_cast<std::uintptr_t>(__builtin_return_address(0));
    auto& hit = hits[((here >> 2) ^ (before << 3)) & 0xFFFF];
    if (hit == 0) {
        hit = 1;
        found_new = true;
    }
    before = here >> 2;
}
extern "C" void __sanitizer_set_death_callback(void (*)());

int main(int argc, char** argv) {
    if (argc == 2 && std::strcmp(argv[1], "--list") == 0) {
        for (const auto& t : kp::fuzz::targets()) std::printf("%s\n", t.name);
        return 0;
    }
    if (argc < 3) {
        std::fprintf(stderr, "fuzz_readers TARGET SECONDS [SEED]\n");
        return 2;
    }
    for (const auto& t : kp::fuzz::targets()) {
        if (std::strcmp(t.name, argv[1]) != 0) continue;
        dump_name = std::string("fuzz-") + t.name + ".bin";
        std::signal(SIGALRM, on_alarm);
        std::signal(SIGABRT, on_abort);
        __sanitizer_set_death_callback(keep_current);
        if (std::filesystem::is_regular_file(argv[2])) {
            t.run(load(argv[2]));
            return 0;
        }
        return Fuzzer(t, argc > 3 ? static_cast<unsigned>(std::atoi(argv[3])) : 1).run(std::atof(argv[2]));
    }
    std::fprintf(stderr, "there is no target %s\n", argv[1]);
    return 2;
}
