// SPDX-License-Identifier: GPL-3.0-or-later
// One table of fields drives every road that a stored value takes. A field is added to a copy of the table and sent
// down all of them.
#include "core/format/json/json_text.hpp"
#include "core/format/json/edit_json.hpp"
#include "core/format/json/project_json.hpp"
#include "core/model/lane_link.hpp"
#include "core/model/world_fields.hpp"
#include "core/session/session.hpp"

#include <gtest/gtest.h>

#include <filesystem>
#include <fstream>
#include <sstream>
#include <unistd.h>

namespace kp {
namespace {

/// The table with one field more, which the struct has no member for.
struct OneFieldMore {
    std::vector<AttributeField> table = [] {
        const auto now = attribute_fields();
        std::vector<AttributeField> out(now.begin(), now.end());
        out.push_back({"tint", nullptr});
        return out;
    }();
    OtherAttributeFields installed{table};
    [[nodiscard]] const AttributeField& tint() const { return table.back(); }
};

struct FieldsFolder {
    std::filesystem::path path = std::filesystem::temp_directory_path() / ("kp_fields_" + std::to_string(::getpid()));
    FieldsFolder() {
        std::filesystem::remove_all(path);
        std::filesystem::copy(KP_SOURCE "/demo/vane", path);
    }
    ~FieldsFolder() { std::filesystem::remove_all(path); }
    [[nodiscard]] std::unique_ptr<Session> open() const {
        return Session::open(real_disk(), (path / "vane.kpeg").string(), KP_SOURCE "/data").take();
    }
    [[nodiscard]] std::string file() const {
        std::ostringstream out;
        out << std::ifstream(path / "vane.kpeg").rdbuf();
        return out.str();
    }
};

TEST(Fields, AFieldMoreSurvivesEveryRoad) {
    const OneFieldMore more;
    const FieldsFolder folder;
    const auto tint_of = [&](const Session& s) { return more.tint().of(s.project().attributes.at("tone")); };
    const auto paint = [&](Session& s, const std::string& colour) {
        const auto before = s.project().attributes.at("tone");
        auto after = before;
        more.tint().set(after, colour);
        ASSERT_TRUE(s.apply({"paint it " + colour, {AttributeChange{"tone", before, after}}}).ok());
        s.analyse_now();
    };
    {
        auto s = folder.open();
        s->analyse_now();
        paint(*s, "red");
        EXPECT_EQ(tint_of(*s), "red");
        // Undo and redo.
        ASSERT_TRUE(s->undo().ok());
        EXPECT_EQ(tint_of(*s), "");
        ASSERT_TRUE(s->redo().ok());
        EXPECT_EQ(tint_of(*s), "red");
        // A crash: the session goes without having saved.
    }
    {
        auto s = folder.open();
        EXPECT_EQ(tint_of(*s), "red") << "journal";
        s->analyse_now();
        ASSERT_TRUE(s->document().save().ok());
        EXPECT_NE(folder.file().find("\"tint\": \"red\""), std::string::npos);
        paint(*s, "blue");
        ASSERT_TRUE(s->document().save().ok());
    }
    auto s = folder.open();
    EXPECT_EQ(tint_of(*s), "blue") << "project file";
    s->analyse_now();
    // The log compares two runs by it, and restores one of them after the project was opened again.
    const auto runs = s->log().runs();
    int red = 0;
    for (const auto& run : runs)
        if (run.title == "paint it red") red = run.number;
    ASSERT_GT(red, 0);
    const auto then = s->log().entry(red), now = s->log().entry(runs.back().number);
    ASSERT_TRUE(then.ok() && now.ok());
    bool told = false;
    for (const auto& d : compare(then.value(), now.value()))
        told |= d.what == "tone, tint" && d.before == "red" && d.after == "blue";
    EXPECT_TRUE(told);
    ASSERT_TRUE(s->apply(restore_edit(s->project(), then.value())).ok());
    EXPECT_EQ(tint_of(*s), "red");
    EXPECT_EQ(s->project().attributes.at("tone").standard, "LVCMOS 3.3 V") << "and all others with it";
}

TEST(Fields, OfTheProjectGoThroughFileAndJournal) {
    Project p;
    int n = 0;
    for (const auto& f : project_fields()) {
        const std::string text =
            f.presence == Presence::apart  // lines of a form of their own
                ? line_of(LaneLink{"up", "raw", 2, 1.25, 125, LaneLink::State::pegged, {"l0", "l1"}})
                : *f.words ? std::string(f.words).substr(0, std::string(f.words).find('|'))
                           : "value" + std::to_string(++n);
        ASSERT_TRUE(apply(p, {"set", {set_field(p, f.key, text)}}).ok()) << f.key;
        EXPECT_EQ(field_text(p, f.key), text) << f.key;
    }
    p.waivers.push_back({"L11", {"a", "b"}, "why", "who", "2026-11-28"});
    p.constraints.push_back({"a.sdc", "", false, true, false, true});
    const auto read = read_project(write_project({p, {}}), "p.kpeg");
    ASSERT_TRUE(read.ok()) << read.first().sentence();
    EXPECT_TRUE(difference_edit(p, read.value().project, "").empty());
    const auto all = difference_edit({}, p, "everything");
    const auto back = edit_from_json(edit_to_json(all));
    ASSERT_TRUE(back.ok());
    Project again;
    ASSERT_TRUE(apply(again, back.value()).ok());
    EXPECT_TRUE(difference_edit(p, again, "").empty());
    // A field that is emptied is emptied in the file too.
    auto file = read_project(write_project({p, {}}), "p.kpeg").take();
    for (const auto& f : project_fields())
        if (f.presence != Presence::required)
            ASSERT_TRUE(apply(file.project, {"", {set_field(file.project, f.key, "")}}).ok());
    const auto emptied = read_project(write_project(file), "p.kpeg").take();
    for (const auto& f : project_fields())
        if (f.presence != Presence::required) EXPECT_EQ(field_text(emptied.project, f.key), "") << f.key;
}

TEST(Fields, AWordThatAFieldDoesNotHaveIsRefusedWithItsLine) {
    const auto read = read_project(R"({"schema": "kitepeg.project/1", "name": "n", "netlists": [], "libraries": [],
"constraints": [],
"load": "perhaps"})",
                                   "p.kpeg");
    ASSERT_FALSE(read.ok());
    EXPECT_EQ(read.first().line, 3);
    EXPECT_EQ(read.first().text, "\"load\" is stored and volatile, not \"perhaps\".");
}

