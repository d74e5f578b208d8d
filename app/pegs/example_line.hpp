// SPDX-License-Identifier: GPL-3.0-or-later
// One line of a text whose words can be marked: by a click and a menu, or by arrow keys and a letter.
#pragma once

#include "app/paint/canvas.hpp"
#include "core/format/lines/pattern.hpp"

#include <optional>
#include <utility>
#include <vector>

namespace kp::app {

class ExampleLine : public Canvas {
    Q_OBJECT
public:
    explicit ExampleLine(QWidget* parent = nullptr);
    void show_shape(const lines::Shape& shape);
    [[nodiscard]] const lines::Shape& shape() const { return shape_; }
    /// Marks the word at a byte of the line; an empty field takes a mark away. One field stands once, but for "value".
    void mark(size_t place, const QString& field);
    /// Words of a field as people read them, and the key that marks one.
    static std::vector<std::pair<QString, QString>> fields();

signals:
    void changed();

protected:
    void draw(QPainter& p) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    struct Word {
        size_t first, length;
    };
    [[nodiscard]] std::vector<Word> words_of() const;
    [[nodiscard]] QRectF box(const Word& word) const;
    void ask(const Word& word, const QPoint& at);
    void go(int by);
    lines::Shape shape_;
    size_t current_ = 0;  ///< position among the words
    double left_ = 0;     ///< how far the line is pushed to the left
};

}  // namespace kp::app
