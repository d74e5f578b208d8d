// SPDX-License-Identifier: GPL-3.0-or-later
// QScintilla with a lexer for Tcl and our words; marks are set from messages by line. The text is the session's:
// what is typed goes into it when it rests.
#include "app/tempo/sdc_editor.hpp"

#include "app/theme/theme.hpp"
#include "core/format/sdc/table.hpp"

#include <Qsci/qsciapis.h>
#include <Qsci/qscilexertcl.h>

namespace kp::app {

namespace {
constexpr int stop_marker = 1, caution_marker = 2;

/// Tcl's lexer with the commands of SDC as a keyword set of their own.
class SdcLexer : public QsciLexerTCL {
public:
    using QsciLexerTCL::QsciLexerTCL;
    const char* keywords(int set) const override {
        static const std::string commands = [] {
            std::string all;
            for (const auto& name : sdc::command_names()) all += name + " ";
            return all;
        }();
        return set == 2 ? commands.c_str() : QsciLexerTCL::keywords(set);
    }
};
}  // namespace

SdcEditor::SdcEditor(QWidget* parent) : QsciScintilla(parent) {
    setUtf8(true);
    setEolMode(QsciScintilla::EolUnix);
    setMarginType(0, QsciScintilla::NumberMargin);
    setMarginWidth(0, QStringLiteral("0000"));
    setMarginType(1, QsciScintilla::SymbolMargin);
    setMarginWidth(1, 16);
    setMarginMarkerMask(1, (1 << stop_marker) | (1 << caution_marker));
    markerDefine(QsciScintilla::SC_MARK_SMALLRECT, stop_marker);
    markerDefine(QsciScintilla::RightTriangle, caution_marker);
    setAutoCompletionSource(QsciScintilla::AcsAPIs);
    setAutoCompletionThreshold(3);
    setAutoCompletionCaseSensitivity(false);
    setTabWidth(4);
    setIndentationsUseTabs(false);
    setCaretLineVisible(true);
    setFolding(QsciScintilla::PlainFoldStyle, 2);
    setFrameShape(QFrame::NoFrame);
    setAccessibleName(tr("Constraint text"));
    setLexer(new SdcLexer(this));
    restyle();
}

/// The editor component sizes fonts in points.
static QFont editor_font(double points) {
    QFont f = mono();
    f.setPointSizeF(points);
    return f;
}

void SdcEditor::restyle() {
    const auto& t = theme();
    auto* l = lexer();
    l->setDefaultPaper(t.bright);
    l->setPaper(t.bright);
    l->setDefaultColor(t.ink);
    l->setColor(t.ink);
    l->setFont(editor_font(10));
    for (const int style :
         {QsciLexerTCL::Comment, QsciLexerTCL::CommentLine, QsciLexerTCL::CommentBlock, QsciLexerTCL::CommentBox}) {
        l->setColor(t.caution, style);
        l->setFont(editor_font(10), style);
    }
    l->setColor(t.select, QsciLexerTCL::TCLKeyword);
    l->setColor(t.select, QsciLexerTCL::TkKeyword);
    l->setColor(t.good, QsciLexerTCL::Number);
    l->setColor(t.bank(1), QsciLexerTCL::Substitution);
    l->setColor(t.bank(1), QsciLexerTCL::SubstitutionBrace);
    setMarginsFont(editor_font(8.5));
    setMarginWidth(0, QStringLiteral("00000"));
    setFoldMarginColors(t.bright, t.bright);
    setMarginsBackgroundColor(t.bright);
    setMarginsForegroundColor(t.second);
    setCaretLineBackgroundColor(t.sheet);
    setCaretForegroundColor(t.ink);
    setSelectionBackgroundColor(t.select_fill);
    setSelectionForegroundColor(t.ink);
    setMarkerBackgroundColor(t.stop, stop_marker);
    setMarkerForegroundColor(t.stop, stop_marker);
    setMarkerBackgroundColor(t.caution, caution_marker);
    setMarkerForegroundColor(t.caution, caution_marker);
}

void SdcEditor::offer(const QStringList& names) {
    delete lexer()->apis();
    auto* apis = new QsciAPIs(lexer());
    for (const auto& row : sdc::commands()) {
        apis->add(QLatin1String(row.name));
        for (const auto& option : row.options) apis->add(QLatin1String(option.name).mid(1));
    }
    for (const auto& name : names) apis->add(name);
    apis->prepare();
}

void SdcEditor::mark(const QString& file, const std::vector<Message>& messages) {
    markerDeleteAll();
    clearAnnotations();
    for (const auto& m : messages) {
        if (QString::fromStdString(m.file) != file || m.line < 1 || m.line > lines()) continue;
        markerAdd(m.line - 1, m.severity == Severity::stop ? stop_marker : caution_marker);
    }
}

}  // namespace kp::app
