// SPDX-License-Identifier: GPL-3.0-or-later
// Colours are named by what they are for, in two tables of the same roles; whoever paints asks for a role.
#include "app/theme/theme.hpp"

#include <QApplication>
#include <QFontDatabase>
#include <QPalette>
#include <QStyleFactory>
#include <iterator>
#include <map>
#include <tuple>

// Resources of a static library are only linked in when somebody asks for them; outside a namespace, as Qt wants it.
static void link_resources() {
    Q_INIT_RESOURCE(fonts);
    Q_INIT_RESOURCE(icons);
}

namespace kp::app {

namespace {

constexpr const char* light_banks[8] = {"#3F6E8C", "#8A5A83", "#5E7F3B", "#B0713A",
                                        "#4C6FB1", "#9A4F4F", "#4F8A86", "#7A6A45"};

Theme light() {
    Theme t;
    t.paper = QColor("#F3F0E8");
    t.sheet = QColor("#FBFAF6");
    t.bright = QColor("#FFFFFF");
    t.hairline = QColor("#D6CFC0");
    t.ink = QColor("#1F2A33");
    t.second = QColor("#5F6A72");
    t.select = QColor("#2F4B8F");
    t.select_fill = QColor("#E3E7F3");
    t.stop = QColor("#C23B22");
    t.caution = QColor("#A86B12");
    t.good = QColor("#2F6B4F");
    t.wash_stop = QColor("#F6DDD6");
    t.wash_good = QColor("#DCE7DF");
    t.wash_caution = QColor("#F1E7D3");
    t.board = QColor("#F7F2E6");
    t.lamp = QColor("#EBB244");
    t.wire = QColor("#DBC9A4");
    t.cell = QColor("#7A93A8");
    t.clock = QColor("#C9CDD1");
    t.pad = QColor("#B0713A");
    for (int i = 0; i < 8; ++i) t.banks[i] = QColor(light_banks[i]);
    return t;
}

Theme dark() {
    Theme t = light();
    t.dark = true;
    t.paper = QColor("#1C2126");
    t.sheet = QColor("#242A30");
    t.bright = QColor("#2A3138");
    t.hairline = QColor("#3A424A");
    t.ink = QColor("#E8E4DA");
    t.second = QColor("#A9B0B3");
    t.select = QColor("#9DB2EA");
    t.select_fill = QColor("#2B3550");
    t.stop = QColor("#F0806A");
    t.caution = QColor("#E0B060");
    t.good = QColor("#86C2A0");
    t.wash_stop = QColor("#4A2A26");
    t.wash_good = QColor("#26392F");
    t.wash_caution = QColor("#3D3525");
    t.board = QColor("#2B302E");
    t.wire = QColor("#6B5F45");
    t.cell = QColor("#4D6478");
    t.clock = QColor("#4A5158");
    t.pad = QColor("#8C5A2E");
    for (auto& bank : t.banks) bank = bank.lighter(140);
    return t;
}

Theme current = light();

QString style(const Theme& t) {
    return QStringLiteral(R"(
QWidget { color: %1; font-family: "Kite Peg Words"; font-size: 13px; }
QMainWindow, #page { background: %2; }
QToolTip { background: %3; color: %1; border: 1px solid %4; padding: 3px; }
QLineEdit, QComboBox, QPlainTextEdit { background: %5; border: 1px solid %4; border-radius: 3px; padding: 3px 6px;
    selection-background-color: %6; selection-color: %1; }
QLineEdit:focus, QComboBox:focus { border-color: %7; }
QComboBox::drop-down { border: none; width: 18px; }
QComboBox QAbstractItemView { background: %5; selection-background-color: %6; selection-color: %1; }
QPushButton { background: %5; border: 1px solid %4; border-radius: 3px; padding: 4px 10px; }
QPushButton:hover, QPushButton:focus { border-color: %7; }
QPushButton:checked, QPushButton[primary="true"] { background: %6; border-color: %7; color: %7; }
QPushButton[small="true"] { padding: 2px 5px; }
QPushButton:disabled { color: %8; background: %3; }
QTabBar::tab { background: transparent; border: none; padding: 5px 12px 4px 12px; color: %8; }
QTabBar::tab:selected { color: %7; border-bottom: 2px solid %7; font-weight: bold; }
QTabBar { qproperty-drawBase: 0; }
QTabWidget::pane { border: none; }
#attributes { background: %3; border-top: 1px solid %4; }
QPlainTextEdit[mono="true"] { font-family: "Kite Peg Mono"; font-size: 12px; }
QTableView { background: %5; gridline-color: %4; border: 1px solid %4; outline: none; selection-background-color: %6;
    selection-color: %1; }
QFrame[card="true"] { background: %5; border: 1px solid %4; border-radius: 3px; }
QLabel[role="heading"] { font-size: 15px; font-weight: bold; }
QLabel[role="second"] { color: %8; font-size: 11.5px; }
QLabel[role="stop"] { color: %9; }
QTreeView, QListWidget, QTableWidget { background: %5; border: none; outline: none; alternate-background-color: %5; }
QTreeView::item, QListWidget::item { padding: 3px 2px; border: none; }
QTreeView::item:selected, QListWidget::item:selected { background: %6; color: %1; }
QHeaderView::section { background: %5; color: %8; border: none; border-bottom: 1px solid %4; padding: 4px 4px;
    font-size: 11.5px; }
QCheckBox::indicator { width: 12px; height: 12px; border: 1px solid %8; border-radius: 2px; background: %5; }
QCheckBox::indicator:checked { image: url(:/icons/tick.svg); }
QCheckBox::indicator:focus, QCheckBox::indicator:hover { border-color: %7; }
QComboBox::down-arrow { image: url(:/icons/down.svg); width: 12px; height: 12px; }
QScrollBar:vertical { background: transparent; width: 9px; margin: 0; }
QScrollBar:horizontal { background: transparent; height: 9px; margin: 0; }
QScrollBar::handle { background: %4; border-radius: 3px; min-height: 24px; min-width: 24px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
QScrollArea { border: none; background: transparent; }
)")
        .arg(t.ink.name(), t.paper.name(), t.sheet.name(), t.hairline.name(), t.bright.name(), t.select_fill.name(),
             t.select.name(), t.second.name(), t.stop.name());
}

}  // namespace

const Theme& theme() {
    return current;
}

void use_theme(bool use_dark) {
    current = use_dark ? dark() : light();
    QPalette p;
    p.setColor(QPalette::Window, current.paper);
    p.setColor(QPalette::Base, current.bright);
    p.setColor(QPalette::AlternateBase, current.sheet);
    p.setColor(QPalette::Text, current.ink);
    p.setColor(QPalette::WindowText, current.ink);
    p.setColor(QPalette::ButtonText, current.ink);
    p.setColor(QPalette::Button, current.bright);
    p.setColor(QPalette::Highlight, current.select_fill);
    p.setColor(QPalette::HighlightedText, current.ink);
    p.setColor(QPalette::PlaceholderText, current.second);
    QApplication::setPalette(p);
    qApp->setStyleSheet(style(current));
}

void load_fonts() {
    link_resources();
    for (const char* file : {"B612-Regular.otf", "B612-Bold.otf", "DejaVuSansMono.ttf", "DejaVuSansMono-Bold.ttf"})
        QFontDatabase::addApplicationFont(QStringLiteral(":/fonts/%1").arg(file));
    QApplication::setStyle(QStyleFactory::create("Fusion"));
    QApplication::setFont(words());
}

namespace {
/// A font that was asked for before knows its glyphs already; a fresh one would look everything up again at each text.
const QFont& make(const QString& family, double px, bool bold) {
    static std::map<std::tuple<QString, int, bool>, QFont> made;
    const int size = static_cast<int>(px + 0.5);
    auto [at, fresh] = made.try_emplace({family, size, bold}, family);
    if (fresh) {
        at->second.setPixelSize(size);
        at->second.setBold(bold);
    }
    return at->second;
}
}  // namespace

QFont words(double px, bool bold) {
    return make(QStringLiteral("Kite Peg Words"), px, bold);
}
QFont mono(double px, bool bold) {
    return make(QStringLiteral("Kite Peg Mono"), px, bold);
}

}  // namespace kp::app
