// SPDX-License-Identifier: GPL-3.0-or-later
// Stages in order, each from what the one before it left in the folder; a stage that fails ends the build and says why.
#include "core/build_flow/build.hpp"

#include "core/base/bytes.hpp"
#include "core/base/checksum.hpp"
#include "core/base/output.hpp"
#include "core/base/text.hpp"
#include "core/build_flow/origin.hpp"
#include "core/build_flow/pin_rows.hpp"
#include "core/build_flow/placed_json.hpp"
#include "core/hdl/verilog/write_netlist.hpp"
#include "core/format/csv/csv.hpp"
#include "core/format/csv/pin_report.hpp"
#include "core/format/json/world_json.hpp"
#include "core/format/sdc/read.hpp"
#include "core/pin_placement/place_rest.hpp"
#include "core/session/analysis.hpp"
#include "core/build_flow/mapper.hpp"
#include "core/design/clock_nets.hpp"
#include "core/design/connections.hpp"
#include "core/fabric/generic.hpp"
#include "core/inputs/source_list.hpp"
#include "core/timing/engine.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <set>

namespace kp::build_flow {

namespace {

/// How much slack above the worst still makes a wire matter, ns.
constexpr double slack_in_sight = 2.0;
constexpr int most_told_pegs = 40;

class Builder {
public:
    Builder(Disk& disk, const BuildRequest& r) : disk_(disk), r_(r), project_(r.project) {
        for (size_t k = 0; k < stage_names.size(); ++k) {
            answer_.stages.emplace_back();
            answer_.stages.back().stage = static_cast<Stage>(k);
        }
    }

    Result<BuildAnswer> run() {
        using Step = bool (Builder::*)();
        constexpr std::array<Step, 6> steps{&Builder::map,    &Builder::pins, &Builder::place,
                                            &Builder::delays, &Builder::time, &Builder::power};
        for (size_t k = 0; k < steps.size(); ++k) {
            if (r_.stop.stop_requested())
                return Message{Severity::stop, Code::cancelled, "The build was cancelled; nothing more was written."};
            if (r_.progress) r_.progress(stage_names[k], 0, answer_.wirelength);
            const auto from = std::chrono::steady_clock::now();
            now_ = &answer_.stages[k];
            kept_ = static_cast<Stage>(k) < r_.from;
            const bool good = (this->*steps[k])();
            now_->seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
            if (!errors_.empty()) return errors_;
            answer_.world = world_;
            answer_.spots = placement_.spots;
            if (!good) {
                now_->state = StageOutcome::failed;
                return std::move(answer_);
            }
            if (now_->state == StageOutcome::not_done) now_->state = kept_ ? StageOutcome::kept : StageOutcome::done;
        }
        answer_.built = true;
        answer_.verdict = verdict_of(answer_.constraints, *answer_.timing);
        return std::move(answer_);
    }

private:
    [[nodiscard]] std::string path(const char* name) const { return join_path(r_.out, name); }

    bool fail(std::vector<Message> messages) {
        for (const auto& m : messages)
            if (m.severity == Severity::stop && now_->why.empty()) now_->why = m.sentence();
        answer_.messages.insert(answer_.messages.end(), messages.begin(), messages.end());
        return false;
    }
    bool error(std::vector<Message> messages) {
        errors_ = std::move(messages);
        return false;
    }
    bool write(const char* name, const std::string& text) {
        // What somebody laid under our names, such as a link to a file elsewhere, is not written through.
        if (disk_.real_path(path(name)) != join_path(disk_.real_path(r_.out), name))
            return error({Message{
                Severity::stop, Code::out,
                "is a link, and a build writes no file through one. Remove it, or name another folder.", path(name)}});
        auto status = write_output(path(name), text);
        if (status && std::string_view(name) != origin_file) {
            origin_.files[name] = sha256(text);
            status = write_output(path(origin_file), write_origin(origin_));
        }
        return status ? true : error(status.messages());
    }

    bool cannot_go_on(const std::string& why) {
        return error({Message{Severity::stop, Code::from, why, path(origin_file)}});
    }

