// SPDX-License-Identifier: GPL-3.0-or-later
// Take over a folder that exists: what each file is, how the modules hang together, and the project that comes of it;
// nothing is made before it is seen.
#pragma once

#include "app/shell/desk.hpp"
#include "core/inputs/take_over.hpp"

#include <QWidget>
#include <optional>
#include <thread>

class QComboBox;
class QLabel;
class QLayout;
class QLineEdit;
class QPushButton;
class QTreeWidget;
class QTreeWidgetItem;

namespace kp::app {

class FolderPage : public QWidget {
    Q_OBJECT
public:
    explicit FolderPage(Desk& desk);
    ~FolderPage() override;
    /// Looks at a folder on a thread of its own; the page fills when that is done.
    void look(const QString& folder);
    [[nodiscard]] bool looking() const { return looking_; }
    [[nodiscard]] const std::optional<FolderView>& view() const { return view_; }
    /// Takes a file for something else.
    void set_role(const QString& path, const QString& role);
    void make();

signals:
    void done();

private:
    QLayout* make_top();
    QLayout* make_foot();
    void choose();
    void took(Result<FolderView> view);
    void fill_files();
    void fill_tree();
    void add_below(QTreeWidgetItem* item, const std::string& module, int level);
    void preview();
    void add_to_project();
    [[nodiscard]] NewProject wanted() const;

    Desk& desk_;
    QString folder_;
    std::optional<FolderView> view_;
    QTreeWidget *files_, *tree_;
    QComboBox* top_;
    QLineEdit *into_, *name_;
    QLabel *says_, *comes_;
    QPushButton *make_, *add_;
    std::jthread thread_;
    int tickets_ = 0;  ///< of looks that were begun; an answer to an older one is dropped
    size_t shown_ = 0;
    bool looking_ = false, filling_ = false;
};

}  // namespace kp::app
