// SPDX-License-Identifier: GPL-3.0-or-later
// The grammar of what can be built from, by recursive descent. The first thing that does not fit ends the reading.
#pragma once

#include "core/hdl/source/lex.hpp"

namespace kp::source {

constexpr size_t most_notes = 200;

class Parser {
public:
    Parser(const std::vector<Word>& words, DesignText& code) : words_(words), code_(code) {}
    /// All modules; false with error().
    bool run();
    [[nodiscard]] const Message& error() const { return *error_; }

private:
    // words
    [[nodiscard]] const Word& now() const { return words_[at_]; }
    [[nodiscard]] const Word& ahead(size_t n) const { return words_[std::min(at_ + n, words_.size() - 1)]; }
    [[nodiscard]] bool is(std::string_view text) const { return is(now(), text); }
    [[nodiscard]] static bool is(const Word& w, std::string_view text) {
        return (w.kind == Word::op || (w.kind == Word::name && !w.escaped)) && w.word == text;
    }
    [[nodiscard]] bool bad() const { return error_.has_value(); }
    void next() { at_ += at_ + 1 < words_.size(); }
    [[nodiscard]] static bool is_keyword(std::string_view word);
    bool take(std::string_view text);
    bool expect(std::string_view text, const char* where);
    std::string name(const char* what);
    void fail(std::string text) { fail_at(now().place, std::move(text)); }
    void fail_at(SourcePlace place, std::string text);
    void refuse(const std::string& construct);
    [[nodiscard]] std::string shown() const;
    /// False, with an error, when brackets or statements stand too deep in each other.
    struct Deeper {
        explicit Deeper(Parser& p) : parser(p) {
            if (++p.depth_ > 200) p.fail("What stands here is nested more than 200 deep.");
        }
        ~Deeper() { --parser.depth_; }
        Deeper(const Deeper&) = delete;
        Deeper& operator=(const Deeper&) = delete;
        Parser& parser;
    };

    // expressions
    Expr expression();
    Expr binary(int least);
    Expr unary();
    Expr primary();
    Expr selects(Expr base);
    Expr braces();
    Expr call(std::string name, SourcePlace place);
    Expr target();
    Expr in_brackets(const std::string& word, const char* what);
    std::vector<Expr> labels();

    // declarations
    [[nodiscard]] bool at_type() const;
    bool data_type(DataType& out);
    std::vector<Range> ranges();
    void names_of(Declaration like, std::vector<Declaration>& out, bool in_list);
    std::vector<Declaration> parameter_list();
    Item enumeration(DataType& type);

    // statements
    Statement statement();
    Statement block();
    Statement condition();
    Statement select();
    Statement loop();
    Statement assignment();
    Statement simple_assignment();
    void ignored_task();

    // modules
    void module();
    bool set_aside(const Module& m, size_t first);
    void header(Module& m);
    void ports(Module& m);
    void port_declarations(Module& m);
    bool items(std::vector<Item>& out, std::initializer_list<std::string_view> ends);
    bool item(std::vector<Item>& out);
    bool declaration_item(std::vector<Item>& out);
    void parameter_item(std::vector<Item>& out);
    void net_item(std::vector<Item>& out);
    void assign_item(std::vector<Item>& out);
    void always_item(std::vector<Item>& out);
    void events(Item& always);
    void instances(std::vector<Item>& out);
    std::vector<Connection> connections(Item& of);
    void function(std::vector<Item>& out);
    void type_item(std::vector<Item>& out);
    void generate_loop(std::vector<Item>& out);
    void generate_choice(std::vector<Item>& out);
    void generate_select(std::vector<Item>& out);
    std::string branch(std::vector<Item>& out);

    const std::vector<Word>& words_;
    DesignText& code_;
    Module* module_ = nullptr;
    size_t at_ = 0;
    int depth_ = 0, operators_in_row_ = 0;
    std::optional<Message> error_;
};

/// Reads texts to modules. Errors: syntax and what cannot be built from, each with file, line and the construct.
[[nodiscard]] Result<DesignText> read_code(std::span<const SourceText> texts, const PortRequest& request);

}  // namespace kp::source
