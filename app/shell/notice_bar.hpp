// SPDX-License-Identifier: GPL-3.0-or-later
// The strip below the tether for what must not be overlooked and waits for a decision: it stays until it is settled,
// takes no input away, and its ways out are buttons that the keyboard reaches.
#pragma once

#include <QFrame>
#include <functional>
#include <vector>

class QHBoxLayout;
class QLabel;

namespace kp::app {

struct Notice {
    enum Kind { question, warning };
    Kind kind = question;
    QString sentence;
    struct Way {
        QString id, name;
        std::function<void()> run;
    };
    std::vector<Way> ways;
};

class NoticeBar : public QFrame {
    Q_OBJECT
public:
    explicit NoticeBar(QWidget* parent = nullptr);
    /// The most urgent first; that one is shown, with a count of the others. None: the strip is not there.
    void show_notices(std::vector<Notice> notices);
    [[nodiscard]] const std::vector<Notice>& notices() const { return notices_; }
    /// Shows itself over the foot of this widget, so that nothing moves under anybody's hand when it comes and goes.
    void lie_on(QWidget* area);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void place();
    QWidget* area_ = nullptr;
    std::vector<Notice> notices_;
    QLabel* text_;
    QHBoxLayout* ways_;
};

}  // namespace kp::app
