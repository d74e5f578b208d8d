// SPDX-License-Identifier: GPL-3.0-or-later
// Lines are made anew from board, part and project at every call; nothing is kept.
#include "core/planning/before_power.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <map>

namespace kp {

std::vector<std::string> before_power(const Board& board, const Part& part, const Project& project) {
    std::vector<std::string> out;
    std::map<std::string, std::vector<std::string>> banks;  ///< by volts
    for (const auto& rail : board.rails) banks[fixed(rail.volts, 2)].push_back(rail.bank);
    for (const auto& [volts, names] : banks) {
        std::string list;
        for (const auto& name : names) list += (list.empty() ? "" : ", ") + name;
        out.push_back(said("Supply {} V measured at bank{}{}", volts, (names.size() > 1 ? "s " : " "), list));
    }
    std::string straps;
    for (const auto& strap : board.straps)
        straps += (straps.empty() ? "" : ", ") + strap.pin + " " + (strap.level ? "high" : "low");
    const auto& mode = project.mode.empty() ? board.mode : project.mode;
    if (!straps.empty())
        out.push_back(
            said("Jumpers as the mode{} wants them: {}", (mode.empty() ? std::string() : " '" + mode + "'"), straps));
    for (const auto& module : project.modules) out.push_back("Module plugged the right way round: " + module);
    out.push_back(said("Unused pins {}, and nothing on the board minds",
                       (project.unused_pins.empty() ? "float" : project.unused_pins)));
    out.push_back(said("Loading is {}, start-up clock {}",
                       (project.load.empty() ? "not decided: stored or volatile" : project.load),
                       (project.start_clock.empty() ? "that of the mode" : project.start_clock)));
    size_t outputs_low = 0;
    for (const auto& [port, a] : project.attributes) outputs_low += a.sense == "low";
    if (outputs_low)
        out.push_back(
            said("Polarity compared with the board: {} active low", counted(outputs_low, "port is", "ports are")));
    if (part.idcode) {
        char code[16];
        std::snprintf(code, sizeof code, "0x%08X", part.idcode);
        out.push_back(said("The chip on the board is {} (IDCODE {})", project.part, code));
    }
    return out;
}

}  // namespace kp
