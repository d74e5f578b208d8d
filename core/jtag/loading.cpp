// SPDX-License-Identifier: GPL-3.0-or-later
// Each step is one that a person would take at a real cable, in that order; the first that fails ends it.
#include "core/jtag/loading.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cstdio>

namespace kp {

namespace {

/// So many ones in hexadecimal: BYPASS for each device that is passed over.
std::string ones(size_t bits) {
    std::string out(bits / 4, 'F');
    if (bits % 4) out.insert(0, 1, "137"[bits % 4 - 1]);
    return out;
}

}  // namespace

LoadReport load_through(ScanChain& chain, std::uint32_t expected, const std::string& image, Keeping keeping) {
    LoadReport r;
    const auto fail = [&r](std::string step, std::string why) {
        r.steps.push_back({std::move(step), false});
        r.why = std::move(why);
        return r;
    };
    const auto found = scan_idcodes(chain);
    if (found.empty())
        return fail("nothing answers",
                    "Nothing was loaded: only ones come back. Plug the cable in and switch the board on.");
    r.steps.push_back({"cable found", true});
    const auto at = std::find(found.begin(), found.end(), expected);
    r.idcode = at == found.end() ? found.back() : expected;
    r.steps.push_back(
        {found.size() > 1 ? counted(found.size(), "device") + " answer" : "chip answers " + hex(r.idcode), true});
    if (at == found.end())
        return fail("the project's part answers " + hex(expected),
                    "Nothing was loaded: the chip on the cable is not the project's part.");
    r.steps.push_back({"it is the project's part", true});
    std::string svf;
    if (const auto before = static_cast<size_t>(at - found.begin()); before > 0) {
        const auto bits = 6 * before;
        svf = said("HIR {} TDI ({});\nHDR {} TDI (0);\n", bits, ones(bits), before);
    }
    const auto steps = play_svf(svf + write_svf(image, expected), "load.svf", chain);
    const bool good =
        steps && std::all_of(steps.value().begin(), steps.value().end(), [](const SvfStep& s) { return s.ok; });
    const bool lost = chain.fault().kind == CableFault::power;
    if (!good)
        return fail("loading stopped",
                    "Nothing runs: what came back while loading was not what was expected. Load it again.");
    r.steps.push_back({lost                         ? "loaded, then power went"
                       : keeping == Keeping::stored ? "loaded and stored"
                                                    : "loaded, volatile",
                       !lost});
    r.running = chain.chip().loaded();
    if (!r.running)
        return fail(
            "it did not start",
            lost ? "Nothing runs: the chip lost its power while it was loaded, and what is not stored is gone. Load it "
                   "again."
                 : "Nothing runs: the CRC of the image does not agree, bits were lost on the cable. Load it again.");
    r.steps.push_back({"started: done lamp on", true});
    return r;
}

}  // namespace kp
