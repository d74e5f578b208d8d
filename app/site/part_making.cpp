// SPDX-License-Identifier: GPL-3.0-or-later
// Writes only where nothing of the user's is lost; every question names the file.
#include "app/site/part_making.hpp"

#include "app/theme/text.hpp"

#include "core/base/names.hpp"
#include "core/base/text.hpp"
#include "core/format/json/world_json.hpp"
#include "core/format/table/part_join.hpp"

#include <QObject>

namespace kp::app {

namespace {

std::string file_of(const Desk& desk, const std::string& name) {
    return join_path(desk.session().document().folder(), lower(portable_name(name)) + ".part.json");
}

}  // namespace

void take_file(Desk& desk, const std::string& path, const std::string& text, bool replace, const char* field,
               const std::string& value, const std::function<void()>& done) {
    if (auto status = replace ? save_whole(real_disk(), path, text) : save_new(real_disk(), path, text); !status)
        return desk.say(q(status.first().sentence()), true);
    const auto& project = desk.session().project();
    if (field_text(project, field) != value) {
        desk.apply(Edit{std::string("take the ") + field + " " + value, {set_field(project, field, value)}}, done);
        return;
    }
    desk.reread(&desk, [&desk, done](const Rereading& reading) {
        if (desk.accept(reading, {}, {})) done();
    });
}

void take_part(Desk& desk, const Part& part, const std::function<void()>& done) {
    const auto own = file_of(desk, part.name);
    const bool there = real_disk().exists(own);
    const auto write_own = [&desk, own, part, there, done] {
        take_file(desk, own, write_part(part), there, "part", part.codes, done);
    };
    const auto& current = desk.session().world().part;
    const auto of_current = current.name.empty() ? std::string() : file_of(desk, current.name);
    std::vector<Message> notes;
    auto joined = !of_current.empty() && real_disk().exists(of_current) ? table::join_parts(current, part, notes)
                                                                        : Result<Part>(Message{});
    if (joined) {
        const auto code = desk.session().project().part;
        Desk::Question question{
            QObject::tr(
                "The part in use, %1, has the same pins. Both can be joined: what this source knows is added to it.")
                .arg(q(current.name)),
            QObject::tr("Join them"), [&desk, of_current, code, whole = joined.value(), done] {
                take_file(desk, of_current, write_part(whole), true, "part", code, done);
            }};
        question.other_way =
            there ? QObject::tr("Replace %1").arg(q(file_name_of(own))) : QObject::tr("A part of its own");
        question.other_run = write_own;
        return desk.ask(std::move(question));
    }
    if (!there) return write_own();
    desk.ask({QObject::tr("There is a part file %1 in the project's folder already.").arg(q(file_name_of(own))),
              QObject::tr("Replace it"), write_own});
}

}  // namespace kp::app