    /// What stands in the folder belongs to this design and part, and is as it was written.
    bool go_on() {
        auto text = disk_.read(path(origin_file), size_t{4} << 20);
        if (!text) return cannot_go_on("There is nothing here that says what was built; build from 'map'.");
        auto read = read_origin(text.value(), path(origin_file));
        if (!read) return error(read.messages());
        const auto now = std::exchange(origin_, read.take());
        if (origin_.sources != now.sources || (!now.top.empty() && origin_.top != now.top))
            return cannot_go_on(said("This was built from other sources than those of now{}; build from 'map'.",
                                     (origin_.top.empty() ? "" : ", with " + origin_.top + " at the top")));
        for (const auto& [name, stage] : stage_files()) {
            if (stage >= r_.from)
                origin_.files.erase(name);
            else if (auto status = check_kept(disk_, r_.out, origin_, name, stage_names[static_cast<size_t>(stage)]);
                     !status)
                return error(status.messages());
        }
        if (project_.top.empty()) project_.top = origin_.top;
        if (!load(false)) return false;
        const auto digest = sha256(write_part(world_->part));
        if (r_.from > Stage::pins && origin_.part_digest != digest)
            return cannot_go_on(said("This was placed on another part ({}); build from 'pins'.", origin_.part));
        // Who asks for no pins goes on from those that are there.
        const bool asks = !r_.project.pegs.empty() || !r_.pins.empty();
        if (asks && r_.from > Stage::pins && !origin_.pegs.empty() && origin_.pegs != now.pegs)
            return cannot_go_on("The pegs are other than those that this was placed with; build from 'pins'.");
        if (r_.from > Stage::delays && origin_.part != now.part)
            return cannot_go_on(
                said("These are delays of {}, not of {}; build from 'delays'.", origin_.part, now.part));
        origin_.part = now.part;
        origin_.part_digest = digest;
        if (asks || r_.from <= Stage::pins) origin_.pegs = now.pegs;
        return true;
    }

    /// The pegs that were asked for, those of the table over those of the project.
    [[nodiscard]] std::string digest_asked() const {
        auto pegs = r_.project.pegs;
        auto attributes = r_.project.attributes;
        for (const auto& row : r_.pins) {
            if (row.pin.empty()) continue;
            pegs[row.port].pin = row.pin;
            if (!row.standard.empty()) attributes[row.port].standard = row.standard;
        }
        return digest_of_pins(pegs, attributes);
    }

    bool digest_sources() {
        std::vector<std::string> files;
        for (const auto& file : project_.netlists)
            if (project_.sources.empty()) files.push_back(join_path(r_.folder, file));
        if (!project_.sources.empty()) {
            auto sources = sources_within(disk_, r_.folder, project_.sources, reach());
            if (!sources) return error(sources.messages());
            files = std::move(sources.value().files);
        }
        for (const auto& file : files) {
            auto text = disk_.read(file, size_t{512} << 20);
            if (!text) return error(text.messages());
            origin_.sources.push_back(sha256(text.value()));
        }
        std::string settings;
        for (const auto* list : {&project_.defines, &project_.parameters})
            for (const auto& [name, value] : *list) settings += name + "=" + value + "\n";
        origin_.sources.push_back(sha256(settings));
        return true;
    }

    /// The netlist, and the world around it.
    bool map() {
        origin_.part = project_.part;
        origin_.top = project_.top;
        origin_.pegs = digest_asked();
        if (!digest_sources()) return false;
        if (kept_) return go_on();
        std::string text;
        if (project_.sources.empty()) {
            now_->state = StageOutcome::not_needed;
            now_->why = "the project brings a netlist";
            for (const auto& file : project_.netlists) {
                auto read = disk_.read(join_path(r_.folder, file), size_t{512} << 20);
                if (!read) return error(read.messages());
                text += read.value();
            }
            if (text.empty())
                return fail(
                    {Message{Severity::stop, Code::no_design, "The project has neither sources nor a netlist."}});
        } else if (!map_sources(text)) {
            return false;
        }
        if (!write("netlist.v", text) || !load(false)) return false;
        origin_.part_digest = sha256(write_part(world_->part));
        return true;
    }

    /// What was given, else the folder.
    [[nodiscard]] Reach reach() const { return r_.reach ? *r_.reach : Reach(disk_, r_.folder, {}); }

