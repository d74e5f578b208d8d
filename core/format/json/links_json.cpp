// SPDX-License-Identifier: GPL-3.0-or-later
// One function for one link; what is wrong is remembered with its line by JsonText, so that all of it is told.
#include "core/format/json/links_json.hpp"

#include "core/format/json/json_text.hpp"
#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <set>

namespace kp {

namespace {

using State = LaneLink::State;

void read_place(JsonText& j, const std::string& at, LaneLink& i) {
    for (const auto& [key, state] : {std::pair{"pegged", State::pegged}, std::pair{"loose", State::loose}}) {
        if (!j.has(at, key)) continue;
        const auto place = at + "/" + key;
        i.at = j.texts(place, "lanes");
        i.state = j.flag(place, "off", false) ? State::off : state;
        if (static_cast<int>(i.at.size()) != i.lanes)
            j.wrong(place,
                    said("The link {} asks for {} and names {}.", i.name, counted(i.lanes, "lane"), i.at.size()));
        return;
    }
}

LaneLink read_one(JsonText& j, const std::string& at) {
    LaneLink i;
    i.name = j.text(at, "name");
    i.protocol = j.text(at, "protocol");
    i.lanes = j.whole(at, "lanes");
    i.gbps = j.number(at, "gbps");
    i.clock_mhz = j.number(at, "clock_mhz");
    if (i.name.empty() || (i.name + i.protocol).find_first_of("\t\n\r") != std::string::npos)
        j.wrong(at, "A link has a name, without tabs and line ends.");
    if (i.lanes < 1 || i.lanes > 1000) j.wrong(at, "A link asks for 1 to 1000 lanes.");
    if (!(i.gbps > 0) || !(i.clock_mhz > 0)) j.wrong(at, "Rate and reference clock are above 0.");
    read_place(j, at, i);
    for (const auto& lane : i.at)
        if (lane.find_first_of("\t\n\r ") != std::string::npos) j.wrong(at, "A lane has a name without blanks.");
    return i;
}

}  // namespace

std::vector<LaneLink> read_links(JsonText& j) {
    std::vector<LaneLink> out;
    std::set<std::string> names;
    for (size_t k = 0, n = j.count("", "links", false); k < n; ++k) {
        const auto at = slot("/links", k);
        out.push_back(read_one(j, at));
        if (!names.insert(out.back().name).second)
            j.wrong(at, said("Two links have the name {}; give each its own.", out.back().name));
    }
    return out;
}

Json links_json(const std::vector<LaneLink>& list) {
    Json out = Json::array();
    for (const auto& i : list) {
        Json row{{"name", i.name},
                 {"protocol", i.protocol},
                 {"lanes", i.lanes},
                 {"gbps", i.gbps},
                 {"clock_mhz", i.clock_mhz}};
        if (i.state == State::loose) row["loose"] = {{"lanes", i.at}};
        if (i.state == State::pegged) row["pegged"] = {{"lanes", i.at}};
        if (i.state == State::off) row["pegged"] = {{"lanes", i.at}, {"off", true}};
        out.push_back(std::move(row));
    }
    return out;
}

Result<std::vector<LaneLink>> read_ask(std::string_view text, const std::string& file) {
    auto parsed = JsonText::parse(text, file, "links", 1);
    if (!parsed) return parsed.messages();
    auto& j = parsed.value();
    auto out = read_links(j);
    if (!j.has("", "links")) j.wrong("", "The file lists no \"links\".");
    if (!j.errors().empty()) return j.errors();
    return out;
}

}  // namespace kp
