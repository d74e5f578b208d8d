// SPDX-License-Identifier: GPL-3.0-or-later
// What an edit or an analysis changed, so that a page shows anew only what it depends on.
#pragma once

#include "core/model/edit.hpp"

namespace kp::app {

struct News {
    enum What : unsigned {
        plan = 1,  ///< pegs and attributes
        text = 2,  ///< constraint files, their text and their list
        waivers = 4,
        settings = 8,   ///< configuration mode and the like
        inputs = 16,    ///< part, board, design: the world is another one
        analysis = 32,  ///< constraints, timing and design facts are of the present state again
        findings = 64,
        document = 128,  ///< saved or not, at risk or not, undo and redo
        all = 255,
    };
    unsigned what = all;
    unsigned long long revision = 0;  ///< of the session
    [[nodiscard]] bool any(unsigned of) const { return (what & of) != 0; }
};

/// What an edit changes by itself; what follows from it later is told later.
[[nodiscard]] inline unsigned news_of(const Edit& edit) {
    const auto t = touched(edit);
    if (t.inputs) return News::all;
    unsigned out = News::document | News::findings;
    if (t.pegs) out |= News::plan;
    if (t.text) out |= News::text;
    if (t.waivers) out |= News::waivers;
    if (t.settings) out |= News::settings;
    return out;
}

}  // namespace kp::app