    bool map_sources(std::string& text) {
        auto sources = sources_within(disk_, r_.folder, project_.sources, reach());
        if (!sources) return error(sources.messages());
        const auto& notes = sources.value().messages;
        answer_.messages.insert(answer_.messages.end(), notes.begin(), notes.end());
        MapFiles files;
        files.sources = std::move(sources.value().files);
        files.folders = std::move(sources.value().folders);
        files.library = shipped_cells();
        files.top = project_.top;
        files.defines = project_.defines;
        files.defines.insert(sources.value().defines.begin(), sources.value().defines.end());
        files.parameters = project_.parameters;
        auto mapped = map_files(disk_, files, r_.reach ? &*r_.reach : nullptr);
        if (!mapped) return error(mapped.messages());
        auto& m = mapped.value();
        if (m.netlist.empty()) return fail(m.messages);
        answer_.messages.insert(answer_.messages.end(), m.messages.begin(), m.messages.end());
        text = std::move(m.netlist);
        if (project_.top.empty()) project_.top = m.top;
        origin_.top = project_.top;
        return true;
    }

    bool load(bool with_delays) {
        Project p = project_;
        p.netlists = {path("netlist.v")};
        if (p.libraries.empty() || !r_.project.sources.empty()) p.libraries = {shipped_cells()};
        answer_.library = shipped_cells();
        p.sources.clear();
        p.delays = with_delays ? path("delays.sdf") : "";
        p.corners.clear();
        p.pin_report.clear();
        auto reach = this->reach();
        reach.allow(r_.out);
        auto world = load_world(disk_, p, r_.folder, r_.data, reach);
        if (!world) return error(world.messages());
        world_ = world.take();
        loaded_ = std::move(p);
        for (std::uint32_t c = 0; c < world_->netlist.cells.size(); ++c)
            if (const auto* cell = world_->library.cell(world_->netlist.type_of(c)); !cell || cell->guessed)
                return fail({Message{Severity::stop, Code::unknown_cell,
                                     said("The netlist has the cell {}, which the stand-in builder does not know; it "
                                          "builds from the cells of the made-up parts.",
                                          world_->netlist.type_of(c))}});
        return true;
    }

    /// Pegs as they are; what has none is placed by the rules' knowledge and stays loose.
    bool pins() {
        if (kept_) return read_pins();
        if (!take_rows()) return false;
        std::vector<std::string> adrift;
        for (const auto& port : world_->netlist.ports)
            if (const auto at = project_.pegs.find(port.name); at == project_.pegs.end()) adrift.push_back(port.name);
        for (const auto& [port, peg] : project_.pegs) pin_of_[port] = peg.pin;
        if (!adrift.empty()) {
            TimingOptions options;
            options.paths = 0;
            analysis_ = analyse(*world_, loaded_, r_.folder, options, r_.stop);
            const auto placed = place_adrift(adrift);
            if (!placed) return fail(placed.messages());
            if (placed.value().status != PlaceAnswer::Status::placed) return fail({conflict(placed.value())});
            for (const auto& p : placed.value().placed) {
                if (project_.pegs.count(p.port)) continue;
                if (taken_.count(p.pin))
                    return fail(
                        {Message{Severity::stop, Code::pins,
                                 said("The only legal pin for {} is {}, where another port is pegged against a rule.",
                                      p.port, p.pin)}});
                pin_of_[p.port] = p.pin;
            }
            answer_.loose = static_cast<int>(placed.value().placed.size());
            answer_.messages.push_back(
                {Severity::note, Code::loose,
                 counted(answer_.loose, "port has no peg; it was placed where the rules allow and stays loose.",
                         "ports have no peg; they were placed where the rules allow and stay loose.")});
        }
        return write_pins();
    }

    /// Pegs of the table, each a port of the design on a pin of the part.
    bool take_rows() {
        if (auto status = check_rows(r_.pins, r_.pins_file, world_->netlist, world_->part, world_->standards); !status)
            return error(status.messages());
        for (const auto& row : r_.pins) {
            if (row.pin.empty()) continue;
            for (auto* project : {&project_, &loaded_}) {
                project->pegs[row.port] = {row.pin, PegState::pegged, "by hand"};
                if (!row.standard.empty()) project->attributes[row.port].standard = row.standard;
            }
        }
        return true;
    }