/// The JSON type of what a member points at.
template <class T>
std::string json_type(const Member<T>& member) {
    return std::visit(
        [](auto m) -> std::string {
            using V = std::remove_cvref_t<decltype(std::declval<T>().*m)>;
            if constexpr (std::is_same_v<V, std::string>) return "string";
            if constexpr (std::is_same_v<V, bool>) return "boolean";
            if constexpr (std::is_same_v<V, int>) return "integer";
            if constexpr (std::is_same_v<V, double> || std::is_same_v<V, std::optional<double>>) return "number";
            if constexpr (std::is_same_v<V, std::map<std::string, std::string>>) return "object";
            return "array";
        },
        member);
}

template <class F>
void expect_in_schema(std::span<const F> table, const char* file, const char* place) {
    const auto schema = Json::parse(real_disk().read(std::string(KP_SOURCE "/data/schemas/") + file).value());
    const auto& properties = schema.at(Json::json_pointer(std::string(place) + "/properties"));
    EXPECT_FALSE(table.empty()) << place;
    for (const auto& field : table) {
        ASSERT_TRUE(properties.contains(field.key)) << file << place << " does not know " << field.key;
        const auto& stated = properties.at(field.key);
        if (stated.contains("type") && stated["type"].is_string())
            EXPECT_EQ(stated["type"], json_type(field.member)) << file << place << " " << field.key;
    }
}

// JSON Schema 2020-12: what is written is what the schema that ships says.
TEST(Fields, TheSchemasKnowEveryFieldOfTheTables) {
    expect_in_schema(project_fields(), "project.schema.json", "");
    expect_in_schema(waiver_fields(), "project.schema.json", "/properties/waivers/items");
    expect_in_schema(sdc_file_fields(), "project.schema.json", "/properties/constraints/items");
    expect_in_schema(pin_fields(), "part.schema.json", "/properties/pins/items");
    expect_in_schema(bank_fields(), "part.schema.json", "/properties/banks/items");
    expect_in_schema(region_fields(), "part.schema.json", "/properties/regions/items");
    expect_in_schema(board_part_fields(), "board.schema.json", "/properties/parts/items");
    expect_in_schema(terminal_fields(), "board.schema.json", "/properties/parts/items/properties/terminals/items");
    expect_in_schema(board_net_fields(), "board.schema.json", "/properties/nets/items");
    expect_in_schema(stack_fields(), "board.schema.json", "/properties/stack");
    expect_in_schema(board_fields(), "board.schema.json", "");
    const auto schema =
        Json::parse(real_disk().read(std::string(KP_SOURCE "/data/schemas/project.schema.json")).value());
    for (const auto& field : attribute_fields())
        EXPECT_TRUE(schema.at("/properties/attributes/items/properties"_json_pointer).contains(field.name))
            << field.name;
}

}  // namespace
}  // namespace kp
