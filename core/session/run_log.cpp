// SPDX-License-Identifier: GPL-3.0-or-later
// Two lines a run; a plan is kept as an edit of the one before, every so often whole, so that any run costs a
// bounded number of edits. States that come back by undo are known again by a checksum.
#include "core/session/run_log.hpp"

#include "core/format/json/json_text.hpp"
#include "core/base/checksum.hpp"
#include "core/base/text.hpp"
#include "core/format/json/edit_json.hpp"
#include "core/format/json/fields_json.hpp"
#include "core/model/timing_words.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <set>

namespace kp {

namespace {

constexpr size_t largest_log = size_t{1} << 30;
constexpr size_t whole_each = 64;  // so many edits at most are applied to make a plan

Json optional_number(const std::optional<double>& v) {
    return v ? Json(*v) : Json(nullptr);
}
std::optional<double> number_or_none(const Json& j) {
    return j.is_number() ? std::optional<double>(j.get<double>()) : std::nullopt;
}

std::string line_of(const Json& j) {
    return j.dump(-1, ' ', false, Json::error_handler_t::replace) + "\n";
}

/// `plan_bytes`: the length of the line that follows, so that a torn one is known without reading it.
Json run_json(const Run& r, size_t plan_bytes) {
    return {{"number", r.number},
            {"plan_bytes", plan_bytes},
            {"time", json_safe(r.time)},
            {"title", json_safe(r.title)},
            {"setup_wns", optional_number(r.setup_wns)},
            {"hold_wns", optional_number(r.hold_wns)},
            {"setup_tns", r.setup_tns},
            {"setup_failing", r.setup_failing},
            {"endpoints", r.endpoints},
            {"constrained", r.constrained},
            {"worst", optional_number(r.worst)},
            {"worst_kind", r.worst_kind},
            {"failing", r.failing},
            {"plan_sum", r.plan_sum},
            {"stops", r.findings.stops},
            {"cautions", r.findings.cautions},
            {"notes", r.findings.notes},
            {"waived", r.findings.waived},
            {"corner", json_safe(r.corner)},
            {"inputs", json::safe(r.inputs)},
            {"messages", json::safe(r.messages)}};
}

std::optional<Run> run_from(const Json& j) {
    try {
        Run r;
        r.number = j.at("number").get<int>();
        r.time = bytes_at(j, "time");
        r.title = bytes_at(j, "title");
        r.setup_wns = number_or_none(j.at("setup_wns"));
        r.hold_wns = number_or_none(j.at("hold_wns"));
        r.setup_tns = j.at("setup_tns").get<double>();
        r.setup_failing = j.at("setup_failing").get<int>();
        r.endpoints = j.at("endpoints").get<int>();
        r.constrained = j.at("constrained").get<int>();
        // Later than the first form of the log.
        if (j.contains("worst")) r.worst = number_or_none(j.at("worst"));
        r.worst_kind = j.value("worst_kind", "");
        r.failing = j.value("failing", r.setup_failing);
        r.plan_sum = j.value("plan_sum", "");
        r.findings = {j.at("stops").get<int>(), j.at("cautions").get<int>(), j.at("notes").get<int>(),
                      j.at("waived").get<int>()};
        if (j.contains("corner")) r.corner = bytes_at(j, "corner");
        if (j.contains("inputs")) json::take_safe(j.at("inputs"), r.inputs);
        if (j.contains("messages")) json::take_safe(j.at("messages"), r.messages);
        return r;
    } catch (const Json::exception&) {
        return std::nullopt;
    }
}

Json plan_json(const RunPlan& p) {
    Json pegs = Json::array(), attributes = Json::array(), texts = Json::array();
    for (const auto& [port, peg] : p.pegs) pegs.push_back(Json::array({json_safe(port), peg_to_json(peg)}));
    for (const auto& [port, a] : p.attributes)
        attributes.push_back(Json::array({json_safe(port), attributes_to_json(a)}));
    for (const auto& [path, text] : p.texts) texts.push_back(Json::array({json_safe(path), json_safe(text)}));
    Json out{{"part", json_safe(p.part)}, {"pegs", pegs}, {"attributes", attributes}, {"texts", texts}};
    if (!p.fields.empty()) out["fields"] = json::safe(p.fields);
    for (const auto& w : p.waivers) out["waivers"].push_back(json::safe_fields(w, waiver_fields()));
    return out;
}

/// A whole plan; version 1 wrote objects by port where there are lists of pairs now.
std::optional<RunPlan> plan_from(const Json& j) {
    try {
        RunPlan p;
        p.part = bytes_at(j, "part");
        const auto each = [&](const char* key, const auto& take) {
            const auto& list = j.at(key);
            if (list.is_object())
                for (const auto& item : list.items()) take(item.key(), item.value());
            else
                for (const auto& pair : list)
                    take(from_json_safe(pair.at(0).template get_ref<const std::string&>()), pair.at(1));
        };
        each("pegs", [&](const std::string& port, const Json& v) {
            if (v.is_array())
                p.pegs[port] = {v.at(0).get<std::string>(), v.at(1).get<bool>() ? PegState::loose : PegState::pegged,
                                v.at(2).get<std::string>()};
            else
                p.pegs[port] = peg_from_json(v).value_or(Peg{});
        });
        each("attributes",
             [&](const std::string& port, const Json& v) { p.attributes[port] = attributes_from_json(v); });
        each("texts", [&](const std::string& path, const Json& v) {
            p.texts[path] = from_json_safe(v.get_ref<const std::string&>());
        });
        if (j.contains("fields")) json::take_safe(j.at("fields"), p.fields);
        if (j.contains("waivers"))
            for (const auto& w : j.at("waivers")) json::take_safe_fields(w, p.waivers.emplace_back(), waiver_fields());
        return p;
    } catch (const Json::exception&) {
        return std::nullopt;
    }
}

Project project_of(const RunPlan& plan) {
    Project p;
    p.pegs = plan.pegs;
    p.attributes = plan.attributes;
    p.waivers = plan.waivers;
    for (const auto& [path, text] : plan.texts) p.constraints.push_back({path, text});
    Edit fields;
    for (const auto& [name, text] : plan.fields) fields.changes.emplace_back(set_field(p, name, text));
    (void)apply(p, fields);
    p.part = plan.part;
    return p;
}

/// The line of a run's plan.
std::string plan_line(const RunPlan& plan, const RunPlan* before, int number_before, bool& whole) {
    const auto all = [&] { return line_of(Json{{"whole", plan_json(plan)}}); };
    whole = before == nullptr;
    if (whole) return all();
    auto edit = line_of(Json{{"from", number_before},
                             {"edit", edit_to_json(difference_edit(project_of(*before), project_of(plan), ""))}});
    if (edit.size() < 4096) return edit;
    auto complete = all();
    whole = complete.size() <= edit.size();
    return whole ? complete : edit;
}

/// A line that stands behind all runs and speaks of one of them.
std::optional<std::pair<int, std::string>> note_from(const Json& j) {
    if (!j.is_object() || !j.contains("note_of") || !j.at("note_of").is_number_integer() || !j.contains("note") ||
        !j.at("note").is_string())
        return std::nullopt;
    return std::pair{j.at("note_of").get<int>(), from_json_safe(j.at("note").get_ref<const std::string&>())};
}

std::string note_line(int number, const std::string& note) {
    return line_of(Json{{"note_of", number}, {"note", json_safe(note)}});
}

}  // namespace

namespace {
/// The part has a place of its own in the log, and the ports are what was read of the design, not a choice.
bool kept_by_itself(std::string_view field) {
    return field != "part" && field != "ports";
}
}  // namespace

RunPlan plan_of(const Project& p) {
    RunPlan out{p.part, p.pegs, p.attributes, {}, {}, p.waivers};
    for (const auto& file : p.constraints) out.texts[file.path] = file.text;
    for (const auto& field : project_fields())
        if (auto text = field_text(p, field.key); kept_by_itself(field.key) && !text.empty())
            out.fields[field.key] = std::move(text);
    return out;
}

const std::vector<Run>& RunLog::runs() {
    load();
    return runs_;
}

void RunLog::load() {
    if (loaded_) return;
    loaded_ = true;
    if (disk_.kind(path_) == FileKind::none) return;
    const auto read = disk_.read_own(path_, largest_log);
    if (!read) return;
    const std::string& text = read.value();
    size_ = text.size();
    torn_ = !text.empty() && text.back() != '\n';
    std::optional<Run> run;
    size_t expected = 0;
    for (size_t at = 0; at < text.size();) {
        const auto end = text.find('\n', at);
        const std::string_view line = std::string_view(text).substr(at, end == std::string::npos ? end : end - at);
        const PlanLine here{at, line.size(), line.starts_with("{\"whole\""), true};
        at = end == std::string::npos ? text.size() : end + 1;
        if (here.whole || line.starts_with("{\"from\"")) {
            if (run && here.size == expected && (here.whole || !runs_.empty())) {
                runs_.push_back(std::move(*run));
                places_.push_back(here);
            }
            run.reset();
            continue;
        }
        const auto j = parse_json(line);
        if (const auto note = j ? note_from(*j) : std::nullopt) {
            for (auto& known : runs_)
                if (known.number == note->first) known.note = note->second;
            run.reset();
            continue;
        }
        run = j && j->is_object() ? run_from(*j) : std::nullopt;
        if (run) {
            const auto bytes = j->find("plan_bytes");
            expected = bytes != j->end() && bytes->is_number_unsigned() ? bytes->get<size_t>() : 0;
        }
        if (!run || !j->contains("pegs")) continue;
        old_form_ = true;
        runs_.push_back(std::move(*run));
        places_.push_back({here.at, here.size, true, true});
        run.reset();
    }
}

Result<RunPlan> RunLog::plan_at(size_t index, const std::string& text) const {
    const auto damaged = [&] {
        return Message{Severity::stop, Code::log,
                       said("Run {} is damaged in the log; its plan cannot be shown.", runs_[index].number), path_};
    };
    size_t from = index;
    while (from > 0 && !places_[from].whole) --from;
    Project plan;
    for (size_t i = from; i <= index; ++i) {
        const auto& place = places_[i];
        if (place.at + place.size > text.size()) return damaged();
        const auto j = parse_json(std::string_view(text).substr(place.at, place.size), size_t{1} << 20);
        if (!j || !j->is_object()) return damaged();
        if (place.whole) {
            const auto whole = plan_from(j->contains("whole") ? j->at("whole") : *j);
            if (!whole) return damaged();
            plan = project_of(*whole);
            continue;
        }
        const auto before = j->find("from"), changes = j->find("edit");
        if (i == 0 || before == j->end() || *before != runs_[i - 1].number || changes == j->end()) return damaged();
        const auto edit = edit_from_json(*changes);
        if (!edit || !kp::apply(plan, edit.value())) return damaged();
    }
    return plan_of(plan);
}

Result<LogEntry> RunLog::entry(int number) {
    load();
    const auto at = std::find_if(runs_.begin(), runs_.end(), [&](const Run& r) { return r.number == number; });
    if (at == runs_.end())
        return Message{Severity::stop, Code::log, said("There is no run {} in the log.", number), path_};
    const auto index = static_cast<size_t>(at - runs_.begin());
    if (index + 1 == runs_.size() && last_) return LogEntry{*at, *last_};
    if (!places_[index].in_file)
        return Message{Severity::stop, Code::log, said("The plan of run {} could not be written to the log.", number),
                       path_};
    const auto text = disk_.read_own(path_, largest_log);
    if (!text) return text.messages();
    auto plan = plan_at(index, text.value());
    if (!plan) return plan.messages();
    return LogEntry{*at, plan.take()};
}

/// The runs from `from` on in the form of today.
Status RunLog::rewrite(size_t from) {
    const auto text = disk_.read_own(path_, largest_log);
    if (!text) return text.messages();
    std::string out;
    std::vector<Run> runs;
    std::vector<PlanLine> places;
    std::optional<RunPlan> before;
    for (size_t i = from; i < places_.size(); ++i) {
        auto plan = places_[i].in_file ? plan_at(i, text.value()) : Result<RunPlan>(Message{});
        if (!plan) {
            before.reset();
            continue;
        }
        bool whole = false;
        const auto line = plan_line(plan.value(), before && runs.size() % whole_each != 0 ? &*before : nullptr,
                                    runs.empty() ? 0 : runs.back().number, whole);
        out += line_of(run_json(runs_[i], line.size() - 1));
        places.push_back({out.size(), line.size() - 1, whole, true});
        out += line;
        if (!runs_[i].note.empty()) out += note_line(runs_[i].number, runs_[i].note);
        runs.push_back(runs_[i]);
        before = plan.take();
    }
    if (auto status = replace_file(disk_, path_, out); !status) return status;
    runs_ = std::move(runs);
    places_ = std::move(places);
    last_ = std::move(before);
    size_ = out.size();
    torn_ = old_form_ = broken_ = false;
    return Done{};
}

/// Plans are edits of those before, so a stretch goes at once, from a whole plan on.
Status RunLog::forget_old() {
    if (old_form_) return rewrite(runs_.size() > most_runs ? runs_.size() - most_runs : 0);
    if (runs_.size() < most_runs + most_runs / 10) return Done{};
    return rewrite(runs_.size() - most_runs);
}

/// Before an append: the file as it is, and how it ends. The next run then has to be whole when this says so.
Status RunLog::look_at_end(bool& whole) {
    if (disk_.kind(path_) == FileKind::none) {
        for (auto& place : places_) place.in_file = false;
        whole = true;
        torn_ = false;
        size_ = 0;
        return save_new(disk_, path_, "");
    }
    if (broken_) {
        const auto text = disk_.read_own(path_, largest_log);
        if (!text) return text.messages();
        size_ = text.value().size();
        torn_ = size_ > 0 && text.value().back() != '\n';
        whole = true;
        return Done{};
    }
    return forget_old();
}

namespace {

/// All that a person would compare of two runs of one plan.
bool same_figures(const Run& a, const Run& b) {
    return a.setup_wns == b.setup_wns && a.hold_wns == b.hold_wns && a.setup_tns == b.setup_tns &&
           a.failing == b.failing && a.worst == b.worst && a.endpoints == b.endpoints &&
           a.constrained == b.constrained && a.findings.stops == b.findings.stops &&
           a.findings.cautions == b.findings.cautions && a.findings.notes == b.findings.notes &&
           a.findings.waived == b.findings.waived;
}

}  // namespace

bool RunLog::known_before(const Run& run) const {
    constexpr size_t looked_at = 100;  // as far as undo goes back at a stretch
    for (size_t i = runs_.size(); i-- > 0 && runs_.size() - i <= looked_at;)
        if (runs_[i].plan_sum == run.plan_sum && same_figures(runs_[i], run)) return true;
    return false;
}

Status RunLog::annotate(int number, const std::string& note) {
    load();
    const auto at = std::find_if(runs_.begin(), runs_.end(), [&](const Run& r) { return r.number == number; });
    if (at == runs_.end())
        return Message{Severity::stop, Code::log, said("There is no run {} in the log.", number), path_};
    if (at->note == note) return Done{};
    const auto line = (torn_ ? "\n" : "") + note_line(number, note);
    if (auto status = disk_.append(path_, line); !status) return status;
    torn_ = false;
    size_ += line.size();
    at->note = note;
    return Done{};
}

Status RunLog::add(Run run, const RunPlan& plan) {
    auto status = append(std::move(run), plan);
    if (status)
        trouble_.reset();
    else
        trouble_ = status.first();
    return status;
}

Status RunLog::append(Run run, const RunPlan& plan) {
    load();
    if (!last_ && !runs_.empty())
        if (auto known = entry(runs_.back().number)) last_ = std::move(known.value().plan);
    run.plan_sum = sha256(plan_json(plan).dump(-1, ' ', false, Json::error_handler_t::replace));
    const bool as_the_last = last_ && !runs_.empty() && runs_.back().plan_sum.empty() && *last_ == plan &&
                             runs_.back().setup_wns == run.setup_wns;
    if (as_the_last || known_before(run)) return Done{};
    bool whole = !last_ || runs_.empty();
    auto status = look_at_end(whole);
    run.number = runs_.empty() ? 1 : runs_.back().number + 1;
    size_t since = 0;
    while (since < places_.size() && !places_[places_.size() - 1 - since].whole) ++since;
    whole = whole || since == places_.size() || since + 1 >= whole_each;
    const auto line = plan_line(plan, whole ? nullptr : &*last_, whole ? 0 : runs_.back().number, whole);
    // What a torn line left ends here, so that it takes no more than itself along.
    const std::string text = (torn_ ? "\n" : "") + line_of(run_json(run, line.size() - 1));
    if (status) status = disk_.append(path_, text + line);
    broken_ = !status;
    torn_ = false;
    places_.push_back({size_ + text.size(), line.size() - 1, whole, status.ok()});
    size_ += text.size() + line.size();
    runs_.push_back(std::move(run));
    last_ = plan;
    return status;
}

namespace {

void compare_text(const std::string& file, const std::string& a, const std::string& b, std::vector<Difference>& out) {
    const auto x = split(a, '\n'), y = split(b, '\n');
    constexpr size_t most = 4000;  // lines; the table below is quadratic
    if (x.size() > most || y.size() > most) {
        if (a != b) out.push_back({file, counted(x.size(), "line"), counted(y.size(), "line")});
        return;
    }
    // Longest common subsequence by dynamic programming (Wagner and Fischer 1974).
    std::vector<std::vector<int>> length(x.size() + 1, std::vector<int>(y.size() + 1, 0));
    for (size_t i = x.size(); i-- > 0;)
        for (size_t j = y.size(); j-- > 0;)
            length[i][j] = x[i] == y[j] ? length[i + 1][j + 1] + 1 : std::max(length[i + 1][j], length[i][j + 1]);
    size_t i = 0, j = 0;
    while (i < x.size() || j < y.size()) {
        if (i < x.size() && j < y.size() && x[i] == y[j]) {
            ++i;
            ++j;
            continue;
        }
        Difference d{file + ":" + std::to_string(std::max<size_t>(1, j + 1)), "", ""};
        // A changed line shows both sides together.
        const bool takes_left = i < x.size() && (j == y.size() || length[i + 1][j] >= length[i][j + 1]);
        if (takes_left) d.before = std::string(x[i++]);
        if (j < y.size() && (i == x.size() || y[j] != x[i]) &&
            (!takes_left || i >= x.size() || length[i][j + 1] >= length[i][j]))
            d.after = std::string(y[j++]);
        if (!d.before.empty() || !d.after.empty()) out.push_back(std::move(d));
    }
}

/// Inputs by their digests: which file was another one.
void compare_inputs(const Run& a, const Run& b, std::vector<Difference>& out) {
    if (a.inputs.empty() || b.inputs.empty()) return;  // older runs say nothing of them
    auto all = a.inputs;
    all.insert(b.inputs.begin(), b.inputs.end());
    for (const auto& [path, digest] : all) {
        const auto x = a.inputs.find(path), y = b.inputs.find(path);
        const auto text = [](auto at, auto end) { return at == end ? std::string("not read") : at->second; };
        const auto before = text(x, a.inputs.end()), after = text(y, b.inputs.end());
        if (before != after) out.push_back({"input " + path, before, after});
    }
}

/// Findings that are on one side only, the words for words that are alike but for numbers stay as they are.
void compare_messages(const Run& a, const Run& b, std::vector<Difference>& out) {
    if (a.messages.empty() && b.messages.empty()) return;
    const std::set<std::string> x(a.messages.begin(), a.messages.end()), y(b.messages.begin(), b.messages.end());
    for (const auto& m : y)
        if (!x.contains(m)) out.push_back({"new finding", "", m});
    for (const auto& m : x)
        if (!y.contains(m)) out.push_back({"finding gone", m, ""});
}

void compare_fields(const RunPlan& a, const RunPlan& b, std::vector<Difference>& out) {
    if (a.part != b.part) out.push_back({"part", a.part, b.part});
    if (a.fields.empty() || b.fields.empty()) return;
    for (const auto& field : project_fields()) {
        const auto text = [&](const RunPlan& plan) {
            const auto at = plan.fields.find(field.key);
            return at == plan.fields.end() ? std::string() : at->second;
        };
        if (kept_by_itself(field.key) && text(a) != text(b)) out.push_back({field.key, text(a), text(b)});
    }
}

std::string worst_text(const Run& r) {
    return r.worst ? said("{} ns ({})", fixed(*r.worst, 3), words_of_check(r.worst_kind)) : "none";
}
std::string slack_text(const std::optional<double>& v) {
    return v ? fixed(*v, 3) + " ns" : "none";
}

}  // namespace

std::vector<Difference> compare(const LogEntry& a, const LogEntry& b) {
    std::vector<Difference> out;
    const auto add = [&](const std::string& what, const std::string& x, const std::string& y) {
        if (x != y) out.push_back({what, x, y});
    };
    add("worst setup slack", slack_text(a.run.setup_wns), slack_text(b.run.setup_wns));
    add("worst hold slack", slack_text(a.run.hold_wns), slack_text(b.run.hold_wns));
    add("worst slack of all checks", worst_text(a.run), worst_text(b.run));
    add("failing endpoints", std::to_string(a.run.failing), std::to_string(b.run.failing));
    add("endpoints constrained", said("{} of {}", a.run.constrained, a.run.endpoints),
        said("{} of {}", b.run.constrained, b.run.endpoints));
    add("stops", std::to_string(a.run.findings.stops), std::to_string(b.run.findings.stops));
    add("cautions", std::to_string(a.run.findings.cautions), std::to_string(b.run.findings.cautions));
    add("waived", std::to_string(a.run.findings.waived), std::to_string(b.run.findings.waived));
    add("worst corner", a.run.corner, b.run.corner);
    compare_inputs(a.run, b.run, out);
    compare_fields(a.plan, b.plan, out);
    compare_messages(a.run, b.run, out);
    std::set<std::string> ports;
    for (const auto* e : {&a, &b}) {
        for (const auto& [port, peg] : e->plan.pegs) ports.insert(port);
        for (const auto& [port, attributes] : e->plan.attributes) ports.insert(port);
    }
    for (const auto& port : ports) {
        const auto pin = [&](const LogEntry& e) {
            return e.plan.pegs.contains(port) ? "pin " + e.plan.pegs.at(port).pin : std::string("adrift");
        };
        add(port, pin(a), pin(b));
        for (const auto& field : attribute_fields()) {
            if (std::string_view(field.name) == "standard_origin") continue;
            const auto value = [&](const LogEntry& e) {
                return e.plan.attributes.contains(port) ? field.of(e.plan.attributes.at(port)) : std::string();
            };
            add(port + ", " + field.name, value(a), value(b));
        }
    }
    std::set<std::string> files;
    for (const auto* e : {&a, &b})
        for (const auto& [file, text] : e->plan.texts) files.insert(file);
    for (const auto& file : files)
        compare_text(file, a.plan.texts.contains(file) ? a.plan.texts.at(file) : "",
                     b.plan.texts.contains(file) ? b.plan.texts.at(file) : "", out);
    return out;
}

Edit restore_edit(const Project& project, const LogEntry& entry) {
    Project then = project;
    then.pegs = entry.plan.pegs;
    then.attributes = entry.plan.attributes;
    // Older runs know neither fields nor waivers; then those stay as they are.
    if (!entry.plan.fields.empty()) {
        then.waivers = entry.plan.waivers;
        Edit fields;
        for (const auto& field : project_fields()) {
            if (!kept_by_itself(field.key)) continue;
            const auto at = entry.plan.fields.find(field.key);
            fields.changes.emplace_back(
                set_field(then, field.key, at == entry.plan.fields.end() ? std::string() : at->second));
        }
        (void)apply(then, fields);
    }
    if (!entry.plan.part.empty()) then.part = entry.plan.part;
    for (auto& file : then.constraints)
        if (const auto at = entry.plan.texts.find(file.path); at != entry.plan.texts.end()) file.text = at->second;
    return difference_edit(project, then, said("restore run {}", entry.run.number));
}

}  // namespace kp
