// SPDX-License-Identifier: GPL-3.0-or-later
// Each function asks by the window's chooser and makes one edit of a field of the project; no state.
#include "app/site/board_by_hand.hpp"

#include "app/shell/chooser.hpp"
#include "app/theme/text.hpp"
#include "core/base/text.hpp"
#include "core/model/by_hand.hpp"

#include <QWidget>
#include <algorithm>

namespace kp::app {

namespace {

/// A map of the project with one text set, or taken away when it is empty.
std::string changed(std::map<std::string, std::string> map, const std::string& key, const std::string& text) {
    if (text.empty())
        map.erase(key);
    else
        map[key] = text;
    return field_text(map);
}

}  // namespace

const BoardPart* BoardByHand::selected_part() const {
    if (!desk_.has_session()) return nullptr;
    const auto& selected = desk_.selection();
    const auto& board = desk_.session().world().board;
    const auto name = selected.name.toStdString();
    if (selected.kind == QLatin1String("terminal")) return board.at_terminal(name).part;
    if (selected.kind != QLatin1String("part")) return nullptr;
    const auto at =
        std::find_if(board.parts.begin(), board.parts.end(), [&](const BoardPart& p) { return p.ref == name; });
    return at == board.parts.end() ? nullptr : &*at;
}

void BoardByHand::set_text(const char* field, const std::string& ref, const std::string& text,
                           const std::string& title) {
    const auto& p = desk_.session().project();
    const auto& map = std::string_view(field) == "part_notes" ? p.part_notes : p.part_orders;
    desk_.apply(Edit{title, {set_field(p, field, changed(map, ref, text))}});
}

void BoardByHand::note_part() {
    const auto* part = selected_part();
    if (!part) return desk_.say(QObject::tr("Select a board part first, on the drawing or in Pegs."), true);
    const auto ref = part->ref;
    const auto& notes = desk_.session().project().part_notes;
    const auto now = notes.contains(ref) ? notes.at(ref) : std::string();
    const auto take = [this, ref](const QString& text) {
        set_text("part_notes", ref, text.toStdString(), "note beside " + ref);
    };
    std::vector<Chooser::Item> items;
    if (!now.empty()) items.push_back({QObject::tr("take the note away"), q(now), [take] { take({}); }});
    desk_.choose(QObject::tr("a note beside %1").arg(q(ref)), std::move(items), take, q(now));
}

void BoardByHand::order_part() {
    const auto* part = selected_part();
    if (!part || part->terminals.size() < 2)
        return desk_.say(QObject::tr("Select a board part with several terminals first."), true);
    const auto ref = part->ref;
    const auto names = terminals_in_order(*part);
    const auto joined = [](const std::vector<std::string>& list) {
        std::string out;
        for (const auto& name : list) out += (out.empty() ? "" : " ") + name;
        return out;
    };
    const auto take = [this, ref, names](const QString& typed) {
        const auto text = typed.toStdString();
        for (const auto word : split(text, ' '))
            if (!word.empty() && std::find(names.begin(), names.end(), word) == names.end())
                return desk_.say(QObject::tr("%1 has no terminal %2.%3")
                                     .arg(q(ref), q(std::string(word)), q(did_you_mean(std::string(word), names))),
                                 true);
        set_text("part_orders", ref, typed.simplified().toStdString(), "order of " + ref);
    };
    auto turned = names;
    std::reverse(turned.begin(), turned.end());
    std::vector<Chooser::Item> items{
        {QObject::tr("reverse it"), q(joined(turned)), [take, t = q(joined(turned))] { take(t); }}};
    if (desk_.session().project().part_orders.contains(ref))
        items.push_back({QObject::tr("as the board file has it"), {}, [take] { take({}); }});
    desk_.choose(QObject::tr("terminals of %1 from left to right").arg(q(ref)), std::move(items), take,
                 q(joined(names)));
}

void BoardByHand::before_power() {
    if (!desk_.has_session()) return;
    const auto set = [this](const std::string& text, Tick tick) {
        const auto& s = desk_.session();
        desk_.apply(Edit{"before power-on: " + text,
                         {set_field(s.project(), "power_notes",
                                    field_text(with_power_note(s.world().board, s.project(), text, tick)))}});
    };
    std::vector<Chooser::Item> items;
    const auto notes = power_notes(desk_.session().world().board, desk_.session().project());
    for (const auto& n : notes)
        items.push_back({(n.done ? QStringLiteral("[x] ") : QStringLiteral("[  ] ")) + q(n.text),
                         n.done ? QObject::tr("checked; untick it") : QObject::tr("tick it"),
                         [set, n] { set(n.text, n.done ? Tick::open : Tick::done); }});
    for (const auto& n : notes)
        if (n.own)
            items.push_back({QObject::tr("drop “%1”").arg(q(n.text)), QObject::tr("your own note"),
                             [set, n] { set(n.text, Tick::drop); }});
    desk_.choose(QObject::tr("to check before power is switched on"), std::move(items),
                 [set](const QString& text) { set(text.toStdString(), Tick::open); });
}

void BoardByHand::move_part(Desk& desk, const std::string& ref, double x, double y, bool back) {
    const auto& p = desk.session().project();
    const auto text = back ? std::string() : fixed(x, 1) + " " + fixed(y, 1);
    desk.apply(
        Edit{"move " + ref + " on the drawing", {set_field(p, "part_places", changed(p.part_places, ref, text))}});
}

}  // namespace kp::app
