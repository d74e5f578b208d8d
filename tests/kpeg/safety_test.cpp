// SPDX-License-Identifier: GPL-3.0-or-later
// What kpeg writes, and above all what it does not.
#include "core/base/checksum.hpp"
#include "core/session/document.hpp"
#include "tests/hostile/corpus.hpp"
#include "tests/kpeg/runner.hpp"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <sys/stat.h>
#include <thread>

namespace {

using namespace kpeg_test;
namespace fs = std::filesystem;

size_t lines(const std::string& text) {
    return static_cast<size_t>(std::count(text.begin(), text.end(), '\n'));
}

std::string without_seconds_of_safety(const std::string& text) {
    auto j = nlohmann::json::parse(text);
    j.erase("seconds");
    j.erase("peak_rss_mb");
    return j.dump();
}

/// An answer is an exit status of the contract, and for an unusable input at least a sentence; never a crash, never a
/// hang.
void expect_answer(const Answer& a, const std::string& what) {
    EXPECT_TRUE(a.status >= 0 && a.status <= 2) << what << ": status " << a.status << "\n" << a.err.substr(0, 500);
    if (a.status == 2) EXPECT_GE(lines(a.err), 1u) << what;
    EXPECT_EQ((a.out + a.err).find(kp::hostile::secret), std::string::npos) << what << ": shows the user's file:\n"
                                                                            << a.err.substr(0, 500);
}

TEST(Hostile, NoProjectMakesKpegCrashHangWriteOrTell) {
    const auto base = (fs::temp_directory_path() / ("kpeg-hostile-" + std::to_string(::getpid()))).string();
    const auto folder = base + "/project", secret = base + "/secret.sdc";
    fs::create_directories(base);
    for (const auto& trap : kp::hostile::traps()) {
        const auto project = kp::hostile::lay(trap, folder, secret);
        const auto before = kp::hostile::contents(base);
        for (const char* command : {"rules", "time", "pegs"})
            expect_answer(run(std::string(command) + " '" + project + "' --json -"),
                          std::string(trap.name) + ", " + command);
        EXPECT_EQ(kp::hostile::contents(base), before) << trap.name << ": a command that only reads wrote something";
        const auto mine = slurp(secret);
        expect_answer(run("pegs '" + project + "' --set tone= --json -"), std::string(trap.name) + ", pegs --set");
        EXPECT_EQ(slurp(secret), mine) << trap.name << ": the user's file was written";
    }
    fs::remove_all(base);
}

TEST(Hostile, NoFileMakesAReaderCrashHangOrTell) {
    const auto base = (fs::temp_directory_path() / ("kpeg-hostile-files-" + std::to_string(::getpid()))).string();
    const auto folder = base + "/project", secret = base + "/secret.sdc";
    const std::string lib = " --lib " KP_SOURCE "/data/cells/skerry.lib";
    fs::create_directories(base);
    for (const auto& trap : kp::hostile::traps()) {
        (void)kp::hostile::lay(trap, folder, secret);
        const auto file = [&](const char* name) { return " '" + folder + "/" + name + "'"; };
        // Pipes are read where a command names them, and these never end.
        if (std::string(trap.name).find("a pipe") != std::string::npos) continue;
        expect_answer(run("time --netlist" + file("vane.v") + lib + " --sdf" + file("vane.sdf") + " --sdc" +
                          file("clocks.sdc") + " --json -"),
                      std::string(trap.name) + ", time of files");
        expect_answer(run("sdc" + file("clocks.sdc") + " --netlist " KP_SOURCE "/demo/vane/vane.v" + lib + " --json -"),
                      std::string(trap.name) + ", sdc");
        for (const char* name : {"h.sv", "h.vhd", "vane.v"})
            if (fs::exists(folder + "/" + name))
                expect_answer(run("ports" + file(name) + " --json -"), std::string(trap.name) + ", ports of " + name);
        // Every file as what it is not.
        for (const char* name : {"vane.kpeg", "vane.v", "vane.sdf", "clocks.sdc"})
            expect_answer(run("pegs " KP_SOURCE "/demo/vane/vane.kpeg --compare" + file(name) + " --json -"),
                          std::string(trap.name) + ", compare with " + name);
    }
    fs::remove_all(base);
}

TEST(Kpeg, OutsideFilesNeedAllow) {
    const Demo d("outside");
    const auto other = d.folder + "-other";
    fs::create_directories(other);
    std::ofstream(other + "/more.sdc") << "set_false_path -from [get_ports hold_n]\n";
    std::ofstream(d / "ports.sdc", std::ios::app) << "source " + other + "/more.sdc\n";
    const auto refused = run("time '" + d / "vane.kpeg" + "' --json -");
    EXPECT_EQ(refused.status, 2);
    EXPECT_EQ(lines(refused.err), 1u) << refused.err;
    EXPECT_NE(refused.err.find("--allow " + other + "/more.sdc"), std::string::npos) << refused.err;
    EXPECT_NE(run("time '" + d / "vane.kpeg" + "' --allow '" + other + "' --json -").status, 2);
    // The command line's own scripts reach no further either.
    const std::string files =
        " --netlist " KP_SOURCE "/demo/vane/vane.v --lib " KP_SOURCE "/data/cells/skerry.lib --json -";
    EXPECT_NE(run("sdc '" + d / "ports.sdc" + "'" + files).out.find("--allow"), std::string::npos);
    EXPECT_EQ(run("sdc '" + d / "ports.sdc" + "' --allow '" + other + "'" + files).out.find("--allow"),
              std::string::npos);
    // Nor does an include.
    std::ofstream(other + "/w.vh") << "`define W 4\n";
    std::ofstream(d / "m.sv") << "`include \"../" + fs::path(other).filename().string() +
                                     "/w.vh\"\nmodule m(input [`W:0] a); endmodule\n";
    const auto ports = run("ports '" + d / "m.sv" + "' --json -");
    EXPECT_EQ(ports.status, 2);
    EXPECT_NE(ports.err.find("--allow"), std::string::npos) << ports.err;
    EXPECT_EQ(run("ports '" + d / "m.sv" + "' --allow '" + other + "' --json -").status, 0);
    fs::remove_all(other);
}

TEST(Kpeg, RefusesToWriteWhileAnotherWorksOnTheProject) {
    const Demo d("locked");
    const auto project = d / "vane.kpeg";
    auto window = kp::Document::open(kp::real_disk(), project, {}).take();
    ASSERT_TRUE(window->apply({"mode", {kp::set_field(window->project(), "mode", "x")}}).ok());
    const auto journal = slurp(project + ".journal"), text = slurp(project);
    const auto a = run("pegs '" + project + "' --set tone= --json -");
    EXPECT_EQ(a.status, 2);
    EXPECT_EQ(lines(a.err), 1u) << a.err;
    EXPECT_NE(a.err.find("being worked on"), std::string::npos) << a.err;
    EXPECT_EQ(slurp(project + ".journal"), journal);
    EXPECT_EQ(slurp(project), text);
    // Looking goes on, and says what it sees.
    const auto look = run("rules '" + project + "' --json -");
    EXPECT_NE(look.status, 2);
    EXPECT_NE(look.err.find("1 edit that had not been saved came back."), std::string::npos) << look.err;
    EXPECT_EQ(slurp(project + ".journal"), journal);
}

TEST(Kpeg, ALeftoverJournalAndTheSameSetAreSaved) {
    const Demo d("leftover");
    const auto project = d / "vane.kpeg";
    {
        auto crashed = kp::Document::open(kp::real_disk(), project, {}).take();
        const auto at = crashed->project().pegs.at("tone");
        ASSERT_TRUE(crashed->apply({"unpeg", {kp::PegChange{"tone", at, std::nullopt}}}).ok());
    }
    const auto a = run("pegs '" + project + "' --set tone= --json -");
    EXPECT_EQ(nlohmann::json::parse(a.out)["changed"], true);
    EXPECT_NE(a.err.find("came back"), std::string::npos) << a.err;
    const auto saved = nlohmann::json::parse(slurp(project));
    for (const auto& peg : saved["pegs"]) EXPECT_NE(peg["port"], "tone");
    EXPECT_FALSE(fs::exists(project + ".journal"));
    EXPECT_EQ(nlohmann::json::parse(run("pegs '" + project + "' --set tone= --json -").out)["changed"], false);
}

TEST(Kpeg, WritesStraightToWhatIsNoFile) {
    const Demo d("outputs");
    const auto project = "'" + d / "vane.kpeg" + "'";
    const auto whole = run("rules " + project + " --json -").out;
    EXPECT_EQ(run("rules " + project + " --json /dev/stdout").out, whole);
    EXPECT_EQ(run("rules " + project + " --json /dev/stdout > '" + d / "o" + "'").status, 1);
    EXPECT_EQ(slurp(d / "o"), whole);
    EXPECT_EQ(run("rules " + project + " --json /dev/null").status, 1);
    EXPECT_TRUE(fs::is_character_file("/dev/null"));
    const auto full = run("rules " + project + " --json - > /dev/full");
    EXPECT_EQ(full.status, 2);
    EXPECT_EQ(full.err, "kpeg: standard output: cannot be written: No space left on device.\n");
    ASSERT_EQ(::mkfifo((d / "pipe").c_str(), 0600), 0);
    std::string read;
    std::thread reader([&] { read = slurp(d / "pipe"); });
    EXPECT_EQ(run("rules " + project + " --json '" + d / "pipe" + "'").status, 1);
    reader.join();
    EXPECT_EQ(read, whole);
    // No copies, no remains; an old result is replaced.
    EXPECT_EQ(run("rules " + project + " --json '" + d / "o" + "'").status, 1);
    for (const auto& e : fs::directory_iterator(d.folder))
        EXPECT_TRUE(e.path().extension() != ".bak" && e.path().extension() != ".new") << e.path();
}

TEST(Kpeg, NoResultGoesOverAnInputOrTheProject) {
    const Demo d("over");
    fs::create_symlink("clocks.sdc", d / "alias");
    const auto before = kp::hostile::contents(d.folder);
    for (const char* name :
         {"vane.kpeg", "vane.v", "vane.sdf", "clocks.sdc", "alias", "../", "vane.kpeg.journal", "vane.kpeg.lock"})
        for (const char* option : {"--json", "--csv"})
            EXPECT_EQ(run("pegs '" + d / "vane.kpeg" + "' --set tone= " +
                          (std::string(option) == "--csv" ? "--json - " : "") + option + " '" + d / name + "'")
                          .status,
                      2)
                << option << " " << name;
    EXPECT_EQ(run("pegs '" + d / "vane.kpeg" + "' --csv '" + d / "x" + "' --json '" + d / "x" + "'").status, 2);
    EXPECT_EQ(run("time --netlist '" + d / "vane.v" + "' --lib " KP_SOURCE "/data/cells/skerry.lib --json '" +
                  d / "vane.v" + "'")
                  .status,
              2);
    EXPECT_EQ(kp::hostile::contents(d.folder), before);
}

TEST(Kpeg, ATableForASpreadsheetRunsNothing) {
    const Demo d("formula");
    auto j = nlohmann::json::parse(slurp(d / "vane.kpeg"));
    j["attributes"].push_back({{"port", "tone"}, {"note", "=cmd|' /c calc'!A1"}});
    std::ofstream(d / "vane.kpeg") << j.dump();
    (void)run("pegs '" + d / "vane.kpeg" + "' --csv '" + d / "p.csv" + "' --json -");
    EXPECT_NE(slurp(d / "p.csv").find("'=cmd"), std::string::npos);
    EXPECT_EQ(slurp(d / "p.csv").find(",=cmd"), std::string::npos);
    const auto same = run("pegs '" + d / "vane.kpeg" + "' --compare '" + d / "p.csv" + "' --json -");
    EXPECT_EQ(nlohmann::json::parse(same.out)["differences"].size(), 0u);
}

// A byte order mark, CRLF and NUL bytes are not part of what a text says; comments in Latin-1 neither.
TEST(Kpeg, MarksAndLineEndsMakeNoDifference) {
    const Demo d("marks");
    const auto time = "time '" + d / "vane.kpeg" + "' --all-endpoints --json -",
               rules = "rules '" + d / "vane.kpeg" + "' --json -";
    const auto timing = without_seconds_of_safety(run(time).out), findings = run(rules).out;
    for (const char* name : {"vane.kpeg", "vane.v", "vane.sdf", "clocks.sdc", "ports.sdc"}) {
        std::string text = "\xEF\xBB\xBF";
        for (const char c : slurp(d / name)) text += c == '\n' ? std::string("\r\n") : std::string(1, c);
        if (std::string(name).ends_with(".sdc")) text += "# caf\xE9\r\n" + std::string(3, '\0');
        std::ofstream(d / name, std::ios::binary) << text;
    }
    const auto again = run(time);
    ASSERT_EQ(again.status, 0) << again.err;
    EXPECT_EQ(without_seconds_of_safety(again.out), timing);
    EXPECT_EQ(run(rules).out, findings);
    // An edit of the plan leaves the other files' bytes alone.
    const auto clocks = slurp(d / "clocks.sdc");
    EXPECT_NE(run("pegs '" + d / "vane.kpeg" + "' --set tone= --json -").status, 2);
    EXPECT_EQ(slurp(d / "clocks.sdc"), clocks);
}

TEST(Kpeg, AnErrorIsOneLineWhateverIsInTheName) {
    for (const char* name : {"$'/no/such\\nkpeg: all is well'", "$'/no/\\xe9'", "$'/no\\r/x'"}) {
        const auto a = run("rules " + std::string("\"$(printf '%s' ") + "'/no/such\nkpeg: fine' )\" --json -");
        EXPECT_EQ(a.status, 2);
        EXPECT_EQ(lines(a.err), 1u) << name << a.err;
    }
}

TEST(KpegTime, AProjectTakesConstraintsDelaysAndCornersAndRefusesTheRest) {
    const Demo d("time");
    const auto project = "time '" + d / "vane.kpeg" + "' --json - ";
    const auto plain = run(project);
    ASSERT_EQ(plain.status, 0) << plain.err;
    for (const char* option : {"--netlist nowhere.v", "--lib nowhere.lib", "--top nobody"}) {
        const auto a = run(project + option);
        EXPECT_EQ(a.status, 2) << option;
        EXPECT_NE(a.err.find("does not go with a project"), std::string::npos) << a.err;
    }
    for (const char* option : {"--sdf nowhere.sdf", "--sdc nowhere.sdc", "--corner c,sdf=nowhere.sdf"})
        EXPECT_EQ(run(project + option).status, 2) << option;
    // The same delays again are the same result; more constraints, other delays and corners are others.
    EXPECT_EQ(without_seconds_of_safety(run(project + "--sdf '" + d / "vane.sdf" + "'").out),
              without_seconds_of_safety(plain.out));
    std::ofstream(d / "more.sdc") << "set_clock_uncertainty 5 [all_clocks]\n";
    const auto wns = [](const Answer& a) {
        return nlohmann::json::parse(a.out)["summary"]["setup"]["wns"].get<double>();
    };
    EXPECT_NEAR(wns(run(project + "--sdc '" + d / "more.sdc" + "'")), wns(plain) - 5 + 0.2,
                1e-6);  // instead of the project's own 0.2
    EXPECT_LT(wns(run(project + "--corner slow,late-factor=1.5")), wns(plain));
}

}  // namespace
