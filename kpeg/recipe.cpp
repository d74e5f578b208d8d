// SPDX-License-Identifier: GPL-3.0-or-later
// recipe: the settings of a part's PLLs that make wanted frequencies, ranked.
#include "core/format/json/json_text.hpp"
#include "core/base/output.hpp"
#include "core/base/text.hpp"
#include "core/base/said.hpp"
#include "core/clocks/pll_search.hpp"
#include "core/constraints/recipes.hpp"
#include "kpeg/commands.hpp"

#include <memory>

namespace kpeg {

namespace {

using kp::clocks::Fraction;

struct RecipeArguments {
    std::string part, in, want, phase, pll, within, json, project, cell;
    std::vector<std::string> allow;
    std::size_t best = 20;
};

kp::Message recipe_error(const std::string& text) {
    return {kp::Severity::stop, kp::Code::recipe, text};
}

kp::Result<kp::clocks::PllWish> wish_of(const RecipeArguments& a) {
    kp::clocks::PllWish wish;
    auto in = kp::clocks::fraction_of(a.in);
    if (!in) return in.messages();
    wish.in = in.take();
    for (const auto word : kp::split(a.want, ',')) {
        auto want = kp::clocks::fraction_of(word);
        if (!want) return want.messages();
        wish.want.push_back(want.take());
    }
    if (!a.phase.empty())
        for (const auto word : kp::split(a.phase, ',')) {
            auto phase = kp::clocks::signed_fraction_of(word, "phase in degrees");
            if (!phase) return phase.messages();
            wish.phase.push_back(phase.take());
        }
    if (!a.within.empty()) {
        auto within = kp::clocks::signed_fraction_of(a.within, "error in ppm");
        if (!within) return within.messages();
        if (within.value() < 0) return recipe_error("An error in ppm is 0 or more.");
        wish.within = within.take();
    }
    wish.pll = a.pll;
    wish.best = a.best;
    return wish;
}

kp::Json setting_json(const kp::clocks::PllSetting& s) {
    using kp::clocks::number_of;
    kp::Json outputs = kp::Json::array();
    for (const auto& o : s.outputs)
        outputs.push_back({{"want_mhz", number_of(o.want)},
                           {"output_divide", o.divide},
                           {"mhz", number_of(o.made)},
                           {"exact_mhz", kp::clocks::text_of(o.made)},
                           {"error_ppm", number_of(o.error_ppm)},
                           {"phase_deg", number_of(o.phase_deg)}});
    return {{"pll", kp::json_safe(s.pll)},           {"divide", s.divide},          {"multiply", s.multiply},
            {"detector_mhz", number_of(s.detector)}, {"vco_mhz", number_of(s.vco)}, {"outputs", std::move(outputs)},
            {"worst_ppm", number_of(s.worst_ppm)}};
}

kp::Json limit_json(const kp::clocks::PllLimit& l) {
    return {{"what", l.what},
            {"value", kp::clocks::number_of(l.value)},
            {"least", kp::clocks::number_of(l.least)},
            {"most", kp::clocks::number_of(l.most)}};
}

/// A count of any size; past 64 bits the nearest number that JSON readers agree on.
kp::Json count_json(const boost::multiprecision::cpp_int& count) {
    if (count <= std::numeric_limits<std::uint64_t>::max()) return count.convert_to<std::uint64_t>();
    return count.convert_to<double>();
}

kp::Json answer_json(const kp::clocks::PllAnswer& answer, double in_mhz) {
    kp::Json out{{"schema", "kitepeg.recipe/1"}, {"solutions", kp::Json::array()}};
    for (const auto& s : answer.solutions) out["solutions"].push_back(setting_json(s));
    out["legal"] = count_json(answer.legal);
    out["nearest"] = answer.nearest ? setting_json(*answer.nearest) : kp::Json(nullptr);
    out["limit"] = answer.limit ? limit_json(*answer.limit) : kp::Json(nullptr);
    out["beyond"] = nullptr;
    if (answer.beyond && answer.beyond_limit)
        out["beyond"] = {{"setting", setting_json(*answer.beyond)}, {"limit", limit_json(*answer.beyond_limit)}};
    out["sdc"] = kp::Json::array();
    if (!answer.solutions.empty()) {
        const auto& best = answer.solutions.front();
        std::vector<std::string> pins, names;
        for (std::size_t k = 0; k < best.outputs.size(); ++k) {
            pins.push_back(best.pll + "/OUT" + std::to_string(k));
            names.push_back(best.pll + "_" + std::to_string(k));
        }
        for (const auto& line : generated_clocks(best, best.pll + "/IN", pins, names, 1000 / in_mhz))
            out["sdc"].push_back(kp::json_safe(line));
    }
    out["messages"] = kp::Json::array();
    if (answer.limit)
        out["messages"].push_back(
            kp::message_json({kp::Severity::stop, kp::Code::recipe, kp::clocks::sentence(*answer.limit)}));
    return out;
}

/// The PLL of the design that is meant: the one named, or the only one.
kp::Result<const kp::PllFacts*> cell_meant(const std::vector<kp::PllFacts>& plls, const std::string& name) {
    std::vector<std::string> names;
    for (const auto& p : plls) names.push_back(p.cell);
    for (const auto& p : plls)
        if (p.cell == name || (name.empty() && plls.size() == 1)) return &p;
    if (plls.empty()) return recipe_error("The design has no PLL, so there is nothing to write a recipe for.");
    return recipe_error(
        name.empty() ? kp::said("The design has several PLLs; name one with --cell: {}.", kp::list_names(names, 8))
                     : kp::said("The design has no PLL '{}'.{}", name, kp::did_you_mean(name, names)));
}

/// Searches the project's part and writes the best setting into the project's constraints.
int recipe_into_project(const RecipeArguments& a) {
    if (!a.part.empty()) return refuse({recipe_error("The project says what part it is; leave out --part.")});
    auto opened = open_project(a.project, a.allow, kp::OpenTo::work, "recipe");
    if (!opened) return refuse(opened.messages());
    auto& s = *opened.value();
    if (auto status = kp::check_outputs({a.json}, files_of(s)); !status) return refuse(status.messages());
    const auto wish = wish_of(a);
    if (!wish) return refuse(wish.messages());
    s.analyse_now();
    const auto cell = cell_meant(s.analysis().design().plls, a.cell);
    if (!cell) return refuse(cell.messages());
    const auto answer = kp::clocks::search_pll(s.world().part, wish.value());
    if (!answer) return refuse(answer.messages());
    const bool any = !answer.value().solutions.empty();
    if (any) {
        kp::Recipe wanted;
        wanted.in = a.in;
        for (const auto& [text, list] : {std::pair{&a.want, &wanted.want}, {&a.phase, &wanted.phase}})
            for (const auto word : kp::split(*text, ','))
                if (!kp::trim(word).empty()) list->emplace_back(kp::trim(word));
        const auto edit = kp::recipe_edit(s.project(), *cell.value(), s.analysis().constraints(),
                                          answer.value().solutions.front(), wanted);
        if (!edit) return refuse(edit.messages());
        if (auto status = apply_and_save(s, edit.value()); !status) return refuse(status.messages());
    }
    return write_out(answer_json(answer.value(), kp::clocks::number_of(wish.value().in)), a.json,
                     any ? in_order : findings);
}

int recipe(const RecipeArguments& a) {
    if (!a.project.empty()) return recipe_into_project(a);
    if (a.part.empty()) return refuse({recipe_error("Name a part with --part, or a project with --write.")});
    if (auto status = kp::check_outputs({a.json}, {a.part}); !status) return refuse(status.messages());
    const auto part = part_called(a.part);
    if (!part) return refuse(part.messages());
    const auto wish = wish_of(a);
    if (!wish) return refuse(wish.messages());
    const auto answer = kp::clocks::search_pll(part.value(), wish.value());
    if (!answer) return refuse(answer.messages());
    return write_out(answer_json(answer.value(), kp::clocks::number_of(wish.value().in)), a.json,
                     answer.value().solutions.empty() ? findings : in_order);
}

}  // namespace

void add_recipe(Command& app, Run& run) {
    auto a = std::make_shared<RecipeArguments>();
    auto* c = app.add_subcommand("recipe", "Settings of a part's PLLs that make wanted frequencies");
    c->add_option("--part", a->part, "Ordering code, or a part file");
    c->add_option("--write", a->project,
                  "A project (*.kpeg): its part is asked, and the best setting is written into it");
    c->add_option("--cell", a->cell, "With --write: the PLL of the design, where it has several");
    c->add_option("--in", a->in, "Frequency that comes in, MHz: 25, or 148.5/1.001")->required();
    c->add_option("--want", a->want, "Frequencies that are wanted, MHz, with commas between them")->required();
    c->add_option("--phase", a->phase, "Phase of each, degrees, with commas between them");
    c->add_option("--pll", a->pll, "Only this PLL");
    c->add_option("--within", a->within, "Greatest error of any output, ppm");
    c->add_option("--best", a->best, "How many settings are listed")->positive();
    c->add_option("--json", a->json, "Where the result goes; - is standard output")->required();
    add_allow(*c, a->allow);
    c->callback([a, &run] { run = [a] { return recipe(*a); }; });
}

}  // namespace kpeg
