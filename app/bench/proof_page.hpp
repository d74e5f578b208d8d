// SPDX-License-Identifier: GPL-3.0-or-later
// Proof: what is given, against what, row by row; records of what was proved, and whether they still hold.
#pragma once

#include "app/bench/design_digest.hpp"
#include "app/shell/desk.hpp"
#include "core/model/proof_notes.hpp"
#include "core/verification/prove_project.hpp"

#include <QTimer>
#include <QWidget>
#include <atomic>
#include <functional>
#include <memory>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QTreeWidget;

namespace kp::app {

class ProofPage : public QWidget {
    Q_OBJECT
public:
    explicit ProofPage(Desk& desk);
    void refresh();
    /// Proves what is chosen, beside the window.
    void prove();
    /// What the hand did since loading, for "recorded manual inputs".
    void set_doings(std::vector<verification::Doing> doings, board_sim::Time end);
    [[nodiscard]] const std::optional<ProofAnswer>& answer() const { return answer_; }
    [[nodiscard]] bool working() const { return working_; }
    /// Takes the answer away: another design, another board.
    void forget();
    /// Writes down what was proved, into the project.
    void keep();
    /// Whether there is a record that still holds and has no difference, one that does not hold, or none.
    enum class Record : std::uint8_t { nothing, holds, old };
    [[nodiscard]] Record record() const;

signals:
    void proved();

private:
    void lay_out();
    void put_together();
    void connect_all();
    void show_answer();
    void show_outputs();
    QString explained();
    void show_records();
    void swap_pair();
    void rest();
    void choose_given();
    [[nodiscard]] ProofAsk ask();
    Desk& desk_;
    QComboBox *given_, *against_;
    QLineEdit *formula_, *each_, *before_;
    QPushButton *prove_, *swap_, *keep_;
    QLabel *verdict_, *hint_;
    QTreeWidget *outputs_, *rows_, *records_;
    std::optional<ProofAnswer> answer_;
    ProofState proved_;  ///< what the answer is of
    std::vector<verification::Doing> doings_;
    board_sim::Time end_ = 0;
    std::string vectors_file_, vectors_text_;
    std::pair<std::string, std::string> swapped_;
    mutable DesignDigest digest_;
    bool working_ = false;
    std::shared_ptr<std::atomic<bool>> stopped_;  ///< the work of now is to end after its row
    std::function<void()> tell_;                  ///< how far it is
    QTimer progress_;
};

}  // namespace kp::app
