// SPDX-License-Identifier: GPL-3.0-or-later
// A form edits the bytes of one command, found by the span its value carries; where no command speaks of the port
// alone it adds one.
#include "core/constraints/forms.hpp"

#include "core/base/text.hpp"
#include "core/format/sdc/sdc_text.hpp"
#include "core/model/receiving_file.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cmath>

namespace kp {

namespace {

/// The file a command stands in; none when the text has changed since it was analysed.
const SdcFile* file_of(const Session& s, const CommandSpan& span) {
    const auto at = static_cast<size_t>(span.file);
    const auto& files = s.analysis().constraints().files;
    if (at >= files.size()) return nullptr;
    for (const auto& file : s.project().constraints)
        if (const auto seen = s.analysis().texts().find(file.path);
            file.path == files[at] && seen != s.analysis().texts().end() && seen->second == file.text)
            return &file;
    return nullptr;
}

Edit replace(const SdcFile& file, const CommandSpan& span, std::string text, std::string title) {
    return Edit{
        std::move(title),
        {TextChange{file.path, span.begin, file.text.substr(span.begin, span.end - span.begin), std::move(text)}}};
}

/// True while a text is newer than what is known of it; a form must not guess then.
bool text_is_newer(const Session& s) {
    for (const auto& file : s.project().constraints)
        if (const auto seen = s.analysis().texts().find(file.path);
            file.analysis && (seen == s.analysis().texts().end() || seen->second != file.text))
            return true;
    return false;
}

Message line_error(std::string text) {
    return {Severity::stop, Code::form, std::move(text)};
}

}  // namespace

Edit add_line(const Session& s, const std::string& line, const std::string& title, const std::string& clock) {
    const auto* file = receiving_file(s.project(), s.analysis().constraints(), clock);
    if (!file) return {};
    const auto insertion = sdc::append_command(file->text, line);
    return Edit{title, {TextChange{file->path, insertion.offset, "", insertion.text}}};
}

Result<Edit> clock_form(const Session& s, const std::string& port, double period, double duty) {
    if (text_is_newer(s)) return line_error("The text is being read just now; try again in a moment.");
    if (!(period > 0) || period > 1e9) return line_error("A period is a number of ns above 0.");
    if (!(duty > 0) || duty >= 100) return line_error("A duty cycle lies between 0 and 100 %.");
    const auto high = std::round(period * duty * 1e4) / 1e6;
    const bool half = std::fabs(duty - 50) < 1e-9;
    for (const auto& clock : s.analysis().constraints().clocks) {
        const bool here = std::any_of(clock.sources.begin(), clock.sources.end(), [&](const ObjectRef& o) {
            return o.kind == ObjectKind::port && s.world().netlist.ports[o.id].name == port;
        });
        const auto* file = here ? file_of(s, clock.span) : nullptr;
        if (!file) continue;
        const sdc::Span span{clock.span.begin, clock.span.end};
        std::string text = sdc::with_option(file->text, span, "-period", shortest(period));
        const bool has_waveform = text.find("-waveform") != std::string::npos;
        if (has_waveform || !half)
            text = sdc::with_option(text, {0, text.size()}, "-waveform",
                                    half ? std::nullopt : std::optional<std::string>(said("{{0 {}}}", shortest(high))));
        return replace(*file, clock.span, text, said("set the clock on {} to {} ns", port, shortest(period)));
    }
    std::string line = said("create_clock -name {} -period {}", sdc::quote(port), shortest(period));
    if (!half) line += said(" -waveform {{0 {}}}", shortest(high));
    return add_line(s, line + " " + sdc::get_ports_word({port}), "add a clock on " + port);
}

namespace {

struct Proposed {
    std::string clock;
    bool fall = false;
};
/// The clock a delay of the port belongs to, as coverage found it; the first of the design where it says nothing.
Proposed proposed_clock(const Session& s, const std::string& port, bool input) {
    const std::string command = input ? "set_input_delay" : "set_output_delay";
    for (const auto& u : s.analysis().timing().coverage.untimed)
        if (u.port && u.object == port && !u.clock.empty() && u.suggest.starts_with(command))
            return {u.clock, u.clock_fall};
    return {s.analysis().constraints().clocks.front().name, false};
}

}  // namespace

Result<Edit> delay_form(const Session& s, const std::string& port, bool late, double value) {
    const auto& c = s.analysis().constraints();
    const auto& ports = s.world().netlist.ports;
    if (text_is_newer(s)) return line_error("The text is being read just now; try again in a moment.");
    if (!std::isfinite(value) || std::fabs(value) > 1e6) return line_error("A delay is a number of ns.");
    if (c.clocks.empty()) return line_error("There is no clock yet that a delay could be against.");
    const auto at = std::find_if(ports.begin(), ports.end(), [&](const Port& p) { return p.name == port; });
    if (at == ports.end()) return line_error(said("The design has no port {}.", port));
    const auto id = static_cast<std::uint32_t>(at - ports.begin());
    const bool input = at->direction == Direction::in;
    const std::string title = said("{}{}{}: {} ns", late ? "latest" : "earliest",
                                   (input ? " arrival of " : " need of "), port, shortest(value));
    // What really captures there, or launches; a clock only for who has none at all.
    const auto proposed = proposed_clock(s, port, input);
    std::string clock = proposed.clock, more = proposed.fall ? " -clock_fall" : "";
    for (const auto& d : c.io_delays) {
        if (d.port != id || d.input != input) continue;
        // Another command stands already: the new one goes beside it, against the same clock and edge.
        if (d.clock != no_id) {
            clock = c.clocks[d.clock].name;
            more = std::string(d.clock_fall ? " -clock_fall" : "") + " -add_delay";
        }
        if (!(late ? d.late : d.early) || (d.late && d.early)) continue;
        const auto others =
            std::count_if(c.io_delays.begin(), c.io_delays.end(), [&](const IoDelay& o) { return o.span == d.span; });
        const auto* file = file_of(s, d.span);
        if (others != 1 || !file) continue;
        // The value is the first word that is neither the command, an option, nor an option's value.
        const auto words = sdc::words_of(file->text, {d.span.begin, d.span.end});
        for (size_t i = 1; i < words.size(); ++i) {
            const auto word = words[i].of(file->text);
            if (word.starts_with('-') && !to_number(word)) {
                if (word == "-clock" || word == "-reference_pin") ++i;
                continue;
            }
            const CommandSpan just{d.span.file, words[i].begin, words[i].end, d.span.line};
            return replace(*file, just, shortest(value), title);
        }
    }
    const std::string line =
        said("{} -clock {}{}{}{} {}", input ? "set_input_delay" : "set_output_delay", sdc::quote(clock), more,
             (late ? " -max " : " -min "), shortest(value), sdc::get_ports_word({port}));
    return add_line(s, line, title, clock);
}

}  // namespace kp
