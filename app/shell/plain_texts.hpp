// SPDX-License-Identifier: GPL-3.0-or-later
// Names and sentences out of files are shown as the texts they are: Qt would take "<img src=…>" in a label or a tool
// tip for markup.
#pragma once

#include <QAbstractItemView>
#include <QHelpEvent>
#include <QLabel>
#include <QObject>
#include <QTextDocument>
#include <QToolTip>

namespace kp::app {

/// Installed on the application: every label is plain text unless it says itself what it is, and so is every tool tip.
class PlainTexts : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;

protected:
    bool eventFilter(QObject* watched, QEvent* event) override {
        if (event->type() == QEvent::Polish) {
            if (auto* label = qobject_cast<QLabel*>(watched); label && label->textFormat() == Qt::AutoText)
                label->setTextFormat(Qt::PlainText);
        } else if (event->type() == QEvent::ToolTip) {
            auto* widget = qobject_cast<QWidget*>(watched);
            const auto* help = static_cast<QHelpEvent*>(event);
            auto* view = widget ? qobject_cast<QAbstractItemView*>(widget->parentWidget()) : nullptr;
            const bool item = view && view->viewport() == widget;
            const auto tip = item     ? view->indexAt(help->pos()).data(Qt::ToolTipRole).toString()
                             : widget ? widget->toolTip()
                                      : QString();
            if (!Qt::mightBeRichText(tip)) return false;
            QToolTip::showText(
                help->globalPos(),
                QStringLiteral("<p style='white-space:pre-wrap'>") + tip.toHtmlEscaped() + QStringLiteral("</p>"),
                widget);
            return true;
        }
        return false;
    }
};

}  // namespace kp::app