    /// Pegs that are against a rule are built as they are pegged, and told; the others still get legal pins.
    Result<PlaceAnswer> place_adrift(const std::vector<std::string>& adrift) {
        PlaceQuestion q;
        q.ports = {adrift.begin(), adrift.end()};
        q.seed = r_.seed;
        const auto input = rule_input(*world_, loaded_, *analysis_);
        for (int round = 0;; ++round) {
            auto placed = place_rest(input, q, r_.stop);
            if (!placed || placed.value().conflict.empty() || round >= most_told_pegs) return placed;
            bool more = false;
            for (const auto& fact : placed.value().conflict) {
                const bool of_pegs = std::none_of(fact.objects.begin(), fact.objects.end(),
                                                  [&](const std::string& o) { return q.ports.count(o); });
                if (!of_pegs || !q.relax.insert(fact.id).second) continue;
                more = true;
                answer_.messages.push_back(
                    {Severity::caution, Code::peg, "Built as it is pegged, against a rule: " + fact.text});
            }
            if (!more) return placed;
            for (const auto& [port, peg] : project_.pegs) taken_.insert(peg.pin);
        }
    }

    static Message conflict(const PlaceAnswer& a) {
        constexpr size_t most_facts = 5;
        std::string why;
        for (const auto& fact : std::span(a.conflict).first(std::min(most_facts, a.conflict.size()))) {
            why += (why.empty() ? "" : "; ") + fact.text;
            if (why.ends_with('.')) why.pop_back();
        }
        if (a.conflict.size() > most_facts) why += said("; and {} more", a.conflict.size() - most_facts);
        return {Severity::stop, Code::pins,
                said("The ports without a peg have no legal pins: {}.", (why.empty() ? "not found in time" : why))};
    }

    bool write_pins() {
        std::string text = csv_row({"port", "pin", "standard"});
        for (const auto& port : world_->netlist.ports) {
            const auto at = pin_of_.find(port.name);
            if (at == pin_of_.end()) continue;
            const auto a = project_.attributes.find(port.name);
            text += csv_row({port.name, at->second, a == project_.attributes.end() ? "" : a->second.standard});
        }
        return write("pins.csv", text);
    }

    bool read_pins() {
        auto text = disk_.read(path("pins.csv"), size_t{16} << 20);
        if (!text) return error(text.messages());
        const auto rows = read_pin_report(text.value(), path("pins.csv"));
        if (!rows) return error(rows.messages());
        for (const auto& row : rows.value()) pin_of_[row.port] = row.pin;
        return true;
    }

    /// The part as it is built on: with a fabric of ours when its file has none.
    void furnish() {
        auto made = fabric::furnished(world_->part, world_->netlist, world_->library);
        part_ = std::move(made.part);
        answer_.assumed = std::move(made.assumed);
        if (const auto slowest = slowest_speed(); world_->code.fields.empty() && !slowest.empty())
            answer_.assumed.push_back(
                {"speed grade", slowest, "the slowest: the part is named by its file, which does not choose one"});
    }

    bool place() {
        furnish();
        use();
        if (kept_) {
            auto text = disk_.read(path("placed.json"), size_t{256} << 20);
            if (!text) return error(text.messages());
            auto spots = read_placed(text.value(), path("placed.json"), world_->netlist);
            if (!spots) return error(spots.messages());
            placement_.spots = spots.take();
            if (r_.fix_hold || r_.most_loads > 0)
                answer_.messages.push_back({Severity::caution, Code::step,
                                            "Places are kept from before, so no step changed them; build from 'place' "
                                            "or before for hold fixing or copies."});
            answer_.wirelength = fabric::wirelength_of(world_->netlist, world_->library, placement_.spots);
            return true;
        }
        model();
        auto placed = place(world_->netlist);
        if (!placed) return fail(placed.messages());
        placement_ = placed.take();
        if ((r_.fix_hold || r_.most_loads > 0) && !improve()) return false;
        answer_.wirelength = placement_.wirelength;
        return write("placed.json", write_placed(world_->netlist, placement_.spots));
    }

