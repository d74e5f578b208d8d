// SPDX-License-Identifier: GPL-3.0-or-later
// Where everything in the loom lies: a value made from the session, without painter or widget.
#pragma once

#include "app/pegs/plan_view.hpp"
#include "core/planning/ways.hpp"

#include <QObject>
#include <QRectF>
#include <QString>
#include <optional>
#include <string>
#include <unordered_map>
#include <unordered_set>
#include <vector>

namespace kp::app {

struct LoomLayout {
    struct PortRow {
        std::string port;
        QRectF rect;
        Direction direction = Direction::in;
        std::string standard, pin;
        int state = 2;     ///< 0 pegged, 1 loose, 2 adrift
        int pin_box = -1;  ///< position in `pins`
    };
    struct Heading {
        QString text;
        std::string bus;  ///< empty over single ports
        QRectF rect;
    };
    struct PinBox {
        std::string pin;
        QRectF rect;
        int bank = 0;
        int terminal = -1;  ///< position in `terminals`
        bool used = false;
    };
    struct BankBox {
        std::string bank;
        QRectF rect;
        int position = 0, used = 0, usable = 0;
        double volts = 0;
    };
    struct TerminalRow {
        std::string terminal, pin;
        QString name;
        QRectF rect;
        bool active_low = false;
        int pin_box = -1;
    };
    struct PartBox {
        std::string ref;
        QString title;
        QRectF rect;
    };
    std::vector<PortRow> ports;
    std::vector<Heading> headings;
    std::vector<PinBox> pins;
    std::vector<BankBox> banks;
    std::vector<TerminalRow> terminals;
    std::vector<PartBox> parts;
    double height = 0;

    /// `filter` keeps ports, pins and terminals whose name contains it; all when empty; "part:REF" keeps one board part
    /// with the ports that belong to it. Columns are in order: pins beside the terminals they are wired to, ports
    /// beside the pin where their name belongs, each at the mean height of what it leads to (barycentres, Sugiyama,
    /// Tagawa and Toda 1981). Names and board decide, not pegs, so an edit moves no row and a wrong peg sticks out.
    LoomLayout(const Session& session, double width, const std::string& filter);
    LoomLayout() = default;

    [[nodiscard]] const PortRow* port_at(const QPointF& at) const;
    [[nodiscard]] const PinBox* pin_at(const QPointF& at) const;
    [[nodiscard]] const TerminalRow* terminal_at(const QPointF& at) const;
    [[nodiscard]] const Heading* heading_at(const QPointF& at) const;
    [[nodiscard]] const PinBox* pin(const std::string& name) const;
    [[nodiscard]] const PortRow* port(const std::string& name) const;
    /// What lies under a point for something that is dropped there.
    [[nodiscard]] std::optional<DropTarget> target_at(const QPointF& at) const;

private:
    std::unordered_map<std::string, size_t> pin_at_, port_at_;
    void make_room(const Session& session);
    void measure();
    std::unordered_map<std::string, double> room_;  ///< by board part: height that its pins and ports take
    /// Pins of one bank that one board part is wired to.
    struct Piece {
        int bank = -1;
        std::vector<const Pin*> pins;
        double top = 1e9;  ///< height of the first terminal
    };
    struct Group {
        QString title;
        std::string key, bus;
        std::vector<const Port*> ports;
        double sum = 0;  ///< of the heights of the pins where its ports belong, and how many are known
        int known = 0;
    };
    [[nodiscard]] std::vector<Piece> pieces_of(const Session& session) const;
    [[nodiscard]] std::vector<Group> groups_of(const Session& session, const std::string& filter) const;
    [[nodiscard]] double height_of(const std::string& pin) const;
    std::unordered_map<std::string, double> terminal_y_;  ///< by pin: where its terminal lies
    std::unordered_map<std::string, std::string> home_;   ///< by port: the pin where its name belongs
    std::string only_;                                    ///< the board part that is kept alone; empty: all
    double lay_ports(const Session& session, double left, double width, const std::string& filter);
    double lay_banks(const Session& session, double left, double width);
    double lay_parts(const Session& session, double left, double width, const std::string& filter);
};

}  // namespace kp::app
