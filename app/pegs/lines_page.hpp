// SPDX-License-Identifier: GPL-3.0-or-later
// Learned lines: somebody's text with a line for each pin, read as its user shows by one example; and written back for
// this design.
#pragma once

#include "app/shell/desk.hpp"
#include "core/format/lines/read.hpp"

#include <QTimer>
#include <QWidget>
#include <optional>

class QCheckBox;
class QComboBox;
class QLabel;
class QLayout;
class QLineEdit;
class QPushButton;
class QTableView;
class QTreeWidget;
class QTreeWidgetItem;

namespace kp::app {

class ExampleLine;
class LinesModel;

class LinesPage : public QWidget {
    Q_OBJECT
public:
    explicit LinesPage(Desk& desk);
    /// Shows a text; its first line that is not a remark becomes the example when nothing was learned yet.
    void show_text(const QString& text, const QString& file);
    void use(const lines::Pattern& pattern);
    [[nodiscard]] const lines::Pattern& pattern() const { return pattern_; }
    [[nodiscard]] LinesModel& model() { return *model_; }
    [[nodiscard]] ExampleLine& example() { return *example_; }
    /// The chosen line is one more shape, to be marked.
    void add_shape();
    void forget_shape();
    /// The text as it would be written for the open project.
    [[nodiscard]] std::string rewritten() const;

signals:
    /// The pin sheet that was read, to be compared with the plan.
    void compare(const QString& sheet, const QString& name);
    /// The same as pins that a build gave.
    void compare_build(const QString& sheet, const QString& name);

private:
    QLayout* make_top();
    QLayout* make_shape_bar();
    QLayout* make_foot();
    void connect_all();
    void open();
    void paste();
    void example_changed();
    void show_shape();
    void read_soon();
    void read();
    void say_trouble(const QString& text);
    void took(Result<lines::Reading> reading);
    void show_spellings();
    void spelled(QTreeWidgetItem* item, int column);
    void keep();
    void fill_patterns();
    void write_out();
    void copy_table();

    Desk& desk_;
    lines::Pattern pattern_;
    size_t shape_ = 0;  ///< the one whose example is shown
    QString file_;
    LinesModel* model_;
    ExampleLine* example_;
    QTableView* list_;
    QTreeWidget* spellings_;
    QComboBox *known_, *which_;
    QLineEdit *name_, *comment_, *prefix_;
    QLabel *summary_, *trouble_;
    QPushButton *add_, *forget_, *compare_, *build_, *write_, *table_, *keep_;
    QCheckBox* unused_;
    QTimer soon_;
    bool filling_ = false;
};

}  // namespace kp::app
