// SPDX-License-Identifier: GPL-3.0-or-later
// What writes constraint text for the user: drafts, budgets, recipes, and the switch of single commands.
#include "core/base/memory_disk.hpp"
#include "core/base/text.hpp"
#include "core/constraints/budget_edits.hpp"
#include "core/format/sdc/as_used.hpp"
#include "core/constraints/clock_matrix.hpp"
#include "core/constraints/command_form.hpp"
#include "core/constraints/command_list.hpp"
#include "core/inputs/data_folder.hpp"
#include "core/constraints/draft.hpp"
#include "core/constraints/exception_review.hpp"
#include "core/constraints/recipes.hpp"

#include <filesystem>
#include <gtest/gtest.h>
#include <random>
#include <unistd.h>

namespace kp {
namespace {

std::unique_ptr<Session> demo(const std::string& path) {
    auto opened = Session::open(real_disk(), std::string(KP_SOURCE "/demo/") + path, data_folder(), {OpenTo::look});
    if (!opened) throw std::runtime_error(opened.first().sentence());
    auto s = opened.take();
    s->analyse_now();
    return s;
}

/// The demo in a folder of its own, to work on.
struct Copy {
    std::filesystem::path folder = std::filesystem::path(testing::TempDir()) / ("writing_" + std::to_string(getpid()));
    std::unique_ptr<Session> session;
    explicit Copy(const char* name) {
        std::filesystem::remove_all(folder);
        std::filesystem::copy(KP_SOURCE "/demo/profiler", folder);
        auto opened = Session::open(real_disk(), (folder / name).string(), data_folder(), {OpenTo::work});
        if (!opened) throw std::runtime_error(opened.first().sentence());
        session = opened.take();
        session->analyse_now();
    }
    ~Copy() {
        session.reset();
        std::error_code ignored;
        std::filesystem::remove_all(folder, ignored);
    }
};

/// A project whose constraints nobody wrote yet.
Project bare(Project project) {
    project.constraints.clear();
    return project;
}

TEST(Draft, CoversTheDemosWholly) {
    for (const char* path : {"profiler/profiler.kpeg", "profiler/profiler-closed.kpeg", "vane/vane.kpeg"}) {
        const auto s = demo(path);
        const auto draft = draft_sdc(s->world(), bare(s->project()), s->document().folder(), {}).take();
        EXPECT_EQ(draft.coverage.constrained, draft.coverage.endpoints) << path;
        EXPECT_TRUE(draft.coverage.untimed.empty()) << path << ": " << draft.coverage.untimed[0].object;
        for (const auto& m : draft.messages) EXPECT_EQ(m.severity, Severity::note) << path << ": " << m.text;
        for (const auto& line : draft.lines) {
            EXPECT_FALSE(line.why.empty()) << line.text;
            EXPECT_EQ(line.text.find(number_wanted), std::string::npos) << "a placeholder: " << line.text;
        }
    }
}

/// What the text says stays and is not said again.
TEST(Draft, OfACompleteProjectIsEmpty) {
    const auto s = demo("profiler/profiler-closed.kpeg");
    const auto draft = draft_sdc(s->world(), s->project(), s->document().folder(), {}).take();
    for (const auto& line : draft.lines)
        EXPECT_EQ(line.text, "set_propagated_clock [all_clocks]") << "what the hand did not write: " << line.section;
    Project less = s->project();
    for (auto& file : less.constraints)
        if (const auto at = file.text.find("create_clock"); at != std::string::npos) {
            less.constraints = {file};
            break;
        }
    const auto rest = draft_sdc(s->world(), less, s->document().folder(), {}).take();
    EXPECT_FALSE(rest.lines.empty());
    for (const auto& line : rest.lines) EXPECT_EQ(line.text.find("create_clock"), std::string::npos) << line.text;
}

/// An oscillator and what its PLL makes have edges that know each other.
TEST(Draft, APllAndItsInputAreNoAsynchronousGroups) {
    const auto s = demo("profiler/profiler-closed.kpeg");
    const auto draft = draft_sdc(s->world(), bare(s->project()), s->document().folder(), {}).take();
    const auto analysis = [&] {
        auto p = bare(s->project());
        SdcFile file;
        file.path = "d.sdc";
        file.text = draft_text(draft.lines, "d");
        p.constraints = {file};
        return analyse(s->world(), p, s->document().folder(), {});
    }();
    const auto& k = analysis->constraints();
    for (const auto& x : analysis->design().related)
        for (const auto& set : k.groups)
            for (size_t a = 0; a < set.groups.size(); ++a)
                for (size_t b = 0; b < set.groups.size(); ++b) {
                    const auto in = [&](size_t g, std::uint32_t c) {
                        return std::find(set.groups[g].begin(), set.groups[g].end(), c) != set.groups[g].end();
                    };
                    if (a != b && in(a, x.from) && in(b, x.to)) {
                        EXPECT_EQ(x.open, 0) << k.clocks[x.from].name << " " << k.clocks[x.to].name;
                    }
                }
}

// The hand-made constraints of the closed demo say the same of its clocks; its inputs agree to the traces, which the
// hand left out.
TEST(Draft, AgreesWithWhatAHandWrote) {
    const auto s = demo("profiler/profiler-closed.kpeg");
    const auto draft = draft_sdc(s->world(), bare(s->project()), s->document().folder(), {}).take();
    Project project = s->project();
    SdcFile file;
    file.path = "d.sdc";
    file.text = draft_text(draft.lines, "d");
    project.constraints = {file};
    const auto analysis = analyse(s->world(), project, s->document().folder(), {});
    const auto& mine = analysis->constraints();
    const auto& theirs = s->analysis().constraints();
    for (const auto& c : theirs.clocks) {
        const auto at = std::find_if(mine.clocks.begin(), mine.clocks.end(),
                                     [&](const ClockDefinition& o) { return o.sources == c.sources; });
        ASSERT_NE(at, mine.clocks.end()) << c.name;
        EXPECT_NEAR(at->period, c.period, 1e-3) << c.name;
    }
    const auto latest = [](const Constraints& k, std::uint32_t port) {
        std::optional<double> out;
        for (const auto& d : k.io_delays)
            if (d.input && d.late && d.port == port) out = d.value;
        return out;
    };
    int compared = 0;
    for (std::uint32_t i = 0; i < s->world().netlist.ports.size(); ++i) {
        const auto a = latest(theirs, i), b = latest(mine, i);
        if (!a || !b || s->world().netlist.ports[i].bus == "gps_txd") continue;
        ++compared;
        EXPECT_NEAR(*a, *b, 0.02) << s->world().netlist.ports[i].name;
    }
    EXPECT_GE(compared, 10);
}

TEST(Budgets, TakenLinesAreInForceAndUndoPutsTheTextBack) {
    const Copy copy("profiler.kpeg");
    auto* const s = copy.session.get();
    std::map<std::string, std::string> before;
    for (const auto& f : s->project().constraints) before[f.path] = f.text;
    int taken = 0;
    for (int round = 0; round < 60; ++round) {
        const auto list = budgets_of(*s);
        const auto open = std::find_if(list.begin(), list.end(),
                                       [](const clocks::Budget& b) { return !b.agrees() && !b.sdc.empty(); });
        if (open == list.end()) break;
        const auto edit = take_budget(*s, *open);
        ASSERT_TRUE(edit) << open->name << ": " << edit.first().text;
        ASSERT_TRUE(s->apply(edit.value().edit)) << open->name;
        s->analyse_now();
        const auto now = budgets_of(*s);
        const auto same =
            std::find_if(now.begin(), now.end(), [&](const clocks::Budget& b) { return b.name == open->name; });
        ASSERT_NE(same, now.end());
        ASSERT_TRUE(same->agrees()) << open->name << " after " << edit.value().note;
        ++taken;
    }
    EXPECT_GT(taken, 3);
    for (const auto& b : budgets_of(*s)) EXPECT_TRUE(b.agrees() || b.sdc.empty()) << b.name;
    for (int i = 0; i < taken; ++i) ASSERT_TRUE(s->undo());
    for (const auto& f : s->project().constraints) EXPECT_EQ(f.text, before[f.path]);
}

TEST(Budgets, ALinkedOneFollowsTheBoard) {
    const Copy copy("profiler.kpeg");
    auto* const s = copy.session.get();
    const auto set = [&](const char* term, const char* text) {
        const auto after = clocks::with_term(s->project(), "U2.rxc in", term, text);
        ASSERT_TRUE(after);
        ASSERT_TRUE(s->apply(Edit{"x", {set_field(s->project(), "budgets", field_text(*after))}}));
        s->analyse_now();
    };
    FollowedTimes last;
    EXPECT_FALSE(next_to_follow(*s, last)) << "nothing is linked";
    set("linked", "yes");
    for (int i = 0; i < 3; ++i)
        if (const auto next = next_to_follow(*s, last)) {
            ASSERT_TRUE(s->apply(next->edit));
            s->analyse_now();
        }
    EXPECT_FALSE(next_to_follow(*s, last));
    set("allowance", "0.25 -0.25");
    const auto next = next_to_follow(*s, last);
    ASSERT_TRUE(next) << "a term moved, so the line follows";
    ASSERT_TRUE(s->apply(next->edit));
    s->analyse_now();
    EXPECT_FALSE(next_to_follow(*s, last));
    ASSERT_TRUE(s->undo());
    s->analyse_now();
    EXPECT_FALSE(next_to_follow(*s, last)) << "what was undone stays undone";
}

// Written out without Tcl the constraints say what they said: the same slack at every endpoint.
TEST(AsUsed, SaysTheSameWithoutTcl) {
    for (const char* path : {"profiler/profiler-closed.kpeg", "profiler/profiler.kpeg", "vane/vane.kpeg"}) {
        const auto s = demo(path);
        const auto used = sdc::constraints_as_used(analysis_scripts(s->project(), s->document().folder()),
                                                   s->world().netlist, *s->world().index, s->world().library);
        for (const char* word : {"foreach", "$", "eval", "proc", "["}) {
            if (*word == '[') continue;
            EXPECT_EQ(used.text.find(word), std::string::npos) << word;
        }
        Project p = s->project();
        SdcFile f;
        f.path = "used.sdc";
        f.text = used.text;
        p.constraints = {f};
        const auto again = analyse(s->world(), p, s->document().folder(), {});
        const auto &a = s->analysis().timing(), &b = again->timing();
        EXPECT_EQ(a.setup.wns, b.setup.wns) << path;
        EXPECT_EQ(a.setup.tns, b.setup.tns);
        EXPECT_EQ(a.hold.tns, b.hold.tns);
        EXPECT_EQ(a.coverage.constrained, b.coverage.constrained);
        EXPECT_EQ(again->constraints().io_delays.size(), s->analysis().constraints().io_delays.size());
        EXPECT_EQ(again->constraints().exceptions.size(), s->analysis().constraints().exceptions.size());
    }
}

TEST(ClockMatrix, TellsHowEachPairStands) {
    const auto s = demo("profiler/profiler-closed.kpeg");
    const auto pairs = clock_matrix(s->analysis());
    const auto& k = s->analysis().constraints();
    const auto n = k.clocks.size();
    ASSERT_EQ(pairs.size(), n * n);
    const auto of = [&](const Analysis& a, const char* from, const char* to) {
        const auto list = clock_matrix(a);
        return list[a.constraints().clock(from) * a.constraints().clocks.size() + a.constraints().clock(to)];
    };
    EXPECT_EQ(of(s->analysis(), "sys", "sys").kind, ClockPair::Kind::same);
    EXPECT_DOUBLE_EQ(of(s->analysis(), "sys", "sys").capture, 10);
    const auto out = of(s->analysis(), "rxc", "sys");
    EXPECT_EQ(out.kind, ClockPair::Kind::excluded);
    EXPECT_FALSE(out.file.empty());
    EXPECT_GT(out.line, 0);
    // Without the groups: unrelated clocks are open, those of one PLL are timed against their edges.
    Project p = s->project();
    for (auto& f : p.constraints) {
        const auto at = f.text.find("set_clock_groups");
        if (at != std::string::npos) f.text.insert(at, "# ");
    }
    const auto bare = analyse(s->world(), p, s->document().folder(), {});
    EXPECT_EQ(of(*bare, "rxc", "sys").kind, ClockPair::Kind::open);
    EXPECT_GT(of(*bare, "rxc", "sys").open, 0);
    EXPECT_NE(of(*bare, "rxc", "sys").proposal.find("set_clock_groups"), std::string::npos);
    const auto related = of(*bare, "sys", "mem");
    EXPECT_EQ(related.kind, ClockPair::Kind::related);
    // 10 ns against 40/6 ns: they meet every 20 ns, and come nearest from 10 to 13.333.
    EXPECT_NEAR(related.capture - related.launch, 10.0 / 3, 1e-6);
    EXPECT_TRUE(related.common_period);
    EXPECT_EQ(of(*bare, "adc_clk", "rxc").kind, ClockPair::Kind::never);
    EXPECT_EQ(words_of(of(*bare, "adc_clk", "rxc")), "never meet");
}

TEST(Exceptions, WhatEachHidesIsFoundByTimingWithoutIt) {
    const auto s = demo("profiler/profiler-closed.kpeg");
    Project p = s->project();
    // One that says what another says already, and one that hits nothing.
    p.constraints.back().text += "\nset_false_path -to [get_ports tone]\nset_false_path -from [get_ports lamp[0]]\n";
    const auto rows = review_exceptions(s->world(), p, s->document().folder(), {});
    ASSERT_GE(rows.size(), 6u);
    const auto of = [&](const std::string& start) {
        for (const auto& r : rows)
            if (r.command.text.starts_with(start)) return r;
        ADD_FAILURE() << start;
        return ExceptionReview{};
    };
    const auto groups = of("set_clock_groups");
    EXPECT_GT(groups.hidden, 0) << "clocks that meet at a fraction of a nanosecond";
    ASSERT_TRUE(groups.worst);
    EXPECT_LT(*groups.worst, 0);
    const auto cycles = of("set_multicycle_path 4");
    EXPECT_GT(cycles.hidden, 0) << "the sums need their four clocks";
    for (const char* idle : {"set_false_path -to [get_ports tone]", "set_false_path -from [get_ports lamp[0]]"}) {
        const auto row = of(idle);
        EXPECT_EQ(row.endpoints, 0) << idle;
        EXPECT_TRUE(row.words().starts_with("changes nothing"));
    }
}

TEST(Recipes, AreReadBackAndGrowOld) {
    Part part;
    part.name = "T";
    PllLimits l;
    l.name = "P";
    l.input_mhz[0] = 5, l.input_mhz[1] = 200, l.detector_mhz[0] = 5, l.detector_mhz[1] = 100;
    l.vco_mhz[0] = 600, l.vco_mhz[1] = 1600, l.output_mhz[0] = 3, l.output_mhz[1] = 400;
    l.divide[1] = 16, l.multiply[1] = 80, l.output_divide[1] = 100, l.outputs = 4;
    part.plls = {l};
    clocks::PllWish wish;
    wish.in = 25;
    wish.want = {100, 125};
    const auto setting = clocks::search_pll(part, wish).take().solutions.front();
    Recipe r;
    r.cell = "u/pll";
    r.in = "25";
    r.want = {"100", "125"};
    r.phase = {"0", "90"};
    r.result = result_words(setting);
    Project p;
    SdcFile clocks_file, ports_file;
    clocks_file.path = "clocks.sdc";
    clocks_file.text = "create_clock -name c -period 40 [get_ports c]\n";
    ports_file.path = "ports.sdc";
    p.constraints = {clocks_file, ports_file};
    ASSERT_TRUE(kp::apply(p, write_recipe(p, r, {"one", "two"})));
    ASSERT_EQ(p.constraints.size(), 3u);
    EXPECT_EQ(p.constraints[1].path, "recipes.sdc") << "behind the clocks that come in, before who uses its own";
    auto back = recipes_of(p);
    ASSERT_EQ(back.size(), 1u);
    EXPECT_EQ(back[0].cell, r.cell);
    EXPECT_EQ(back[0].want, r.want);
    EXPECT_EQ(back[0].phase, r.phase);
    EXPECT_EQ(back[0].result, r.result);
    EXPECT_EQ(back[0].lines, (std::vector<std::string>{"one", "two"}));
    EXPECT_EQ(why_old(back[0], part, 25, nullptr), "");
    EXPECT_NE(why_old(back[0], part, 27, nullptr).find("the board gives 27 MHz"), std::string::npos);
    part.plls[0].vco_mhz[1] = 700;
    EXPECT_NE(why_old(back[0], part, 25, nullptr), "");
    // Written again it takes the place of the older one and of nothing else.
    p.constraints[1].text = "# mine\n\n" + p.constraints[1].text + "\n# yours\nset_x\n";
    ASSERT_TRUE(kp::apply(p, write_recipe(p, r, {"three"})));
    EXPECT_EQ(p.constraints[1].text, "# mine\n\n" + recipe_text(r, {"three"}) + "\n# yours\nset_x\n");
    for (const char* wrong : {"# recipe", "# recipe x: y", "# recipe x: 25 MHz in, MHz wanted -> y", "#recipe"}) {
        p.constraints[1].text = wrong;
        EXPECT_TRUE(recipes_of(p).empty()) << wrong;
    }
}

TEST(Commands, AreListedWithClassReasonAndHits) {
    const auto s = demo("vane/vane.kpeg");
    const auto list = list_commands(s->project(), s->analysis().constraints(), s->analysis().texts());
    ASSERT_FALSE(list.empty());
    EXPECT_EQ(list[0].name, "create_clock");
    EXPECT_EQ(list[0].in, CommandClass::clocks);
    EXPECT_EQ(list[0].hits, 1);
    for (const auto& c : list) {
        EXPECT_TRUE(c.on);
        const auto& files = s->project().constraints;
        const auto file = std::find_if(files.begin(), files.end(), [&](const SdcFile& f) { return f.path == c.file; });
        ASSERT_NE(file, files.end());
        EXPECT_EQ(c.line,
                  1 + std::count(file->text.begin(), file->text.begin() + static_cast<long>(c.span.begin), '\n'));
    }
    // A loop is told, and what is in it counts as its own.
    const auto closed = demo("profiler/profiler-closed.kpeg");
    int loops = 0;
    for (const auto& c : list_commands(closed->project(), closed->analysis().constraints(), closed->analysis().texts()))
        if (c.name == "foreach") {
            ++loops;
            EXPECT_FALSE(c.written_out);
            EXPECT_EQ(c.in, CommandClass::inputs_and_outputs);
            EXPECT_GE(c.hits.value_or(0), 5);
            EXPECT_FALSE(c.reason.empty());
            EXPECT_TRUE(switch_command(closed->project(), c).empty());
        }
    EXPECT_EQ(loops, 2);
}

/// Files as people lay them out: comments, continuations, loops, procedures, odd blanks, CRLF.
std::string random_file(std::mt19937& random) {
    static const char* const pieces[] = {"create_clock -name c -period 10 [get_ports clk]",
                                         "set_input_delay -clock c \\\n  1.5 \\\n  [get_ports d]",
                                         "  set_false_path\t-from [get_ports {a b}]",
                                         "# a remark",
                                         "#set_load 1 x",
                                         "",
                                         "foreach p {a b} {\n  set_load 1 $p\n}",
                                         "proc f {x} {\n# inside\n  return $x\n}",
                                         "set n 4 ; set_load $n y",
                                         "set_max_delay 3 -to q ;# why",
                                         "## heading ##",
                                         "set_clock_groups -asynchronous \\\n -group {a}\\\n -group {b}"};
    std::string out;
    const std::string end = random() % 2 ? "\n" : "\r\n";
    for (unsigned n = random() % 12; n > 0; --n) {
        for (const char c : std::string(pieces[random() % std::size(pieces)])) {
            if (c == '\n')
                out += end;
            else
                out += c;
        }
        out += end;
    }
    if (random() % 3 == 0 && !out.empty()) out.erase(out.size() - end.size());
    return out;
}

// A form's edit touches the command's own bytes only, and only those of the words that changed; taken back it is as
// before.
TEST(CommandForm, ChangesOneWordOfOneCommandInAnyFile) {
    std::mt19937 random(11);
    int changed = 0, refused = 0;
    for (int round = 0; round < 600; ++round) {
        Project p;
        SdcFile f;
        f.path = "a.sdc";
        f.text = random_file(random);
        p.constraints = {f};
        for (const auto& command : list_commands(p, {}, {})) {
            const auto form = form_of(p, command);
            EXPECT_EQ(form.has_value(), command.on && command.written_out) << command.text;
            if (!form) continue;
            EXPECT_TRUE(form_edit(p, *form, *form).value().empty()) << "nothing changed, so nothing is written";
            auto next = *form;
            auto& field = next.fields[random() % next.fields.size()];
            if (field.takes == sdc::Takes::flag) {
                field.given = !field.given;
            } else if (field.given && !field.option.empty() && random() % 3 == 0) {
                field.given = false;
            } else {
                field.given = true;
                static const char* const values[] = {"7.25", "{a b}", "[get_ports z]", "two words", "{open", "", "$n"};
                field.value = values[random() % std::size(values)];
            }
            const auto edit = form_edit(p, *form, next);
            if (!edit) {
                ++refused;
                continue;
            }
            Project then = p;
            ASSERT_TRUE(kp::apply(then, edit.value()));
            const auto& after = then.constraints[0].text;
            EXPECT_TRUE(after.starts_with(f.text.substr(0, command.span.begin)));
            EXPECT_TRUE(after.ends_with(f.text.substr(command.span.end))) << after;
            // Read again it says what the form said.
            const auto now = list_commands(then, {}, {});
            const auto same = std::find_if(now.begin(), now.end(), [&](const ListedCommand& c) {
                return c.on && c.span.begin == command.span.begin;
            });
            ASSERT_NE(same, now.end()) << after;
            const auto again = form_of(then, *same);
            ASSERT_TRUE(again) << same->text;
            for (const auto& wanted : next.fields) {
                if (!wanted.given) continue;
                const auto there = std::count_if(again->fields.begin(), again->fields.end(), [&](const FormField& x) {
                    return x.option == wanted.option && x.given == wanted.given &&
                           (!x.given || x.value == wanted.value);
                });
                EXPECT_GE(there, 1) << wanted.option << " in " << same->text;
            }
            const auto given = [](const CommandForm& x) {
                return std::count_if(x.fields.begin(), x.fields.end(), [](const FormField& y) { return y.given; });
            };
            EXPECT_EQ(given(*again), given(next)) << after;
            ASSERT_TRUE(kp::apply(then, edit.value().inverse()));
            EXPECT_EQ(then.constraints[0].text, f.text);
            ++changed;
        }
    }
    EXPECT_GT(changed, 500);
    EXPECT_GT(refused, 20);
}

TEST(CommandForm, EveryCommandOfTheTableHasOne) {
    for (const auto& row : sdc::commands()) {
        auto form = fresh_form(row.name);
        ASSERT_TRUE(form) << row.name;
        for (auto& f : form->fields)
            if (f.given) f.value = "x";
        const auto text = form_text(*form);
        ASSERT_TRUE(text) << row.name << ": " << text.first().text;
        EXPECT_TRUE(text.value().starts_with(row.name));
    }
    EXPECT_FALSE(fresh_form("foreach"));
    auto clock = *fresh_form("create_clock");
    for (auto& f : clock.fields) {
        if (f.option == "-period") f.given = true, f.value = "ten";
    }
    EXPECT_EQ(form_text(clock).first().text, "-period: 'ten' is not a number.");
    EXPECT_EQ(query_of(ObjectKind::port, {"a[0]", "b"}), "[get_ports {{a[0]} b}]");
    EXPECT_EQ(query_of(ObjectKind::clock, {"c"}), "[get_clocks c]");
}

TEST(Commands, ASwitchChangesOneCommandAndBackIsToTheByte) {
    std::mt19937 random(3);
    int switched = 0;
    for (int round = 0; round < 400; ++round) {
        Project p;
        SdcFile f;
        f.path = "a.sdc";
        f.text = random_file(random);
        p.constraints = {f};
        const auto list = list_commands(p, {}, {});
        for (size_t i = 0; i < list.size(); ++i) {
            const auto edit = switch_command(p, list[i]);
            if (edit.empty()) continue;
            Project next = p;
            ASSERT_TRUE(kp::apply(next, edit));
            const auto& after = next.constraints[0].text;
            // Bytes before and behind the command are as they were.
            EXPECT_EQ(after.substr(0, list[i].span.begin), f.text.substr(0, list[i].span.begin));
            EXPECT_TRUE(after.ends_with(f.text.substr(list[i].span.end)));
            if (!list[i].on) continue;
            const auto now = list_commands(next, {}, {});
            const auto off = std::find_if(now.begin(), now.end(), [&](const ListedCommand& c) {
                return !c.on && c.span.begin == list[i].span.begin;
            });
            // One that shares its line with what is before it cannot be told from an end-of-line comment.
            if (off == now.end()) continue;
            EXPECT_TRUE(off->text.starts_with(list[i].text)) << f.text;  // a comment behind it is in it now
            const auto back = switch_command(next, *off);
            ASSERT_TRUE(kp::apply(next, back));
            EXPECT_EQ(next.constraints[0].text, f.text);
            ++switched;
        }
    }
    EXPECT_GT(switched, 300);
}

}  // namespace
}  // namespace kp
