// SPDX-License-Identifier: GPL-3.0-or-later
// The cards of Site: part, board, design.
#pragma once

#include "app/paint/canvas.hpp"
#include "app/shell/desk.hpp"

namespace kp::app {

/// The ordering code taken apart, and what the part offers against what the design uses.
class PartCard : public Canvas {
    Q_OBJECT
public:
    explicit PartCard(Desk& desk) : desk_(desk) {}
    /// A code that is being typed, against the nearest legal one of a grammar; an empty text shows the part again.
    void show_typed(const std::string& code, const std::vector<CodeElement>& grammar,
                    const std::vector<std::string>& existing = {});

signals:
    void code_wanted(const QString& code);

protected:
    void draw(QPainter& p) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    void draw_fields(QPainter& p, const std::vector<DecodedCode::Field>& fields);
    void draw_near_miss(QPainter& p);
    Desk& desk_;
    std::string typed_, nearest_;
    DecodedCode decoded_;
    QRectF take_;
};

/// The board from above, true to position. A click selects a part, a drag moves it on the drawing, and so do the arrow
/// keys with Alt, by a millimetre; Alt+Home puts it back.
class BoardCard : public Canvas {
    Q_OBJECT
public:
    explicit BoardCard(Desk& desk) : desk_(desk) {
        setAccessibleName(tr("The board from above"));
        setFocusPolicy(Qt::StrongFocus);
    }

protected:
    void draw(QPainter& p) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void draw_label(QPainter& p, const QRectF& r, const QString& label, const QString& ref);
    [[nodiscard]] QRectF area() const { return QRectF(rect()).adjusted(16, 38, -16, -16); }
    /// Where a part is drawn, with what the project says of it and the hand that holds it.
    [[nodiscard]] QRectF place(const BoardPart& part) const;
    [[nodiscard]] QPointF held_at(const BoardPart& part) const;
    Desk& desk_;
    std::string held_;   ///< ref of the part that is being dragged
    QPointF from_, by_;  ///< px
};

class AgreementCard : public Canvas {
    Q_OBJECT
public:
    explicit AgreementCard(Desk& desk) : desk_(desk) {}

protected:
    void draw(QPainter& p) override;

private:
    Desk& desk_;
};

}  // namespace kp::app
