// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/session/session.hpp"

#include "core/base/checksum.hpp"
#include "core/format/sdc/read.hpp"
#include "core/rules/live.hpp"
#include "core/session/timekeeper.hpp"

#include <algorithm>
#include <ctime>

namespace kp {

namespace {
// A window must not stand still: text that is being typed may loop without end. kpeg waits longer.
constexpr double window_script_seconds = 2, preview_script_seconds = 0.5;

std::string now_text() {
    const std::time_t t = std::time(nullptr);
    std::tm local{};
    localtime_r(&t, &local);
    char text[32];
    std::strftime(text, sizeof text, "%Y-%m-%d %H:%M:%S", &local);
    return text;
}
}  // namespace

Session::Session(Disk& disk, std::string path, std::string data) : disk_(disk), path_(std::move(path)), data_(std::move(data)), journal_(disk, path_ + ".journal"), log_(disk, path_ + ".log"), keeper_(std::make_shared<Timekeeper>()) {}

const std::vector<Finding>& Session::findings() const { return live_ ? live_->findings() : no_findings_; }

Session::~Session() { cancel_analysis(); }

Result<std::unique_ptr<Session>> Session::open(Disk& disk, const std::string& path, const std::string& data) {
    auto session = std::unique_ptr<Session>(new Session(disk, path, data));
    auto status = session->load();
    if (!status) return status.messages();
    return session;
}

Status Session::load() {
    // Promise J4 of the journal: a save that was interrupted is finished first, whatever the files hold now.
    if (const auto found = journal_.read(""); found.unfinished) {
        for (const auto& [path, text] : *found.unfinished)
            if (auto status = save_whole(disk_, path, text); !status) return status;
        if (auto status = journal_.clear(); !status) return status;
        opening_notes_.push_back({Severity::note, "recovered", "A save that was interrupted has been finished.", path_, 0, 0});
    }
    auto text = disk_.read(path_, size_t{64} << 20);
    if (!text) return text.messages();
    auto read = read_project(text.value(), path_);
    if (!read) return read.messages();
    file_ = read.take();
    for (auto& file : file_.project.constraints) {
        auto sdc = disk_.read(join_path(folder(), file.path), size_t{16} << 20);
        if (!sdc) return sdc.messages();
        file.text = sdc.take();
        on_disk_[file.path] = file.text;
    }
    auto world = load_world(disk_, file_.project, folder(), data_);
    if (!world) return world.messages();
    world_ = world.take();
    base_ = state_checksum();
    log_.read();
    auto found = journal_.read(base_);
    size_t replayed = 0;
    for (const auto& edit : found.edits) {
        if (!change(edit, false)) break;
        undo_.push_back(edit);
        ++replayed;
    }
    if (replayed > 0) {
        opening_notes_.push_back({Severity::note, "recovered", std::to_string(replayed) + (replayed == 1 ? " edit" : " edits") + " that had not been saved came back" + (found.cut ? "; the last one was cut off and is lost." : "."), path_, 0, 0});
        last_title_ = "recovered";
    }
    return Done{};
}

std::string Session::state_checksum() const {
    std::string all = write_project(file_);
    for (const auto& file : file_.project.constraints) all += "\n" + file.path + "\n" + file.text;
    return sha256(all);
}

Status Session::change(const Edit& edit, bool journal) {
    const bool inputs = touched(edit).inputs;
    if (inputs) {
        if (auto status = change_inputs(edit); !status) return status;
    } else if (auto status = kp::apply(file_.project, edit); !status) {
        return status;
    }
    if (journal)
        if (auto status = journal_.append(edit, base_); !status) opening_notes_.push_back(status.first());
    ++revision_;
    last_title_ = edit.title;
    if (inputs || !live_) find_again();
    else live_->update(*rule_input_, edit);
    return Done{};
}

Status Session::change_inputs(const Edit& edit) {
    Project next = file_.project;
    if (auto status = kp::apply(next, edit); !status) return status;
    // What changed on disk is offered, never taken along with another edit.
    if (world_)
        for (const auto& file : changed_files(disk_, *world_)) return Message{Severity::stop, "changed", file + " changed on disk. Read it again on Site first.", "", 0, 0};
    auto loaded = load_world(disk_, next, folder(), data_);
    if (!loaded) return loaded.messages();
    live_.reset();
    file_.project = std::move(next);
    world_ = loaded.take();
    return Done{};
}

Status Session::apply(const Edit& given) {
    if (given.empty()) return Done{};
    const Edit edit = given;  // it may be a fix out of the findings that are about to be replaced
    auto status = change(edit, true);
    if (status) {
        undo_.push_back(edit);
        redo_.clear();
    }
    return status;
}

Status Session::undo() {
    if (undo_.empty()) return Done{};
    const Edit edit = undo_.back();
    Edit back = edit.inverse();
    back.title = "undo " + edit.title;
    auto status = change(back, true);
    if (status) {
        undo_.pop_back();
        redo_.push_back(edit);
    }
    return status;
}

Status Session::redo() {
    if (redo_.empty()) return Done{};
    const Edit edit = redo_.back();
    auto status = change(edit, true);
    if (status) {
        redo_.pop_back();
        undo_.push_back(edit);
    }
    return status;
}

Result<Rereading> Session::reread() const {
    auto world = load_world(disk_, file_.project, folder(), data_);
    if (!world) return world.messages();
    Rereading out{world.take(), changed_files(disk_, *world_), {}};
    out.merge = compare_ports(group_ports(world_->netlist.ports), group_ports(out.world->netlist.ports));
    return out;
}

Status Session::accept(const Rereading& reading, const std::vector<PortRename>& renames, const std::vector<std::string>& constraints) {
    Project next = file_.project;
    std::vector<Change> texts;
    std::map<std::string, std::string> taken;
    for (const auto& file : file_.project.constraints) {
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
    for (auto& [path, text] : taken) on_disk_[path] = std::move(text);
    // Even without an edit the analysis is of other inputs now.
    ++revision_;
    find_again();
    return Done{};
}

std::vector<std::string> Session::changed_constraints() const {
    std::vector<std::string> out;
    for (const auto& file : file_.project.constraints) {
        const auto known = on_disk_.find(file.path);
        const auto path = join_path(folder(), file.path);
        if (known == on_disk_.end() || !disk_.exists(path)) continue;
        const auto now = disk_.read(path, size_t{16} << 20);
        if (now && now.value() != known->second) out.push_back(file.path);
    }
    return out;
}

void Session::find_again() {
    live_.reset();
    rule_input_ = std::make_unique<RuleInput>(rule_input(*world_, file_.project, *analysis_));
    rule_input_->with_fixes = false;
    rule_input_->idcode_read = idcode_read_;
    live_ = std::make_unique<LiveRules>(*rule_input_);
}

void Session::note_idcode(std::uint32_t idcode) {
    idcode_read_ = idcode;
    find_again();
}

Edit Session::fix_all(const std::string& rule) const {
    return rule_input_ ? kp::fix_all(*rule_input_, findings(), rule, file_.project) : Edit{};
}

std::vector<Fix> Session::fixes_of(const Finding& finding) const {
    if (!rule_input_) return {};
    rule_input_->with_fixes = true;
    auto fixes = kp::fixes_of(*rule_input_, finding);
    rule_input_->with_fixes = false;
    return fixes;
}

std::vector<Finding> Session::preview(const Edit& edit) const {
    Project next = file_.project;
    if (!kp::apply(next, edit)) return findings();
    const auto t = touched(edit);
    if (!t.text && !t.inputs) return find(*world_, next, *analysis_, false, idcode_read_);
    auto world = world_;
    if (t.inputs) {
        auto loaded = load_world(disk_, next, folder(), data_);
        if (!loaded) return findings();
        world = loaded.take();
    }
    return find(*world, next, *analyse(*world, next, folder(), options_, {}, preview_script_seconds), false, idcode_read_);
}

void Session::analyse_now() {
    cancel_analysis();
    analysis_ = analyse(world_, file_.project, folder(), options_, *keeper_, {}, window_script_seconds);
    analysed_ = revision_;
    find_again();
    add_log_entry();
}

void Session::start_analysis(std::function<void()> ready) {
    cancel_analysis();
    running_ = true;
    worker_ = std::jthread([this, world = world_, project = file_.project, place = folder(), options = options_, revision = revision_, ready = std::move(ready)](std::stop_token stop) {
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

std::map<std::string, std::string> Session::files_to_save() const {
    std::map<std::string, std::string> files;
    for (const auto& file : file_.project.constraints) files[join_path(folder(), file.path)] = file.text;
    files[path_] = write_project(file_);
    return files;
}

Status Session::save() {
    const auto files = files_to_save();
    if (auto status = journal_.saving(files); !status) return status;
    for (const auto& [path, text] : files) {
        auto old = disk_.exists(path) ? disk_.read(path) : Result<std::string>(std::string());
        if (old && disk_.exists(path) && old.value() == text) continue;
        if (auto status = save_whole(disk_, path, text); !status) return status;
    }
    for (const auto& file : file_.project.constraints) on_disk_[file.path] = file.text;
    base_ = state_checksum();
    saved_revision_ = revision_;
    return journal_.clear();
}

void Session::add_log_entry() {
    LogEntry e;
    e.time = now_text();
    e.title = last_title_;
    const auto& t = analysis_->timing;
    e.setup_wns = t.setup.wns, e.hold_wns = t.hold.wns;
    e.setup_tns = t.setup.tns, e.setup_failing = t.setup.failing;
    e.endpoints = t.coverage.endpoints, e.constrained = t.coverage.constrained;
    e.findings = count(findings());
    e.part = file_.project.part;
    e.pegs = file_.project.pegs;
    e.attributes = file_.project.attributes;
    for (const auto& file : file_.project.constraints) e.texts[file.path] = file.text;
    // An analysis of a plan that is in the log already is not another run.
    if (!log_.entries().empty()) {
        const auto& last = log_.entries().back();
        if (last.pegs == e.pegs && last.attributes == e.attributes && last.texts == e.texts && last.part == e.part && last.setup_wns == e.setup_wns) return;
    }
    if (auto status = log_.add(std::move(e)); !status) opening_notes_.push_back(status.first());
}

}  // namespace kp
