// SPDX-License-Identifier: GPL-3.0-or-later
// Tables; the only place of the program where former names stand.
#include "core/model/former_names.hpp"

namespace kp {

namespace {

constexpr FormerName project_keys[] = {{"interfaces", "links"}, {"target", "receives"}};
constexpr FormerName part_keys[] = {{"byte_group", "strobe_group"},
                                    {"tiles", "lane_blocks"},
                                    {"channels", "crossings"},
                                    {"channels_per_lane", "crossings_per_lane"}};
constexpr FormerName links_keys[] = {{"interfaces", "links"}};

constexpr FormerName cells[] = {
    {"SK_LOOK1", "SK_TABLE_1"},
    {"SK_LOOK2", "SK_TABLE_2"},
    {"SK_LOOK3", "SK_TABLE_3"},
    {"SK_LOOK4", "SK_TABLE_4"},
    {"SK_CARRY", "SK_SUM"},
    {"SK_CARRY_N", "SK_DIFFERENCE"},
    {"SK_REG", "SK_REGISTER"},
    {"SK_REG_E", "SK_REGISTER_ENABLE"},
    {"SK_REG_C", "SK_REGISTER_CLEAR"},
    {"SK_REG_EC", "SK_REGISTER_ENABLE_CLEAR"},
    {"SK_REG_P", "SK_REGISTER_PRESET"},
    {"SK_REG_EP", "SK_REGISTER_ENABLE_PRESET"},
    {"SK_REG_N", "SK_REGISTER_FALL"},
    {"SK_REG_NE", "SK_REGISTER_FALL_ENABLE"},
    {"SK_REG_NC", "SK_REGISTER_FALL_CLEAR"},
    {"SK_REG_NEC", "SK_REGISTER_FALL_ENABLE_CLEAR"},
    {"SK_REG_NP", "SK_REGISTER_FALL_PRESET"},
    {"SK_REG_NEP", "SK_REGISTER_FALL_ENABLE_PRESET"},
    {"SK_PAD_IN", "SK_PAD_INPUT"},
    {"SK_PAD_OUT", "SK_PAD_OUTPUT"},
    {"SK_PAD_TWO", "SK_PAD_TWO_WAY"},
    {"SK_PAIR_IN", "SK_PAIR_INPUT"},
    {"SK_PAIR_OUT", "SK_PAIR_OUTPUT"},
};

constexpr FormerName packages[] = {
    {"SKR12-Q144", "SKR11-Q144"}, {"SKR24-B256", "SKR23-B256"}, {"SKR45L-B484", "SKR44L-B529"}};
constexpr FormerName speeds[] = {{"-1", "-L"}, {"-2", "-M"}, {"-3", "-H"}};
constexpr FormerName ranges[] = {{"C", "N"}, {"I", "W"}};

/// Takes the first of `names` that `rest` begins with over to `out`; false when none is there.
bool take(std::span<const FormerName> names, std::string_view& rest, std::string& out) {
    for (const auto& [former, now] : names)
        if (rest.starts_with(former)) {
            out += now;
            rest.remove_prefix(former.size());
            return true;
        }
    return false;
}

}  // namespace

std::span<const FormerName> former_keys(std::string_view kind) {
    if (kind == "project") return project_keys;
    if (kind == "part") return part_keys;
    if (kind == "links") return links_keys;
    return {};
}

std::span<const FormerName> former_cells() {
    return cells;
}

std::string present_code(const std::string& code) {
    std::string_view rest = code;
    std::string out;
    if (!take(packages, rest, out)) return code;
    if (take(speeds, rest, out)) take(ranges, rest, out);
    return rest.empty() ? out : code;
}

}  // namespace kp
