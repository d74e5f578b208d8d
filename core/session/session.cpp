// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/session/session.hpp"

#include "core/model/timing_words.hpp"

#include "core/base/local_time.hpp"
#include "core/format/sdc/read.hpp"
#include "core/rules/live.hpp"
#include "core/session/timekeeper.hpp"

#include <algorithm>

namespace kp {

namespace {
// A window must not stand still: text that is being typed may loop without end. kpeg waits longer.
constexpr double window_script_seconds = 2, preview_script_seconds = 0.5;
}  // namespace

Session::Session(Disk& disk, std::unique_ptr<Document> document, std::string data) : disk_(disk), data_(std::move(data)), document_(std::move(document)), log_(disk, document_->path() + ".log"), keeper_(std::make_shared<Timekeeper>()) {}

const std::vector<Finding>& Session::findings() const { return live_ ? live_->findings() : no_findings_; }

Session::~Session() { cancel_analysis(); }

Result<std::unique_ptr<Session>> Session::open(Disk& disk, const std::string& path, const std::string& data, const OpenOptions& options) {
    auto document = Document::open(disk, path, options);
    if (!document) return document.messages();
    auto session = std::unique_ptr<Session>(new Session(disk, document.take(), data));
    auto world = session->world_with(session->project());
    if (!world) return world.messages();
    session->world_ = world.take();
    if (session->unsaved()) session->last_title_ = "recovered";
    return session;
}

Result<std::shared_ptr<const World>> Session::world_with(const Project& next) const { return load_world(disk_, next, folder(), data_, document_->reach()); }

Status Session::change(const Edit& edit, const std::function<Status()>& take) {
    const bool inputs = touched(edit).inputs;
    std::shared_ptr<const World> world;
    if (inputs) {
        Project next = project();
        if (auto status = kp::apply(next, edit); !status) return status;
        // What changed on disk is offered, never taken along with another edit.
        for (const auto& file : changed_files(disk_, *world_)) return Message{Severity::stop, "changed", file + " changed on disk. Read it again on Site first.", "", 0, 0};
        auto loaded = world_with(next);
        if (!loaded) return loaded.messages();
        world = loaded.take();
    }
    if (auto status = take(); !status) return status;
    if (inputs) {
        live_.reset();
        world_ = std::move(world);
    }
    ++revision_;
    last_title_ = edit.title;
    if (inputs || !live_) find_again();
    else live_->update(*rule_input_, edit);
    return Done{};
}

Status Session::apply(const Edit& given) {
    if (given.empty()) return Done{};
    const Edit edit = given;  // it may be a fix out of the findings that are about to be replaced
    return change(edit, [&] { return document_->apply(edit); });
}

Status Session::undo() { return can_undo() ? change(document_->undo_edit(), [&] { return document_->undo(); }) : Status(Done{}); }

Status Session::redo() { return can_redo() ? change(Edit(document_->undone().back()), [&] { return document_->redo(); }) : Status(Done{}); }

Status Session::resolve(const Conflict& conflict, const std::string& text) {
    auto status = document_->resolve(conflict, text);
    if (!status) return status;
    auto world = world_with(project());
    if (!world) {
        // A project as others left it may name what is not there; then it is as it was before.
        (void)document_->undo();
        return world.messages();
    }
    cancel_analysis();
    live_.reset();
    world_ = world.take();
    ++revision_;
    last_title_ = "taken as merged";
    find_again();
    return Done{};
}

Result<size_t> Session::take_offer() {
    const size_t before = document_->done().size();
    auto left = document_->take_offer();
    if (!left) return left;
    auto world = world_with(project());
    if (!world) {
        while (document_->done().size() > before) (void)document_->undo();
        return world.messages();
    }
    cancel_analysis();
    live_.reset();
    world_ = world.take();
    ++revision_;
    last_title_ = "recovered";
    find_again();
    return left;
}

std::vector<Message> Session::risks() const {
    std::vector<Message> out;
    if (const auto risk = document_->risk()) out.push_back(*risk);
    if (log_trouble_) out.push_back({Severity::caution, "log", "The log is not written (" + log_trouble_->sentence() + ") Runs of this session cannot be compared or restored later.", "", 0, 0});
    return out;
}

Result<Rereading> Session::reread() const {
    auto world = world_with(project());
    if (!world) return world.messages();
    Rereading out{world.take(), changed_files(disk_, *world_), {}};
    out.merge = compare_ports(group_ports(world_->netlist.ports), group_ports(out.world->netlist.ports));
    return out;
}

Status Session::accept(const Rereading& reading, const std::vector<PortRename>& renames, const std::vector<std::string>& constraints) {
    Project next = project();
    std::vector<Change> texts;
    OwnFiles taken;
    for (const auto& file : project().constraints) {
        if (std::find(constraints.begin(), constraints.end(), file.path) == constraints.end()) continue;
        auto now = disk_.read(join_path(folder(), file.path), size_t{16} << 20);
        if (!now) return now.messages();
        texts.push_back(TextChange{file.path, 0, file.text, now.value()});
        taken[file.path] = now.take();
    }
    if (auto status = kp::apply(next, Edit{"", texts}); !status) return status;
    // Renames speak of the texts as they are after that.
    Edit edit = merge_edit(next, reading.world->netlist.ports, reading.merge, renames);
    edit.changes.insert(edit.changes.begin(), texts.begin(), texts.end());
    if (renames.empty() && !texts.empty()) edit.title = "read " + constraints[0] + " again";
    cancel_analysis();
    const auto before = world_;
    world_ = reading.world;
    if (auto status = apply(edit); !status) {
        world_ = before;
        return status;
    }
    if (!taken.empty()) document_->seen(taken);
    // Even without an edit the analysis is of other inputs now.
    ++revision_;
    find_again();
    return Done{};
}

std::vector<std::string> Session::changed_own_files() const {
    std::vector<std::string> out;
    for (const auto& name : document_->changed_on_disk()) out.push_back(name.empty() ? file_name_of(path()) : name);
    return out;
}

void Session::find_again() {
    live_.reset();
    rule_input_ = std::make_unique<RuleInput>(rule_input(*world_, project(), *analysis_));
    rule_input_->with_fixes = false;
    rule_input_->idcode_read = idcode_read_;
    live_ = std::make_unique<LiveRules>(*rule_input_);
}

void Session::note_idcode(std::uint32_t idcode) {
    idcode_read_ = idcode;
    find_again();
}

std::vector<Fix> Session::fixes_of(const Finding& finding) const {
    if (!rule_input_) return {};
    rule_input_->with_fixes = true;
    auto fixes = kp::fixes_of(*rule_input_, finding);
    rule_input_->with_fixes = false;
    return fixes;
}

std::vector<Finding> Session::preview(const Edit& edit) const {
    Project next = project();
    if (!kp::apply(next, edit)) return findings();
    const auto t = touched(edit);
    if (!t.text && !t.inputs) return find(*world_, next, *analysis_, false, idcode_read_);
    auto derived = derive(next, project(), analysis_);
    return derived.analysis ? std::move(derived.findings) : findings();
}

Derived Session::derive(const Project& next, const Project& before, const std::shared_ptr<const Analysis>& analysis) const {
    Derived out{world_, analysis, {}};
    const auto t = touched(difference_edit(before, next, ""));
    if (t.inputs || touched(difference_edit(project(), next, "")).inputs) {
        auto loaded = world_with(next);
        if (!loaded) return {};
        out.world = loaded.take();
    }
    if (t.text || t.inputs) out.analysis = analyse(*out.world, next, folder(), options_, {}, preview_script_seconds);
    out.findings = find(*out.world, next, *out.analysis, false, idcode_read_);
    return out;
}

void Session::analyse_now() {
    cancel_analysis();
    analysis_ = analyse(world_, project(), folder(), options_, *keeper_, {}, window_script_seconds);
    analysed_ = revision_;
    find_again();
    add_log_entry();
}

void Session::start_analysis(std::function<void()> ready) {
    cancel_analysis();
    running_ = true;
    worker_ = std::jthread([this, world = world_, project = project(), place = folder(), options = options_, revision = revision_, ready = std::move(ready)](std::stop_token stop) {
        auto result = analyse(world, project, place, options, *keeper_, stop, window_script_seconds);
        if (stop.stop_requested()) return;
        {
            const std::lock_guard lock(waiting_lock_);
            waiting_ = std::move(result);
            waiting_revision_ = revision;
        }
        if (ready) ready();
    });
}

bool Session::take_analysis() {
    std::shared_ptr<const Analysis> result;
    {
        const std::lock_guard lock(waiting_lock_);
        result = std::move(waiting_);
        waiting_.reset();
        if (!result || waiting_revision_ != revision_) return false;
    }
    running_ = false;
    analysis_ = std::move(result);
    analysed_ = revision_;
    find_again();
    add_log_entry();
    return true;
}

void Session::cancel_analysis() {
    if (worker_.joinable()) {
        worker_.request_stop();
        worker_.join();
    }
    running_ = false;
    const std::lock_guard lock(waiting_lock_);
    waiting_.reset();
}

Status Session::save() { return document_->save(); }

void Session::add_log_entry() {
    // Whoever only looks writes nothing.
    if (document_->looking() || document_->taken_over()) return;
    RunPlan plan{project().part, project().pegs, project().attributes, {}};
    for (const auto& file : project().constraints) plan.texts[file.path] = file.text;
    Run run;
    run.time = local_time("%Y-%m-%d %H:%M:%S");
    run.title = last_title_;
    const auto& t = analysis_->timing;
    run.setup_wns = t.setup.wns, run.hold_wns = t.hold.wns;
    run.setup_tns = t.setup.tns, run.setup_failing = t.setup.failing;
    const auto verdict = verdict_of(t);
    run.worst = verdict.worst, run.worst_kind = verdict.worst_kind, run.failing = verdict.failing;
    run.endpoints = t.coverage.endpoints, run.constrained = t.coverage.constrained;
    run.findings = count(findings());
    if (auto status = log_.add(std::move(run), plan); !status) log_trouble_ = status.first();
    else log_trouble_.reset();
}

}  // namespace kp
