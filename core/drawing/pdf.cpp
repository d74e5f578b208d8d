// SPDX-License-Identifier: GPL-3.0-or-later
// One pass down the pages: what does not fit any more opens the next one. libharu reports errors by a callback that may
// not return by an exception, so the first is remembered and told at the end.
#include "core/drawing/pdf.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <filesystem>
#include <hpdf.h>

namespace kp {

namespace {

constexpr float page_width = 595, page_height = 842, margin = 48;  // A4
constexpr double column_gap = 6;

struct Trouble {
    HPDF_STATUS first = 0;
};
void remember(HPDF_STATUS error, HPDF_STATUS /*detail*/, void* data) {
    auto* trouble = static_cast<Trouble*>(data);
    if (trouble->first == 0) trouble->first = error;
}

class Writer {
public:
    Writer(const PdfReport& report, const std::string& font) : report_(report) {
        pdf_ = HPDF_New(remember, &trouble_);
        if (!pdf_) return;
        HPDF_SetCompressionMode(pdf_, HPDF_COMP_ALL);
        HPDF_UseUTFEncodings(pdf_);
        const char* name = font.empty() ? nullptr : HPDF_LoadTTFontFromFile(pdf_, font.c_str(), HPDF_TRUE);
        if (name) font_ = HPDF_GetFont(pdf_, name, "UTF-8");
        if (!font_) {
            HPDF_ResetError(pdf_);
            trouble_.first = 0;
            font_ = HPDF_GetFont(pdf_, "Helvetica", "WinAnsiEncoding");
        }
        HPDF_SetInfoAttr(pdf_, HPDF_INFO_TITLE, report.title.c_str());
        HPDF_SetInfoAttr(pdf_, HPDF_INFO_SUBJECT, report.subject.c_str());
        HPDF_SetInfoAttr(pdf_, HPDF_INFO_CREATOR, "Kite Peg");
    }
    ~Writer() {
        if (pdf_) HPDF_Free(pdf_);
    }
    Writer(const Writer&) = delete;
    Writer& operator=(const Writer&) = delete;

    Result<std::string> run() {
        if (!pdf_) return failed("no memory");
        open_page();
        for (size_t i = 0; i < report_.blocks.size(); ++i) {
            // A drawing stays with its heading.
            if (report_.blocks[i].kind == PdfBlock::heading && i + 1 < report_.blocks.size() &&
                report_.blocks[i + 1].kind == PdfBlock::drawing)
                room(heading_height + report_.blocks[i + 1].picture.height * scale_of(report_.blocks[i + 1].picture));
            put(report_.blocks[i]);
        }
        HPDF_SaveToStream(pdf_);
        std::string out;
        HPDF_BYTE bytes[65536];
        for (HPDF_UINT32 size = sizeof bytes; trouble_.first == 0; size = sizeof bytes) {
            const auto status = HPDF_ReadFromStream(pdf_, bytes, &size);
            out.append(reinterpret_cast<const char*>(bytes), size);
            if (status == HPDF_STREAM_EOF || size == 0) break;
            if (status != HPDF_OK) return failed(std::to_string(status));
        }
        if (trouble_.first != 0 && trouble_.first != HPDF_STREAM_EOF) return failed(std::to_string(trouble_.first));
        return out;
    }

private:
    static Message failed(const std::string& why) {
        return {Severity::stop, Code::pdf, said("The report could not be made as PDF (error {} of the library).", why)};
    }

    void open_page() {
        page_ = HPDF_AddPage(pdf_);
        HPDF_Page_SetWidth(page_, page_width);
        HPDF_Page_SetHeight(page_, page_height);
        ++pages_;
        y_ = margin;
        words(margin, page_height - 26, report_.title, 7, inks::second, Drawing::Align::left);
        words(page_width - margin, page_height - 26, std::to_string(pages_), 7, inks::second, Drawing::Align::right);
    }
    /// Room for so much; a new page when there is none left.
    void room(double height) {
        if (y_ + height > page_height - margin) open_page();
    }

    [[nodiscard]] double width_of(const std::string& text, double size) {
        HPDF_Page_SetFontAndSize(page_, font_, static_cast<HPDF_REAL>(size));
        return HPDF_Page_TextWidth(page_, text.c_str());
    }

