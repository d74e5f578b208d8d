// SPDX-License-Identifier: GPL-3.0-or-later
// An edit costs what the document takes for it (one synced line) and what LiveRules finds touched; an edit of inputs
// reads them all, unless that was prepared.
#include "core/session/session.hpp"

#include "core/base/checksum.hpp"
#include "core/base/local_time.hpp"
#include "core/model/timing_words.hpp"
#include "core/session/timekeeper.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp {

Session::Session(Disk& disk, std::unique_ptr<Document> document, const std::string& data)
    : disk_(disk),
      document_(std::move(document)),
      deriver_(std::make_unique<Deriver>(Grounds{&disk,
                                                 document_->path(),
                                                 document_->folder(),
                                                 data,
                                                 document_->reach(),
                                                 window_options(),
                                                 {},
                                                 std::make_shared<Timekeeper>()})),
      log_(std::make_unique<RunLog>(disk, beside(document_->path(), ".log"))) {}

Session::~Session() = default;

Result<std::unique_ptr<Session>> Session::open(Disk& disk, const std::string& path, const std::string& data,
                                               const OpenOptions& options) {
    auto document = Document::open(disk, path, options);
    if (!document) return document.messages();
    auto session = std::unique_ptr<Session>(new Session(disk, document.take(), data));
    auto world = load_world(*session->deriver_->grounds(), session->project());
    if (!world) return world.messages();
    session->world_ = world.take();
    session->deriver_->begin(session->world_, session->project());
    if (session->document_->unsaved()) session->last_title_ = "recovered";
    return session;
}

Watcher Session::watcher() const {
    return {disk_, *document_, *world_};
}

std::shared_ptr<const Snapshot> Session::snapshot() const {
    if (snapshot_) return snapshot_;
    auto out = std::make_shared<Snapshot>();
    out->revision = revision_;
    out->stale = stale();
    out->grounds = deriver_->grounds();
    out->project = std::make_shared<const Project>(project());
    out->world = world_;
    out->analysis = analysis();
    out->findings = std::make_shared<const std::vector<Finding>>(findings());
    return snapshot_ = std::move(out);
}

void Session::begin(std::shared_ptr<const World> world, std::unique_ptr<RuleKeeper> rules, const std::string& title) {
    world_ = std::move(world);
    ++revision_;
    snapshot_.reset();
    last_title_ = title;
    if (rules)
        deriver_->begin(world_, project(), std::move(rules));
    else
        deriver_->begin(world_, project());
}

Result<std::shared_ptr<Prepared>> prepare(const Snapshot& now, const Edit& edit) {
    auto out = std::make_shared<Prepared>();
    out->revision = now.revision;
    Project next = *now.project;
    if (auto status = apply(next, edit); !status) return status.messages();
    // What changed on disk is offered, never taken along with another edit.
    for (const auto& file : changed_files(*now.grounds->disk, *now.world))
        return Message{Severity::stop, Code::changed, file + " changed on disk. Read it again on Site first."};
    auto world = load_world(*now.grounds, next);
    if (!world) return world.messages();
    out->world = world.take();
    out->rules = std::make_unique<RuleKeeper>(out->world, std::move(next), Analysis{}, now.grounds->idcode);
    return out;
}

Status Session::change(const Edit& edit, Prepared prepared, const std::function<Status()>& take) {
    const bool inputs = touched(edit).inputs;
    if (inputs && !prepared.world) {
        auto made = prepare(*snapshot(), edit);
        if (!made) return made.messages();
        prepared = std::move(*made.value());
    }
    if (inputs && prepared.revision != revision_)
        return Message{Severity::stop, Code::old, "The project was edited meanwhile; do it again."};
    if (auto status = take(); !status) return status;
    if (inputs) {
        begin(std::move(prepared.world), std::move(prepared.rules), edit.title);
        return Done{};
    }
    ++revision_;
    snapshot_.reset();
    last_title_ = edit.title;
    deriver_->follow(project(), edit);
    return Done{};
}

Status Session::apply(const Edit& given, Prepared prepared) {
    if (given.empty()) return Done{};
    const Edit edit = given;  // it may be a fix out of the findings that are about to be replaced
    return change(edit, std::move(prepared), [&] { return document_->apply(edit); });
}

Status Session::undo(Prepared prepared) {
    if (document_->done().empty()) return Done{};
    return change(document_->undo_edit(), std::move(prepared), [&] { return document_->undo(); });
}

Status Session::redo(Prepared prepared) {
    if (document_->undone().empty()) return Done{};
    return change(Edit(document_->undone().back()), std::move(prepared), [&] { return document_->redo(); });
}

