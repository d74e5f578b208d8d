// SPDX-License-Identifier: GPL-3.0-or-later
// What the page shows of the build that is chosen: stages, figures, messages against the build before, paths.
#include "app/log/build_log.hpp"
#include "app/log/build_page.hpp"
#include "app/shell/counted.hpp"
#include "app/theme/text.hpp"
#include "core/base/disk.hpp"
#include "core/base/said.hpp"
#include "core/base/text.hpp"

#include <QLabel>
#include <QPushButton>
#include <QTabWidget>
#include <QTreeWidget>
#include <algorithm>
#include <set>

namespace kp::app {

namespace {
QString inputs_in_words(build_flow::Stage stage) {
    QStringList out;
    for (const auto input : build_flow::made_of(stage)) out << BuildPage::tr(word_of(input));
    return out.join(BuildPage::tr(", "));
}
}  // namespace

void BuildPage::show_run() {
    const auto* run = chosen();
    for (auto* t : {stages_, figures_, messages_, paths_}) t->clear();
    cell_->clear();
    take_->setEnabled(run && run->answer && run->answer->built);
    die_->show_build(run ? run->answer : nullptr);
    if (!run) return;
    show_stages(*run);
    const BuildRun* before = nullptr;
    for (const auto& r : runs_)
        if (r.number < run->number && r.answer && (!before || r.number > before->number)) before = &r;
    show_messages(*run, before);
    if (!run->answer) return;
    show_figures(*run->answer);
    if (!run->answer->timing) return;
    const auto& paths = run->answer->timing->paths;
    for (size_t k = 0; k < paths.size(); ++k) {
        auto* item =
            new QTreeWidgetItem(paths_, {q(fixed(paths[k].slack, 3)), q(paths[k].startpoint), q(paths[k].endpoint)});
        item->setData(0, Qt::UserRole, static_cast<int>(k));
        item->setToolTip(2, q(paths[k].check));
        if (paths[k].slack < 0) item->setForeground(0, theme().stop);
    }
}

void BuildPage::show_stages(const BuildRun& run) {
    stages_->clear();
    if (!run.answer) return;
    for (const auto& s : run.answer->stages) {
        const auto old = s.state == build_flow::StageOutcome::done || s.state == build_flow::StageOutcome::kept
                             ? why_old(run, s.stage)
                             : QString();
        const bool holds = old.isEmpty() && s.why.empty() &&
                           (s.state == build_flow::StageOutcome::done || s.state == build_flow::StageOutcome::kept);
        const auto why = holds ? tr("until %1 change").arg(inputs_in_words(s.stage)) : old.isEmpty() ? q(s.why) : old;
        auto* item = new QTreeWidgetItem(
            stages_, {QLatin1String(build_flow::stage_names[static_cast<size_t>(s.stage)]),
                      old.isEmpty() ? q(word_of(s.state)) : tr("old"), q(fixed(s.seconds, 2)), why});
        item->setToolTip(3, item->text(3));
        item->setForeground(1, s.state == build_flow::StageOutcome::failed ? theme().stop
                               : !old.isEmpty()                            ? theme().caution
                               : s.state == build_flow::StageOutcome::done ? theme().good
                                                                           : theme().second);
    }
}

/// What the build says of itself, and the commands that came to nothing.
void BuildPage::show_verdict(const build_flow::BuildAnswer& answer) {
    if (!answer.timing) return;
    const auto& c = answer.timing->coverage;
    const auto& k = answer.constraints;
    auto* verdict = new QTreeWidgetItem(figures_, {tr("verdict"), QString(), QString(),
                                                   tr("%1; %2 of %3 constrained")
                                                       .arg(q(word_of(answer.verdict)))
                                                       .arg(c.constrained)
                                                       .arg(counted(c.endpoints, "endpoint"))});
    verdict->setForeground(3, answer.verdict == build_flow::BuildVerdict::met ? theme().good : theme().stop);
    for (const auto& [list, what] :
         {std::pair{&k.refused, tr("refused at %1:%2")}, std::pair{&k.without_effect, tr("without effect at %1:%2")}})
        for (const auto& lost : *list)
            new QTreeWidgetItem(figures_, {what.arg(q(lost.file)).arg(lost.line), QString(), QString(), q(lost.text)});
}

void BuildPage::show_figures(const build_flow::BuildAnswer& answer) {
    show_verdict(answer);
    for (const auto& assumed : answer.assumed) {
        auto* item = new QTreeWidgetItem(figures_, {q(assumed.what), tr("assumed"), QString(), q(assumed.value)});
        item->setToolTip(3, q(assumed.value + "; " + assumed.from));
    }
    for (const auto& u : answer.use) {
        auto name = q(u.resource);
        name.replace(QLatin1Char('_'), QLatin1Char(' '));
        new QTreeWidgetItem(
            figures_,
            {name, QString::number(u.used), QString::number(u.available),
             u.available ? tr("%1 % of the part")
                               .arg(q(fixed(100.0 * static_cast<double>(u.used) / static_cast<double>(u.available), 1)))
                         : QString()});
    }
    for (const auto& m : answer.modules)
        if (answer.modules.size() > 1)
            new QTreeWidgetItem(figures_, {m.path.empty() ? tr("  top itself") : QStringLiteral("  ") + q(m.path),
                                           QString::number(m.logic_cells + m.registers), QString(),
                                           tr("%1 logic, %2 registers").arg(m.logic_cells).arg(m.registers)});
    if (!answer.power) return;
    const auto& p = *answer.power;
    auto* total =
        new QTreeWidgetItem(figures_, {tr("power, mW"), q(fixed(p.total_w * 1e3, 2)), QString(), q(p.dominates)});
    total->setToolTip(3, q(p.dominates));
    new QTreeWidgetItem(figures_, {tr("  static"), q(fixed(p.static_w * 1e3, 2)), QString(), QString()});
    for (const auto& [what, w] : p.groups)
        new QTreeWidgetItem(figures_, {QStringLiteral("  ") + q(what), q(fixed(w * 1e3, 3)), QString(), QString()});
    for (const auto& [bank, w] : p.banks)
        new QTreeWidgetItem(figures_,
                            {tr("    pads of bank %1").arg(q(bank)), q(fixed(w * 1e3, 3)), QString(), QString()});
    if (p.modules.size() > 1)
        for (const auto& [path, w] : p.modules)
            new QTreeWidgetItem(figures_,
                                {path.empty() ? tr("    logic of the top itself") : tr("    in %1").arg(q(path)),
                                 q(fixed(w * 1e3, 3)), QString(), QString()});
    for (const auto& a : p.assumed) {
        auto* item = new QTreeWidgetItem(figures_, {q(a.what), q(a.value), QString(), q(a.from)});
        item->setToolTip(0, q(a.what));
        item->setToolTip(3, q(a.from));
        for (int c = 0; c < 4; ++c) item->setForeground(c, theme().second);
    }
    for (int i = 0; i < figures_->topLevelItemCount(); ++i)
        for (const int c : {1, 2}) {
            figures_->topLevelItem(i)->setTextAlignment(c, Qt::AlignRight | Qt::AlignVCenter);
            figures_->topLevelItem(i)->setFont(c, mono(12));
        }
}

/// Messages of a run: new ones, those that stayed, and what went since the build before.
void BuildPage::show_messages(const BuildRun& run, const BuildRun* before) {
    std::set<std::string> then, now;
    if (before)
        for (const auto& m : before->answer->messages) then.insert(m.sentence());
    const auto add = [&](Severity severity, const std::string& text, const QString& standing) {
        auto* item = new QTreeWidgetItem(messages_, {standing, q(text)});
        item->setForeground(1, severity == Severity::stop      ? theme().stop
                               : severity == Severity::caution ? theme().caution
                                                               : theme().ink);
        return item;
    };
    if (!run.refused.empty()) add(Severity::stop, run.refused, QString());
    if (!run.answer) return;
    for (const auto severity : {Severity::stop, Severity::caution, Severity::note})
        for (const auto& m : run.answer->messages) {
            if (m.severity != severity || !now.insert(m.sentence()).second) continue;
            auto* item = add(severity, m.sentence(),
                             !before                    ? QString()
                             : then.count(m.sentence()) ? tr("remains")
                                                        : tr("new"));
            item->setData(0, Qt::UserRole, q(m.file));
            item->setData(1, Qt::UserRole, m.line);
            if (!m.file.empty()) item->setToolTip(1, tr("Shows the place"));
        }
    for (const auto& gone : then)
        if (!now.count(gone)) add(Severity::note, gone, tr("gone"));
}

/// A message leads to its place: a line of the constraints in Tempo, any other text beside the message.
void BuildPage::go_to_source(const QTreeWidgetItem& item) {
    const auto file = item.data(0, Qt::UserRole).toString().toStdString();
    const int line = item.data(1, Qt::UserRole).toInt();
    if (file.empty() || !desk_.has_session()) return;
    const auto& s = desk_.session();
    const auto& constraints = s.project().constraints;
    const auto at = std::find_if(constraints.begin(), constraints.end(), [&](const SdcFile& f) {
        return f.path == file || join_path(s.document().folder(), f.path) == file;
    });
    if (at != constraints.end()) {
        desk_.go_to(Place::tempo);
        return desk_.select({QStringLiteral("line"), QStringLiteral("%1:%2").arg(q(at->path)).arg(line)});
    }
    Selection place{QStringLiteral("source"), QStringLiteral("%1:%2").arg(q(file)).arg(line)};
    place.facts = std::make_shared<const FactSheet>(lines_around(file, line));
    desk_.select(place);
}

/// The line with some before and behind it, as the file has them now.
FactSheet BuildPage::lines_around(const std::string& file, int line) const {
    constexpr int around = 6;
    FactSheet sheet;
    sheet.title = q(file_name_of(file));
    sheet.under = tr("line %1 · %2").arg(line).arg(q(file));
    FactGroup text{tr("TEXT"), {}};
    const auto full = join_path(desk_.session().document().folder(), file);
    const auto read = real_disk().read(full, size_t{64} << 20);
    if (!read) {
        text.facts.push_back({{}, q(read.first().sentence()), {}, 1});
    } else {
        const auto lines = split(read.value(), '\n');
        for (int k = std::max(1, line - around); k <= line + around && k <= static_cast<int>(lines.size()); ++k)
            text.facts.push_back({QString::number(k),
                                  q(std::string(lines[static_cast<size_t>(k) - 1])).simplified(),
                                  {},
                                  k == line ? 2 : 3});
    }
    sheet.groups.push_back(std::move(text));
    return sheet;
}

/// Into the log: how the build came out, and what it has to say.
void BuildPage::log_messages(const BuildRun& run) {
    if (!run.refused.empty()) return log_->add(Severity::stop, q(run.refused));
    if (!run.answer) return;
    for (const auto& s : run.answer->stages)
        log_->add(s.state == build_flow::StageOutcome::failed ? Severity::stop : Severity::note,
                  tr("build %1: %2 %3, %4 s")
                      .arg(run.number)
                      .arg(QLatin1String(build_flow::stage_names[static_cast<size_t>(s.stage)]), q(word_of(s.state)),
                           q(fixed(s.seconds, 2))));
    for (const auto& m : run.answer->messages) log_->add(m.severity, q(m.sentence()));
}

}  // namespace kp::app
