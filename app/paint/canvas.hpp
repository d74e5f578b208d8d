// SPDX-License-Identifier: GPL-3.0-or-later
// A widget that draws, with one way of putting text down, so that tests can ask whether any of it was cut or collides.
#pragma once

#include "app/theme/theme.hpp"
#include "core/base/result.hpp"

#include <QPainter>
#include <QWidget>
#include <string>
#include <vector>

namespace kp::app {

/// A thing that was drawn, such as a key or a lamp: no two of one canvas may lie over each other.
struct DrawnItem {
    std::string name;
    QRectF rect;
};

/// A text as it was drawn last: where, and whether it fitted.
struct DrawnText {
    QString text;
    QRectF rect;
    bool cut = false;
};

class Canvas : public QWidget {
    Q_OBJECT
public:
    explicit Canvas(QWidget* parent = nullptr) : QWidget(parent) { setMouseTracking(true); }
    [[nodiscard]] const std::vector<DrawnText>& drawn() const { return drawn_; }
    [[nodiscard]] const std::vector<DrawnItem>& items() const { return items_; }

protected:
    virtual void draw(QPainter& p) = 0;
    void paintEvent(QPaintEvent* event) final;

    /// What has to be painted now; the rest may be left.
    [[nodiscard]] const QRectF& dirty() const { return dirty_; }
    /// For who keeps what was drawn and shows it again.
    [[nodiscard]] std::vector<DrawnText>& texts() { return drawn_; }
    /// For who draws elsewhere than on the widget.
    void set_dirty(const QRectF& rect) { dirty_ = rect; }
    /// A sentence in a small sheet beside a point, kept inside the widget.
    void draw_bubble(QPainter& p, const QPointF& beside, const QString& says, const QColor& border);

    /// Draws text into `rect` by alignment. Text that does not fit is shortened with an ellipsis when `may_shorten`
    /// (the caller gives the whole text elsewhere), otherwise remembered as cut.
    void text(QPainter& p, const QRectF& rect, int alignment, const QString& text, const QFont& font,
              const QColor& color, bool may_shorten = false);
    /// Text that starts at a point, as wide as it is. Gives the width.
    double text_at(QPainter& p, const QPointF& left_baseline, const QString& text, const QFont& font,
                   const QColor& color);
    /// Notes that a thing is drawn here, for tests that look for things over each other.
    void item(const QRectF& rect, const std::string& name) { items_.push_back({name, rect}); }
    /// Several lines within a width. Gives the height.
    double paragraph(QPainter& p, const QPointF& top_left, double width, const QString& text, const QFont& font,
                     const QColor& color);

private:
    std::vector<DrawnText> drawn_;
    std::vector<DrawnItem> items_;
    QRectF dirty_;
};

/// Filled square, open diamond, open circle: a stop, a caution, a note.
void draw_severity(QPainter& p, const QPointF& centre, Severity severity, double size = 9);
/// A peg: a solid wedge when pegged, an outlined one when loose, a dashed ring when adrift.
enum class PegMark { pegged, loose, adrift };
void draw_peg(QPainter& p, const QPointF& centre, PegMark mark, const QColor& color);
/// A white sheet with a hairline and slightly round corners.
void draw_sheet(QPainter& p, const QRectF& rect, const QColor& fill, const QColor& border);

}  // namespace kp::app
