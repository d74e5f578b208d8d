// SPDX-License-Identifier: GPL-3.0-or-later
// Site: the part, the board, the design and the files, and what of it does not agree. Its other pages: a new project, a
// board from a table, what changed on disk.
#pragma once

#include "app/shell/chooser.hpp"
#include "app/site/board_by_hand.hpp"
#include "app/shell/station.hpp"
#include "core/inputs/new_project.hpp"

#include <vector>

class QLineEdit;
class QPushButton;
class QStackedWidget;

#include <optional>

namespace kp::app {

class PartCard;
class BoardCard;
class AgreementCard;
class FilesCard;
class FolderPage;
class NewPage;
class RereadPage;
class TablePage;

class SiteStation : public Station {
    Q_OBJECT
public:
    SiteStation(Desk& desk, QWidget* parent);
    void refresh() override;
    [[nodiscard]] KnotState standing() const override;
    [[nodiscard]] QString status() const override;
    /// 0 overview, 1 new project, 2 board from a table, 3 what changed on disk, 4 a folder to take over.
    void show_page(int page);
    [[nodiscard]] NewPage& new_page() { return *new_; }
    [[nodiscard]] TablePage& table_page() { return *table_; }
    [[nodiscard]] FolderPage& folder_page() { return *folder_; }

private:
    QWidget* overview();
    void make_actions();
    void take_code(const QString& code);
    void code_typed();
    void pick_code();
    void pick_board();
    void fit_module_action();
    void pick_setting(const std::string& field, const QString& prompt,
                      const std::vector<std::pair<std::string, QString>>& values);
    void make_setting_actions();
    void part_from_bsdl();
    void choose_top(const Edit& edit, const std::vector<std::string>& modules);
    void choose(const QString& prompt, std::vector<Chooser::Item> items);

    QStackedWidget* pages_;
    PartCard* part_;
    BoardCard* board_;
    AgreementCard* agreement_;
    FilesCard* files_;
    NewPage* new_;
    TablePage* table_;
    RereadPage* reread_;
    FolderPage* folder_;
    QLineEdit* code_;
    QPushButton *make_new_, *open_, *take_over_;
    void read_catalogue_soon();
    const Catalogue& catalogue();
    BoardByHand by_hand_;
    std::optional<Catalogue> catalogue_;  ///< none: not read yet
};

/// Sentences about what does not agree, the worst first; empty when all does.
struct Disagreement {
    Severity severity;
    QString what, more;
};
[[nodiscard]] std::vector<Disagreement> disagreements(const Session& session);

}  // namespace kp::app
