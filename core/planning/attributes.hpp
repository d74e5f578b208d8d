// SPDX-License-Identifier: GPL-3.0-or-later
// What can be chosen for a port, and why: the legal values of each attribute, where the present one comes from, and one
// sentence of what it means.
#pragma once

#include "core/model/board.hpp"
#include "core/model/edit.hpp"
#include "core/model/netlist.hpp"
#include "core/model/part.hpp"
#include "core/model/standards.hpp"

#include <span>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

namespace kp {

struct AttributeKind {
    const char* key;    ///< as in pin sheets: "standard", "drive" …
    const char* label;  ///< as people say: "I/O standard"
    const char* meaning;
    const char* unit;  ///< behind a value, may be empty
    std::string PortAttributes::*field;
    bool free_text;  ///< any text is legal; otherwise only the values of AttributeState
    bool needed;     ///< of the ports it applies to; then nothing chosen is "missing"
};
/// What a pad is set to, in the order in which it is decided.
[[nodiscard]] std::span<const AttributeKind> attribute_kinds();
/// What is meant with a port: role, sense, open on purpose, tie.
[[nodiscard]] std::span<const AttributeKind> intent_kinds();
/// Null when no attribute has this key.
[[nodiscard]] const AttributeKind* attribute_kind(std::string_view key);

enum class AttributeOrigin { none_chosen, chosen, board, missing, not_needed };
/// "not needed", as people read it.
[[nodiscard]] const char* word_of(AttributeOrigin origin);

struct AttributeState {
    std::string value;
    AttributeOrigin origin = AttributeOrigin::none_chosen;
    std::vector<std::string> legal;  ///< besides the empty one, which takes a choice back
    std::string remark;              ///< what part and board say to it, such as that the board has a pull of its own
    [[nodiscard]] bool applies() const { return origin != AttributeOrigin::not_needed; }
};

/// What attributes are judged by; all of it outlives the value.
struct AttributeInput {
    const Part& part;
    const Board& board;
    const StandardTable& standards;
    const std::vector<Port>& ports;
    const Project& project;

    AttributeInput(const Part& part, const Board& board, const StandardTable& standards, const std::vector<Port>& ports,
                   const Project& project);
    /// Null when the design has no such port.
    [[nodiscard]] const Port* port(const std::string& name) const;

private:
    std::unordered_map<std::string_view, const Port*> by_name_;
};

/// The state of one attribute of one port; `with_legal`: what is legal costs most and is not always asked for. An
/// unknown port has nothing that applies.
[[nodiscard]] AttributeState attribute_state(const AttributeInput& input, const std::string& port,
                                             const AttributeKind& kind, bool with_legal = true);
/// Legal for all of these ports; several have no common partner.
[[nodiscard]] std::vector<std::string> legal_for_all(const AttributeInput& input, const std::vector<std::string>& ports,
                                                     const AttributeKind& kind);

/// Sets one attribute of several ports, in one edit; an empty value takes the choice back. Errors: a value that is not
/// legal for one of them, with those that are.
[[nodiscard]] Result<Edit> attribute_edit(const AttributeInput& input, const std::vector<std::string>& ports,
                                          const AttributeKind& kind, const std::string& value);
/// Gives others what was chosen for `from`, as far as it is legal for each; partner and note stay their own.
struct CopiedAttributes {
    Edit edit;
    std::vector<std::string> left_out;  ///< "drive of rose[0]": not legal there
};
[[nodiscard]] CopiedAttributes copy_attributes(const AttributeInput& input, const std::string& from,
                                               const std::vector<std::string>& to);

}  // namespace kp
