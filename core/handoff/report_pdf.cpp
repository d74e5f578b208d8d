// SPDX-License-Identifier: GPL-3.0-or-later
// The content of report.html as blocks for pdf_of(); the worst path of each check is asked of the engine that is kept.
#include "core/handoff/report_pdf.hpp"

#include "core/base/text.hpp"
#include "core/base/version.hpp"
#include "core/drawing/pdf.hpp"
#include "core/drawing/pictures.hpp"
#include "core/model/by_hand.hpp"
#include "core/model/proof_notes.hpp"
#include "core/model/path_cause.hpp"
#include "core/model/timing_words.hpp"
#include "core/planning/sheet.hpp"
#include "core/inputs/data_folder.hpp"
#include "core/session/timekeeper.hpp"
#include "core/base/said.hpp"

#include <map>

namespace kp {

namespace {

std::map<std::string, PinMark> marks_of(const Project& p) {
    std::map<std::string, PinMark> out;
    for (const auto& [port, peg] : p.pegs) out[peg.pin] = {port, peg.state == PegState::loose};
    return out;
}

std::string ns(const std::optional<double>& v) {
    return v ? fixed(*v, 3) : "none";
}

PdfTable checks(const TimingReport& t) {
    PdfTable out{{"check", "worst slack, ns", "total, ns", "failing", "endpoints"},
                 {0.28, 0.2, 0.2, 0.16, 0.16},
                 {false, true, true, true, true},
                 {}};
    for (const auto& word : check_words()) {
        const auto& s = t.*word.summary;
        if (s.endpoints > 0)
            out.rows.push_back(
                {word.words, ns(s.wns), fixed(s.tns, 3), std::to_string(s.failing), std::to_string(s.endpoints)});
    }
    return out;
}

PdfTable clocks(const TimingReport& t) {
    PdfTable out{
        {"clock", "period, ns", "could run at, MHz", "registers"}, {0.4, 0.2, 0.2, 0.2}, {false, true, true, true}, {}};
    for (const auto& c : t.clocks)
        out.rows.push_back(
            {c.name, fixed(c.period, 3), c.fmax_mhz ? fixed(*c.fmax_mhz, 1) : "no path", std::to_string(c.registers)});
    return out;
}

PdfTable findings(const Session& s) {
    PdfTable out{{"rule", "severity", "what", "waived"}, {0.08, 0.1, 0.52, 0.3}, {}, {}};
    for (const auto& f : s.findings())
        out.rows.push_back({f.rule, name_of(f.severity), f.text,
                            f.waived ? said("{} ({}, {})", f.waived->reason, f.waived->who, f.waived->date) : ""});
    return out;
}

PdfTable pins(const Session& s) {
    PdfTable out{{"port", "direction", "pin", "bank", "I/O standard", "on the board", "state"},
                 {0.22, 0.09, 0.08, 0.07, 0.2, 0.24, 0.1},
                 {},
                 {}};
    for (const auto& r : sheet_rows(s.world().netlist.ports, s.world().part, s.world().board, s.project()))
        out.rows.push_back({r.port, r.direction, r.pin, r.bank, r.standard, r.terminal, r.state});
    return out;
}

}  // namespace

std::vector<Drawing> report_drawings(const Session& s) {
    const auto marks = marks_of(s.project());
    std::vector<Drawing> out{footprint_drawing(s.world().part, marks), board_drawing(s.world().board, marks)};
    const auto& t = s.analysis().timing();
    std::map<std::string, const EndpointSlack*> worst;
    for (const auto& e : t.endpoints)
        if (auto& at = worst[e.check]; !at || e.slack < at->slack) at = &e;
    // The report lists the worst of all kinds together; the engine knows the worst of each.
    s.deriver().grounds()->timekeeper->ask([&](const TimingEngine& engine) {
        for (const auto& word : check_words())
            if (const auto at = worst.find(word.key); at != worst.end())
                for (const auto& d : engine.paths_to(at->second->check, at->second->endpoint, 1))
                    out.push_back(path_drawing(d.path, t.clocks));
    });
    std::erase_if(out, [](const Drawing& d) { return d.shapes.empty(); });
    return out;
}

Result<std::string> report_pdf(const Session& s) {
    const auto& p = s.project();
    const auto& t = s.analysis().timing();
    PdfReport report;
    report.title = p.name + ": handoff report";
    report.subject = p.part + (s.world().board.name.empty() ? "" : " on " + s.world().board.name);
    report.add_heading(p.name);
    report.add_paragraph(
        said("{}{}; top module {}. Written by Kite Peg {}.", p.part,
             (s.world().board.name.empty() ? std::string()
                                           : " on " + s.world().board.name + ", revision " + s.world().board.revision),
             s.world().netlist.top, program_version));
    if (const auto c = count(s.findings()); c.stops > 0)
        report.add_paragraph(counted(c.stops, "stop is", "stops are") + " open: this bundle was written all the same.",
                             inks::stop);
    report.add_heading("Timing");
    report.add_paragraph(timing_sentence(t), verdict_of(t).met() ? inks::good : inks::stop);
    if (const auto causes = common_causes(t); !causes.empty()) report.add_paragraph(said("Failing by {}.", causes));
    report.add_table(checks(t));
    report.add_paragraph(
        said("{} of {} constrained.", t.coverage.constrained, counted(t.coverage.endpoints, "endpoint")));
    if (!t.clocks.empty()) {
        report.add_heading("Clocks");
        report.add_table(clocks(t));
    }
    if (const auto notes = power_notes(s.world().board, p); !notes.empty()) {
        report.add_heading("Before power-on");
        for (const auto& n : notes) report.add_paragraph((n.done ? "done: " : "open: ") + n.text);
    }
    if (!p.proofs.empty()) {
        report.add_heading("Proved at the simulated bench");
        const auto state = proof_state(s.world().netlist, p.pegs);
        for (const auto& line : p.proofs)
            if (const auto n = proof_note(line)) report.add_paragraph(sentence_of(*n, state));
    }
    report.add_heading("Findings");
    if (s.findings().empty()) report.add_paragraph("None.");
    if (!s.findings().empty()) report.add_table(findings(s));
    report.add_heading("Pins");
    report.add_table(pins(s));
    for (auto& d : report_drawings(s)) {
        report.add_heading(d.title);
        report.add_drawing(std::move(d));
    }
    return pdf_of(report, report_font(data_folder()));
}

}  // namespace kp
