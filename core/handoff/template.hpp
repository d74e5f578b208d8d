// SPDX-License-Identifier: GPL-3.0-or-later
// The user's own text files out of the plan: Mustache templates. The fields are listed in docs/templates.md.
#pragma once

#include "core/base/result.hpp"
#include "core/planning/sheet.hpp"

#include <string>

namespace kp {

/// What a template may name: the project, and each port once.
struct TemplateInput {
    std::string project, part, board, revision, top, time;
    int stops = 0;  ///< open ones; a template can say so in its head
    std::vector<SheetRow> rows;
};

/// Renders a template; nothing is escaped, since pin files are not HTML. A template that does not
/// speak of stops gets a remark in front while some are open. Errors: what Mustache says of the template, a
/// template or a result of more than 64 MB.
[[nodiscard]] Result<std::string> render_template(const std::string& text, const std::string& file,
                                                  const TemplateInput& input);

/// The fields a template may name, with what they mean; docs/templates.md lists the same.
struct TemplateField {
    std::string name, meaning;
};
[[nodiscard]] std::vector<TemplateField> template_fields();

/// A remark for the head of a file that is written while stops are open; empty when there are none. `like`: the text it
/// goes before, whose way of starting remarks (#, //, --, ;, %) is taken.
[[nodiscard]] std::string stops_remark(int stops, const std::string& like);

/// The plan as a Markdown table and as an HTML page.
[[nodiscard]] std::string markdown_sheet(const TemplateInput& input);
[[nodiscard]] std::string html_sheet(const TemplateInput& input);

}  // namespace kp