    Result<fabric::Placement> place(const Netlist& netlist) {
        fabric::PlaceSettings settings;
        settings.seed = r_.seed;
        settings.effort = r_.effort;
        settings.stop = r_.stop;
        settings.progress = [this](double done, long long length) {
            if (r_.progress) r_.progress("place", done, length);
        };
        settings.weigh = [&](const fabric::Placement& now) { return weigh(netlist, now); };
        return fabric::place_cells(netlist, world_->library, part_, pin_of_, settings);
    }

    /// The steps that were asked for; what they changed is written and read again, so that all that follows is of the
    /// files in the folder.
    bool improve() {
        if (!interpretation_) interpretation_ = interpret(*world_, loaded_, r_.folder, 10, r_.stop);
        fabric::Placed now{world_->netlist, placement_.spots};
        const StepInput in{world_->library, part_, interpretation_->constraints, model_, r_.stop};
        if (r_.most_loads > 0)
            answer_.steps.push_back(duplicate_registers(
                now, in, r_.most_loads, [&](const Netlist& netlist) -> std::optional<std::vector<fabric::Spot>> {
                    auto placed = place(netlist);
                    return placed ? std::optional(placed.take().spots) : std::nullopt;
                }));
        if (r_.fix_hold) answer_.steps.push_back(kp::build_flow::fix_hold(now, in));
        bool taken = false;
        for (const auto& step : answer_.steps) {
            taken |= step.state == StepOutcome::taken;
            answer_.messages.push_back({Severity::note, Code::step, sentence_of(step)});
        }
        if (!taken) return true;
        if (!write("netlist.v", verilog::write_netlist(now.netlist, world_->library)) || !load(false)) return false;
        interpretation_.reset();
        placement_.spots = std::move(now.spots);
        placement_.wirelength = fabric::wirelength_of(world_->netlist, world_->library, placement_.spots);
        use();
        return true;
    }

    /// Of a part that is named by its file, no ordering code says how fast it is: the slowest holds for all.
    [[nodiscard]] std::string slowest_speed() const {
        const auto& all = part_.fabric.speeds;
        const auto at =
            std::max_element(all.begin(), all.end(), [](const auto& a, const auto& b) { return a.second < b.second; });
        return at == all.end() ? std::string() : at->first;
    }

    void model() {
        std::string speed;
        for (const auto& field : world_->code.fields)
            if (field.name == "speed") speed = field.code;
        if (speed.empty()) speed = slowest_speed();
        model_ = fabric::wire_model(part_, speed);
    }

    /// Wires near the worst slack matter.
    fabric::WireWeights weigh(const Netlist& n, const fabric::Placement& now) {
        fabric::WireWeights out;
        if (!interpretation_) interpretation_ = interpret(*world_, loaded_, r_.folder, 10, r_.stop);
        if (interpretation_->constraints.clocks.empty()) return out;
        std::vector<float> slack(n.pins.size(), 1e9F);
        float worst = 1e9F;
        const StepInput in{world_->library, part_, interpretation_->constraints, model_, r_.stop};
        const bool good = ask_engine(n, now.spots, in, [&](TimingEngine& engine) {
            for (std::uint32_t p = 0; p < n.pins.size(); ++p)
                if (const auto s = engine.pin_slack(n.pin_name(p), true)) {
                    slack[p] = static_cast<float>(*s);
                    worst = std::min(worst, slack[p]);
                }
        });
        if (!good) return out;
        if (worst > slack_in_sight * 2) return out;
        for (const auto s : slack) {
            const float share = std::max(0.0F, 1 - (s - worst) / static_cast<float>(slack_in_sight));
            out.of_pin.push_back(share * share);
        }
        return out;
    }