    void words(double x, double y, const std::string& text, double size, Ink ink, Drawing::Align align) {
        if (text.empty()) return;
        const double w = align == Drawing::Align::left ? 0 : width_of(text, size);
        const double left = align == Drawing::Align::left ? x : align == Drawing::Align::right ? x - w : x - w / 2;
        HPDF_Page_SetRGBFill(page_, static_cast<HPDF_REAL>(ink.r) / 255, static_cast<HPDF_REAL>(ink.g) / 255,
                             static_cast<HPDF_REAL>(ink.b) / 255);
        HPDF_Page_BeginText(page_);
        HPDF_Page_SetFontAndSize(page_, font_, static_cast<HPDF_REAL>(size));
        HPDF_Page_TextOut(page_, static_cast<HPDF_REAL>(left), static_cast<HPDF_REAL>(page_height - y), text.c_str());
        HPDF_Page_EndText(page_);
    }

    /// Words broken into lines of a width; a word that is too long by itself is broken where it has to be.
    std::vector<std::string> lines(const std::string& text, double width, double size) {
        std::vector<std::string> out{""};
        std::string word;
        const auto flush = [&] {
            while (!word.empty()) {
                auto& line = out.back();
                const std::string joined = line.empty() ? word : line + " " + word;
                if (width_of(joined, size) <= width) {
                    line = joined;
                    break;
                }
                if (!line.empty()) {
                    out.emplace_back();
                    continue;
                }
                const size_t fits = fitting(word, width, size);
                line = word.substr(0, fits);
                word.erase(0, fits);
                if (word.empty()) return;
                out.emplace_back();
            }
            word.clear();
        };
        for (const char c : text)
            if (c == ' ' || c == '\n')
                flush();
            else if (static_cast<unsigned char>(c) >= 32)
                word += c;
        flush();
        return out;
    }
    /// Bytes of a word that fit, at least one character, never half of one.
    size_t fitting(const std::string& word, double width, double size) {
        size_t n = word.size();
        while (n > 1 && width_of(word.substr(0, n), size) > width) {
            n = n > 40 ? n * 3 / 4 : n - 1;
            while (n > 1 && (static_cast<unsigned char>(word[n]) & 0xC0) == 0x80) --n;
        }
        return std::max<size_t>(n, 1);
    }

    void put(const PdfBlock& block) {
        switch (block.kind) {
            case PdfBlock::heading:
                room(60);
                y_ += y_ > margin ? 26 : 18;
                words(margin, y_, block.words, 14, inks::ink, Drawing::Align::left);
                y_ += 8;
                return;
            case PdfBlock::paragraph:
                for (const auto& line : lines(block.words, page_width - 2 * margin, 9)) {
                    room(14);
                    y_ += 13;
                    words(margin, y_, line, 9, block.ink, Drawing::Align::left);
                }
                y_ += 4;
                return;
            case PdfBlock::table: return table(block.rows);
            case PdfBlock::drawing: return drawing(block.picture);
        }
    }

    void table(const PdfTable& t) {
        room(46);
        row(t, t.head, inks::second);
        for (const auto& r : t.rows) {
            const double before = y_;
            const double needed = height_of(t, r);
            room(needed);
            if (y_ < before) row(t, t.head, inks::second);
            row(t, r, inks::ink);
        }
    }
    [[nodiscard]] double column(const PdfTable& t, size_t i) const {
        return i < t.shares.size() ? (page_width - 2 * margin) * t.shares[i] : 0;
    }
    double height_of(const PdfTable& t, const std::vector<std::string>& cells) {
        size_t most = 1;
        for (size_t i = 0; i < cells.size(); ++i)
            most = std::max(most, lines(cells[i], column(t, i) - column_gap, 8).size());
        return 11.0 * static_cast<double>(most) + 5;
    }
    void row(const PdfTable& t, const std::vector<std::string>& cells, Ink ink) {
        double x = margin, deepest = 0;
        for (size_t i = 0; i < cells.size() && i < t.shares.size(); ++i) {
            const double w = column(t, i);
            const bool right = i < t.right.size() && t.right[i];
            double y = y_;
            for (const auto& line : lines(cells[i], w - column_gap, 8)) {
                y += 11;
                words(right ? x + w - column_gap : x, y, line, 8, ink,
                      right ? Drawing::Align::right : Drawing::Align::left);
            }
            deepest = std::max(deepest, y);
            x += w;
        }
        y_ = deepest + 3;
        HPDF_Page_SetRGBStroke(page_, 0.84f, 0.81f, 0.75f);
        HPDF_Page_SetLineWidth(page_, 0.5f);
        HPDF_Page_MoveTo(page_, margin, static_cast<HPDF_REAL>(page_height - y_));
        HPDF_Page_LineTo(page_, page_width - margin, static_cast<HPDF_REAL>(page_height - y_));
        HPDF_Page_Stroke(page_);
        y_ += 2;
    }

