// SPDX-License-Identifier: GPL-3.0-or-later
// Tokens of Verilog text after its compiler directives (IEEE 1800-2017, clause 22): `define with and without arguments,
// `undef, `ifdef, `ifndef, `elsif, `else, `endif, `include. All other directives are passed over to the end of their
// line.
#pragma once

#include "core/base/result.hpp"
#include "core/hdl/header/ports.hpp"
#include "core/hdl/verilog/scan.hpp"

#include <deque>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace kp::verilog {

class Preprocessor {
public:
    Preprocessor(const SourceText& source, const PortRequest& request, std::map<std::string, std::string>& macros,
                 std::vector<Message>& errors, std::vector<Message>& notes);
    /// The next token, `end` at the end of the text; the use of a macro nobody defined stays a `directive`. The text of
    /// a token lives as long as the preprocessor.
    Token next();
    /// Place of the last token: of the outermost macro use or `include for text that comes from one.
    [[nodiscard]] Message here(std::string text) const;
    /// File and line of the last token, or of the macro use it comes from, in the innermost file. Cheap when asked for
    /// every token.
    [[nodiscard]] std::pair<const std::string*, int> place() const;
    /// Offset of the last token in the source itself.
    [[nodiscard]] size_t outer_offset() const { return layers_.size() == 1 ? offset_ : layers_.front().scan.offset(); }
    [[nodiscard]] bool broken() const { return broken_; }
    /// What the last `timescale says, such as "1ns/10ps"; empty before the first one.
    [[nodiscard]] const std::string& timescale() const { return timescale_; }

private:
    struct Layer {
        std::string file;
        std::string_view text;
        Scanner scan;
        bool is_macro;
        std::string macro;
        size_t counted = 0;  ///< up to here lines were counted
        int line = 1;
    };
    bool directive(const Token& t);
    void define(const std::string& line);
    void include(const std::string& line);
    void expand(const std::string& name);
    [[nodiscard]] bool uses_itself(const std::string& name) const;
    void branch(const Token& t, bool when_defined);
    void other_branch(const std::string& name);
    bool arguments(const std::string& name, std::vector<std::string>& out);
    bool skip_to_branch();
    std::string rest_of_line();
    void fail(const std::string& text);

    const PortRequest& request_;
    std::map<std::string, std::string>& macros_;  ///< name → "(args) body" or " body"
    std::vector<Message>&errors_, &notes_;
    mutable std::deque<Layer> layers_;
    std::deque<std::string> owned_;
    struct Branch {
        bool taken;
        size_t offset;
    };
    std::vector<Branch> branches_;
    size_t offset_ = 0, expanded_ = 0;
    bool broken_ = false;
    std::string timescale_;
};

}  // namespace kp::verilog