    void use() {
        const auto& n = world_->netlist;
        std::map<fabric::CellKind, long long> count;
        long long memory_bits = 0;
        std::map<std::string, ModuleUse> modules;
        for (std::uint32_t c = 0; c < n.cells.size(); ++c) {
            const auto& cell = *world_->library.cell(n.type_of(c));
            const auto kind = fabric::kind_of(cell);
            ++count[kind];
            memory_bits += cell.memory_bits;
            const auto cut = n.cell_names[c].rfind("__");  // as the mapper joins instances and what is in them
            const auto path = cut == std::string::npos ? std::string() : n.cell_names[c].substr(0, cut);
            auto& m = modules[path];
            m.path = path;
            m.logic_cells += kind == fabric::CellKind::look_up;
            m.registers += kind == fabric::CellKind::registers;
            m.memories += kind == fabric::CellKind::memory;
        }
        answer_.modules.clear();
        for (const auto& [path, m] : modules) answer_.modules.push_back(m);
        const auto& r = part_.resources;
        answer_.use = {{"logic_cells", count[fabric::CellKind::look_up], r.logic_cells},
                       {"registers", count[fabric::CellKind::registers], r.registers},
                       {"clock_networks", count[fabric::CellKind::root], r.clock_networks},
                       {"plls", count[fabric::CellKind::pll], r.plls},
                       {"pins", static_cast<long long>(n.ports.size()), world_->part.usable_pins()}};
        if (count[fabric::CellKind::memory]) answer_.use.push_back({"memory_bits", memory_bits, r.memory_bits});
    }

    bool delays() {
        if (kept_) return true;
        model();
        return write("delays.sdf", fabric::write_delays(world_->netlist, world_->library, placement_.spots, model_));
    }

    bool time() {
        if (!load(true)) return false;
        TimingOptions options;
        options.all_endpoints = true;
        analysis_ = analyse(*world_, loaded_, r_.folder, options, r_.stop);
        for (const auto& m : analysis_->constraints().messages)
            if (is_unusable(m)) return error({m});
        answer_.timing = analysis_->timing();
        answer_.constraints = use_of(analysis_->constraints(), *answer_.timing);
        const auto& messages = analysis_->constraints().messages;
        answer_.messages.insert(answer_.messages.end(), messages.begin(), messages.end());
        return true;
    }

    /// MHz of the fastest clock that each net carries, or that launches what it carries; 0 where that is not known.
    [[nodiscard]] std::vector<double> rates_of_nets() const {
        const auto& n = world_->netlist;
        const auto& clocks = analysis_->constraints().clocks;
        const design::Connections connections(n, world_->library);
        const design::ClockNets nets(connections, analysis_->constraints());
        std::vector<double> out(n.net_names.size(), 0);
        for (size_t net = 0; net < out.size(); ++net)
            for (size_t k = 0; k < std::min<size_t>(clocks.size(), 64); ++k)
                if (((nets.clock[net] | nets.launch[net]) >> k & 1) && clocks[k].period > 0)
                    out[net] = std::max(out[net], 1e3 / clocks[k].period);
        return out;
    }

    bool power() {
        fabric::PowerInput in;
        const auto& n = world_->netlist;
        in.net_mhz = rates_of_nets();
        for (const auto& [port, a] : project_.attributes)
            if (const auto* s = world_->standards.find(a.standard)) in.pad_volts[port] = s->supply;
        for (const auto& [port, name] : pin_of_)
            if (const auto* pin = world_->part.pin(name)) in.banks[port] = pin->bank;
        if (!r_.activity.empty()) {
            const auto text = disk_.read(r_.activity, std::size_t{1} << 30);
            if (!text) return error(text.messages());
            const auto dump = vcd::read_vcd(text.value(), r_.activity);
            if (!dump) return error(dump.messages());
            in.changes = fabric::changes_of(n, dump.value());
            in.changes_from = r_.activity;
        }
        answer_.power = fabric::power_of(n, world_->library, part_, placement_.spots, in);
        return true;
    }

    Disk& disk_;
    const BuildRequest& r_;
    Project project_, loaded_;
    BuildAnswer answer_;
    std::vector<Message> errors_;
    StageState* now_ = nullptr;
    bool kept_ = false;
    std::shared_ptr<const World> world_;
    std::shared_ptr<const Analysis> analysis_;
    std::shared_ptr<const Interpretation> interpretation_;
    static constexpr const char* origin_file = "origin.json";
    Origin origin_;
    std::map<std::string, std::string> pin_of_;
    std::set<std::string> taken_;  ///< pins of pegs that the placing was told to pass over
    fabric::Placement placement_;
    fabric::WireModel model_;
    Part part_;  ///< see furnish()
};

}  // namespace

Result<BuildAnswer> build(Disk& disk, const BuildRequest& request) {
    return Builder(disk, request).run();
}

}  // namespace kp::build_flow
