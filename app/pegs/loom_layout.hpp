// SPDX-License-Identifier: GPL-3.0-or-later
// Where everything in the loom lies: a value made from the session, without painter or widget.
#pragma once

#include "core/session/session.hpp"

#include <QObject>
#include <QRectF>
#include <QString>
#include <string>
#include <vector>

namespace kp::app {

struct LoomLayout {
    struct PortRow {
        std::string port;
        QRectF rect;
        bool output = false;
    bool both = false;
        std::string standard, pin;
        int state = 2;  ///< 0 pegged, 1 loose, 2 adrift
    };
    struct Heading {
        QString text;
        QRectF rect;
    };
    struct PinBox {
        std::string pin;
        QRectF rect;
        int bank = 0;
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
    };
    struct PartBox {
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

    /// `filter` keeps ports, pins and terminals whose name contains it; all when empty.
    LoomLayout(const Session& session, double width, const std::string& filter);

    [[nodiscard]] const PortRow* port_at(const QPointF& at) const;
    [[nodiscard]] const PinBox* pin_at(const QPointF& at) const;
    [[nodiscard]] const TerminalRow* terminal_at(const QPointF& at) const;
    [[nodiscard]] const PinBox* pin(const std::string& name) const;
};

}  // namespace kp::app
