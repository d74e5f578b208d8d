// SPDX-License-Identifier: GPL-3.0-or-later
// Site: the part, the board, the design and the files, and what of it does not agree.
#pragma once

#include "app/shell/station.hpp"

class QLineEdit;

namespace kp::app {

class PartCard;
class BoardCard;
class AgreementCard;
class FilesCard;

class SiteStation : public Station {
    Q_OBJECT
public:
    SiteStation(Desk& desk, QWidget* parent);
    void refresh() override;
    [[nodiscard]] KnotState standing() const override;
    [[nodiscard]] QString status() const override;

private:
    PartCard* part_;
    BoardCard* board_;
    AgreementCard* agreement_;
    FilesCard* files_;
    QLineEdit* code_;
};

/// Sentences about what does not agree, the worst first; empty when all does.
struct Disagreement {
    Severity severity;
    QString what, more;
};
[[nodiscard]] std::vector<Disagreement> disagreements(const Session& session);

}  // namespace kp::app
