// SPDX-License-Identifier: GPL-3.0-or-later
// Places for the rest: what is proposed, ticked row by row; or why there is none, and what each way out would bring.
// For one port: every place with what speaks against it.
#pragma once

#include "app/shell/desk.hpp"
#include "core/pin_placement/place_rest.hpp"

#include <QWidget>
#include <optional>
#include <set>

class QLabel;
class QPushButton;
class QTreeWidget;

namespace kp::app {

class PlacePage : public QWidget {
    Q_OBJECT
public:
    explicit PlacePage(Desk& desk);
    void refresh();
    /// Asks for places for ports; for all that are adrift or loose when empty.
    void ask(std::set<std::string> ports = {}, std::set<std::string> relax = {});
    /// Takes the rows that are ticked, as loose pegs.
    void take();
    /// Every place of the selected port, by what speaks against it.
    void why_not();

private:
    struct Asked {
        Result<PlaceAnswer> answer{PlaceAnswer{}};
        std::vector<std::pair<std::string, PlaceAnswer>> ways;  ///< on conflict: each fact left out
    };
    void show_answer(const Asked& asked);
    void show_places(const PlaceAnswer& answer);
    void show_conflict(const Asked& asked);
    void tick_all(bool on);
    void connect_all();
    Desk& desk_;
    std::set<std::string> ports_, relax_;
    std::optional<PlaceAnswer> answer_;
    unsigned long long revision_ = 0;
    QTreeWidget* list_;
    QLabel* says_;
    QPushButton *ask_, *some_, *take_, *all_, *none_, *bank_, *why_, *without_;
    bool working_ = false;
};

}  // namespace kp::app
