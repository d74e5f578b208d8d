// SPDX-License-Identifier: GPL-3.0-or-later
// The stand-in builder: stages as they stand, the runs beside each other, and the die. Each run keeps its results in a
// folder that names it.
#pragma once

#include "app/log/die_view.hpp"
#include "app/shell/desk.hpp"
#include "core/session/jobs.hpp"

#include <QWidget>
#include <array>
#include <optional>

class QCheckBox;
class QComboBox;
class QLabel;
class QProgressBar;
class QPushButton;
class QSpinBox;
class QTabWidget;
class QTreeWidget;
class QTreeWidgetItem;

namespace kp::app {

/// One build, as the page keeps it.
struct BuildRun {
    int number = 0;
    unsigned seed = 1;
    std::string folder;               ///< relative to the project
    build_flow::InputDigests inputs;  ///< digests: source and part, pegs, constraints
    std::shared_ptr<const build_flow::BuildAnswer> answer;
    std::string refused;  ///< why there is no answer
};

class BuildLog;

class BuildPage : public QWidget {
    Q_OBJECT
public:
    explicit BuildPage(Desk& desk);
    ~BuildPage() override;
    void refresh();
    /// Builds with as many seeds as are asked for, one after the other.
    void start();
    void cancel();
    /// The project takes netlist, delays and pins of the run that is chosen.
    void take();
    [[nodiscard]] bool working() const { return working_; }
    [[nodiscard]] const std::vector<BuildRun>& runs() const { return runs_; }

private:
    void lay_out();
    [[nodiscard]] build_flow::BuildRequest request_for(const BuildRun& run) const;
    void connect_all();
    void began(int number, const QString& stage, double done, long long length);
    void say_progress();
    void ended(BuildRun run, bool last);
    void rest();
    void show_run();
    void show_stages(const BuildRun& run);
    void show_verdict(const build_flow::BuildAnswer& answer);
    void show_figures(const build_flow::BuildAnswer& answer);
    void show_messages(const BuildRun& run, const BuildRun* before);
    void go_to_source(const QTreeWidgetItem& item);
    [[nodiscard]] FactSheet lines_around(const std::string& file, int line) const;
    void log_messages(const BuildRun& run);
    [[nodiscard]] const BuildRun* chosen() const;
    /// Why results of a stage no longer hold; empty while they do.
    [[nodiscard]] QString why_old(const BuildRun& run, build_flow::Stage stage) const;

    Desk& desk_;
    QSpinBox *seed_, *seeds_;
    QComboBox *effort_, *copies_, *shade_;
    QCheckBox* hold_;
    QPushButton *build_, *cancel_, *take_;
    QProgressBar* progress_;
    QLabel *says_, *cell_;
    QTreeWidget *list_, *stages_, *figures_, *messages_, *paths_;
    BuildLog* log_;
    QTabWidget* lower_;
    DieView* die_;
    QString now_runs_;  ///< what is built now, in words
    std::vector<BuildRun> runs_;
    build_flow::InputDigests now_;
    bool working_ = false;
    Jobs jobs_;
};

}  // namespace kp::app
