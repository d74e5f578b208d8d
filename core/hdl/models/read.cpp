// SPDX-License-Identifier: GPL-3.0-or-later
// Primitives first, then modules, in two passes over the words: a model may use a primitive that stands behind it.
// Words are kept one module at a time but for the primitives; linear in the text.
#include "core/hdl/models/read.hpp"

#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/hdl/header/line_counter.hpp"
#include "core/hdl/models/cell.hpp"
#include "core/hdl/verilog/preprocess.hpp"
#include "core/base/said.hpp"

#include <map>
#include <set>

namespace kp {

namespace {

using namespace models;

constexpr size_t most_words = 4'000'000;  // of one module
constexpr size_t most_errors = 20;

/// ns a unit, of "1ns/10ps" or "100 ps / 1 ps" (IEEE 1364-2005, 19.8).
std::optional<double> unit_of(const std::string& text) {
    if (text.empty()) return 1.0;
    std::string first;
    for (const char c : text.substr(0, text.find('/')))
        if (c != ' ' && c != '\t') first += c;
    static const std::map<std::string, double> units{{"s", 1e9}, {"ms", 1e6},  {"us", 1e3},
                                                     {"ns", 1},  {"ps", 1e-3}, {"fs", 1e-6}};
    const auto letters = first.find_first_not_of("0123456789.");
    if (letters == std::string::npos) return {};
    const auto unit = units.find(first.substr(letters));
    const auto count = to_number(first.substr(0, letters));
    if (unit == units.end() || !count || *count <= 0) return {};
    return *count * unit->second;
}

class Reading {
public:
    explicit Reading(std::span<const SourceText> sources) : sources_(sources) {}

    Result<Library> run() {
        for (const bool modules : {false, true})
            for (const auto& source : sources_) {
                file(source, modules);
                if (errors_.size() >= most_errors) return std::move(errors_);
            }
        if (!errors_.empty()) return std::move(errors_);
        if (!sources_.empty()) library_.file = sources_[0].file;
        library_.name = "models";
        return Result<Library>(std::move(library_), std::move(notes_));
    }

private:
    void fail(const SourceText& source, size_t offset, std::string text) {
        if (errors_.size() >= most_errors) return;
        const auto place = place_of(source.text, offset);
        errors_.push_back({Severity::stop, Code::model, std::move(text), source.file, place.line, place.column});
    }

    void file(const SourceText& given, bool modules) {
        const SourceText source{given.file, without_mark(given.text)};
        LineCounter lines(source.text);
        const PortRequest request;
        std::map<std::string, std::string> macros;
        std::vector<Message> notes, errors;
        verilog::Preprocessor text(source, request, macros, errors, notes);
        while (errors_.size() < most_errors) {
            const auto t = text.next();
            if (t.kind == verilog::Token::end) break;
            if (t.kind == verilog::Token::bad) return fail(source, t.offset, std::string(t.text) + ".");
            const bool module = t.is("module") || t.is("macromodule");
            if (!module && !t.is("primitive")) {
                if (t.kind == verilog::Token::directive || t.is("endmodule") || t.is(';')) continue;
                return fail(source, text.outer_offset(),
                            said("'module' or 'primitive' is expected here, not '{}'.", t.text));
            }
            const size_t begin = text.outer_offset();
            if (!collect(source, text, module ? "endmodule" : "endprimitive", begin)) return;
            if (module == modules) one(source, module, begin, lines, text.timescale());
        }
        if (!modules) return;  // the second pass would say it again
        for (auto& e : errors)
            if (errors_.size() < most_errors) errors_.push_back(std::move(e));
    }

    bool collect(const SourceText& source, verilog::Preprocessor& text, std::string_view end, size_t begin) {
        words_.clear();
        for (;;) {
            const auto t = text.next();
            if (t.is(end)) return true;
            if (t.kind == verilog::Token::end || t.kind == verilog::Token::bad) {
                fail(source, begin, said("'{}' is missing; the file seems to be cut off.", end));
                return false;
            }
            if (words_.size() >= most_words) {
                fail(source, begin, "A model of more than 4,000,000 words is not read.");
                return false;
            }
            words_.push_back({t, text.outer_offset()});
        }
    }

    void one(const SourceText& source, bool module, size_t begin, LineCounter& lines, const std::string& timescale) {
        Cursor c(words_);
        if (!module) {
            auto p = read_primitive(c);
            if (c.error()) return fail(source, c.error_offset(), *c.error());
            primitives_.emplace(p.name, std::move(p));
            return;
        }
        const auto unit = unit_of(timescale);
        if (!unit) return fail(source, begin, said("The time scale '{}' is not understood.", timescale));
        auto model = read_model(c, primitives_);
        if (c.error()) return fail(source, c.error_offset(), *c.error());
        const int line = lines.at(begin);
        if (!model.has_code) {
            notes_.push_back({Severity::note, Code::model,
                              said("Module {} holds only instances; it is not a cell and is set aside.", model.name),
                              source.file, line});
            return;
        }
        auto cell = cell_of(model, *unit);
        if (!cell) return fail(source, begin, cell.first().text);
        cell.value().line = line;
        if (!library_.by_name.try_emplace(model.name, library_.cells.size()).second)
            return fail(source, begin, said("The cell {} is defined twice.", model.name));
        library_.cells.push_back(cell.take());
    }

    std::span<const SourceText> sources_;
    Primitives primitives_;
    Library library_;
    std::vector<Word> words_;
    std::vector<Message> errors_, notes_;
};

}  // namespace

Result<Library> read_models(std::span<const SourceText> sources) {
    return Reading(sources).run();
}

}  // namespace kp