Status Session::change_document(const std::string& title, const std::function<Status(Document&)>& change) {
    const size_t before = document_->done().size();
    if (auto status = change(*document_); !status) return status;
    const auto& done = document_->done();
    if (done.size() > before && std::none_of(done.begin() + static_cast<std::ptrdiff_t>(before), done.end(),
                                             [](const Edit& edit) { return touched(edit).inputs; })) {
        ++revision_;
        snapshot_.reset();
        last_title_ = title;
        for (size_t i = before; i < done.size(); ++i) deriver_->follow(project(), done[i]);
        return Done{};
    }
    auto world = load_world(*deriver_->grounds(), project());
    if (!world) {
        // A project as others left it may name what is not there; then it is as it was before.
        while (document_->done().size() > before) (void)document_->undo();
        return world.messages();
    }
    begin(world.take(), nullptr, title);
    return Done{};
}

Status Session::accept(const Rereading& reading, const std::vector<PortRename>& renames,
                       const std::vector<std::string>& constraints) {
    Project next = project();
    std::vector<Change> texts;
    OwnFiles taken;
    for (const auto& file : project().constraints) {
        if (std::find(constraints.begin(), constraints.end(), file.path) == constraints.end()) continue;
        auto now = disk_.read(join_path(document_->folder(), file.path), size_t{16} << 20);
        if (!now) return now.messages();
        texts.push_back(TextChange{file.path, 0, file.text, now.value()});
        taken[file.path] = now.take();
    }
    if (auto status = kp::apply(next, Edit{"", texts}); !status) return status;
    // Renames speak of the texts as they are after that.
    Edit edit = merge_edit(next, reading.world->netlist.ports, reading.merge, renames);
    edit.changes.insert(edit.changes.begin(), texts.begin(), texts.end());
    if (renames.empty() && !texts.empty()) edit.title = said("read {} again", constraints[0]);
    if (!edit.empty())
        if (auto status = document_->apply(edit); !status) return status;
    if (!taken.empty()) document_->seen(taken);
    // Even without an edit the analysis is of other inputs now.
    begin(reading.world, nullptr, edit.title);
    return Done{};
}

void Session::allow(const std::string& path) {
    document_->allow(path);
    deriver_->change_grounds([&](Grounds& g) { g.reach = document_->reach(); });
}

void Session::analyse_now() {
    deriver_->derive_now(project());
    snapshot_.reset();
    note_run();
}

bool Session::take_analysis() {
    if (!deriver_->take()) return false;
    snapshot_.reset();
    return true;
}

std::map<std::string, std::string> Session::input_digests() {
    constexpr size_t read_whole = size_t{8} << 20;  // hashed on this thread in some 40 ms
    constexpr size_t told = 16;
    std::map<std::string, std::string> out;
    for (const auto& f : world().files) {
        auto& [stamp, digest] = digests_[f.full];
        if (digest.empty() || stamp != f.stamp) {
            stamp = f.stamp;
            const auto text = disk_.read(f.full, read_whole);
            digest = text ? sha256(text.value()).substr(0, told) : said("stamp {}", f.stamp);
        }
        out[f.path] = digest;
    }
    return out;
}

void Session::note_run() {
    // Whoever only looks writes nothing.
    if (stale() || document_->looking() || document_->taken_over()) return;
    Run run;
    run.time = local_time("%Y-%m-%d %H:%M:%S");
    run.title = last_title_;
    const auto& t = analysis().timing();
    run.setup_wns = t.setup.wns;
    run.hold_wns = t.hold.wns;
    run.setup_tns = t.setup.tns;
    run.setup_failing = t.setup.failing;
    const auto verdict = verdict_of(t);
    run.worst = verdict.worst;
    run.worst_kind = verdict.worst_kind;
    run.failing = verdict.failing;
    run.endpoints = t.coverage.endpoints;
    run.constrained = t.coverage.constrained;
    run.findings = count(findings());
    run.corner = verdict.corner;
    run.inputs = input_digests();
    constexpr size_t most_messages = 200;
    for (const auto& f : findings())
        if (run.messages.size() < most_messages) run.messages.push_back(f.rule + ": " + f.text);
    (void)log_->add(std::move(run), plan_of(project()));  // its trouble is a risk
}

std::vector<Message> Session::risks() const {
    std::vector<Message> out;
    if (const auto risk = document_->risk()) out.push_back(*risk);
    if (const auto& trouble = log_->trouble())
        out.push_back({Severity::caution, Code::log,
                       said("The log is not written ({}) Runs of this session cannot be compared or restored later.",
                            trouble->sentence())});
    return out;
}

}  // namespace kp