    static constexpr double heading_height = 60;
    [[nodiscard]] static double scale_of(const Drawing& d) {
        if (d.width <= 0 || d.height <= 0) return 1;
        return std::min((page_width - 2 * margin) / d.width, (page_height - 2 * margin - heading_height) / d.height);
    }
    void drawing(const Drawing& d) {
        if (d.width <= 0 || d.height <= 0) return;
        const double scale = scale_of(d);
        room(d.height * scale + 12);
        y_ += 10;
        for (const auto& s : d.shapes) shape(s, scale);
        y_ += d.height * scale;
    }
    void shape(const Drawing::Shape& s, double scale) {
        if (s.points.empty()) return;
        const auto x = [&](double v) { return static_cast<HPDF_REAL>(margin + v * scale); };
        const auto y = [&](double v) { return static_cast<HPDF_REAL>(page_height - (y_ + v * scale)); };
        if (s.kind == Drawing::Shape::text)
            return words(margin + s.points[0].first * scale, y_ + s.points[0].second * scale, s.words, s.size * scale,
                         s.ink, s.align);
        const auto r = static_cast<HPDF_REAL>(s.ink.r) / 255, g = static_cast<HPDF_REAL>(s.ink.g) / 255,
                   b = static_cast<HPDF_REAL>(s.ink.b) / 255;
        HPDF_Page_SetRGBStroke(page_, r, g, b);
        HPDF_Page_SetRGBFill(page_, r, g, b);
        HPDF_Page_SetLineWidth(page_, static_cast<HPDF_REAL>(s.width * scale));
        HPDF_Page_MoveTo(page_, x(s.points[0].first), y(s.points[0].second));
        for (size_t i = 1; i < s.points.size(); ++i)
            HPDF_Page_LineTo(page_, x(s.points[i].first), y(s.points[i].second));
        if (s.kind == Drawing::Shape::line)
            HPDF_Page_Stroke(page_);
        else if (s.filled)
            HPDF_Page_Fill(page_);
        else
            HPDF_Page_ClosePathStroke(page_);
    }

    const PdfReport& report_;
    Trouble trouble_;
    HPDF_Doc pdf_ = nullptr;
    HPDF_Page page_ = nullptr;
    HPDF_Font font_ = nullptr;
    double y_ = 0;
    int pages_ = 0;
};

}  // namespace

void PdfReport::add_heading(std::string words) {
    blocks.push_back({PdfBlock::heading, std::move(words), inks::ink, {}, {}});
}
void PdfReport::add_paragraph(std::string words, Ink ink) {
    blocks.push_back({PdfBlock::paragraph, std::move(words), ink, {}, {}});
}
void PdfReport::add_table(PdfTable table) {
    blocks.push_back({PdfBlock::table, "", inks::ink, std::move(table), {}});
}
void PdfReport::add_drawing(Drawing drawing) {
    blocks.push_back({PdfBlock::drawing, "", inks::ink, {}, std::move(drawing)});
}

Result<std::string> pdf_of(const PdfReport& report, const std::string& font) {
    return Writer(report, font).run();
}

std::string report_font(const std::string& data_folder) {
    std::error_code error;
    const auto own = data_folder + "/fonts/DejaVuSans.ttf";
    if (std::filesystem::exists(own, error)) return own;
    return std::filesystem::exists(KITE_PEG_REPORT_FONT, error) ? KITE_PEG_REPORT_FONT : "";
}

}  // namespace kp
