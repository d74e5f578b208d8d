// SPDX-License-Identifier: GPL-3.0-or-later
// What would close the path that is shown, each change with all it brings; and the few that close most.
#pragma once

#include "app/shell/desk.hpp"
#include "core/closing/cures.hpp"

#include <QWidget>
#include <optional>
#include <vector>

class QLabel;
class QPushButton;
class QTreeWidget;

namespace kp::app {

class CurePage : public QWidget {
    Q_OBJECT
public:
    explicit CurePage(Desk& desk);
    /// Of a path; null: none is shown. Works while the page is seen only.
    void show_path(const TimingPath* path);
    void find_few();
    /// Takes the change of the current row, or all steps of the few.
    void take();

protected:
    void showEvent(QShowEvent* event) override;

private:
    struct Tried {
        Cure cure;
        std::optional<CureEffect> effect;
    };
    void ask();
    void list_cures(const std::vector<Tried>& tried);
    void list_few(const Closing& closing);
    void say_current();
    Desk& desk_;
    std::optional<TimingPath> path_;
    bool asked_ = false, few_shown_ = false;
    std::vector<Tried> tried_;
    Closing few_;
    QTreeWidget* list_;
    QLabel* says_;
    QPushButton *take_, *few_button_;
};

/// "closes it, 12 others better; brings D04": an effect in words.
[[nodiscard]] QString words_of(const CureEffect& effect);

}  // namespace kp::app
