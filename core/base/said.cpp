// SPDX-License-Identifier: GPL-3.0-or-later
// libfmt is called from here alone: its templates, in each file that says something, would cost more to compile than
// they save.
#include "core/base/said.hpp"

#include <fmt/args.h>

namespace kp {

std::string said_of(std::string_view wording, std::span<const SaidValue> values) {
    fmt::dynamic_format_arg_store<fmt::format_context> store;
    store.reserve(values.size(), 0);
    for (const auto& value : values)
        if (!value.digits_)
            store.push_back(fmt::string_view(value.text_.data(), value.text_.size()));
        else if (value.negative_)
            store.push_back(static_cast<long long>(value.number_));
        else
            store.push_back(value.number_);
    return fmt::vformat(fmt::string_view(wording.data(), wording.size()), store);
}

}  // namespace kp
