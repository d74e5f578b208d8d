// SPDX-License-Identifier: GPL-3.0-or-later
// Rows are those of attribute_kinds() and intent_kinds(); what is legal is asked of core/planning. Several ports
// with different values show none. State: none beyond what is being typed.
#include "app/pegs/attribute_pane.hpp"

#include "app/shell/counted.hpp"
#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "core/planning/attributes.hpp"

#include <QComboBox>
#include <QEvent>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QVBoxLayout>
#include <algorithm>
#include <functional>

namespace kp::app {

namespace {
const QString several = QStringLiteral("several");

QString short_label(const char* key) {
    const QLatin1String k(key);
    return k == QLatin1String("pad_register") ? QObject::tr("register")
           : k == QLatin1String("pad_delay")  ? QObject::tr("delay")
                                              : QString(k);
}

/// Calls back when the widget is entered or gets the keys.
class Watch : public QObject {
public:
    Watch(QWidget* on, std::function<void()> run) : QObject(on), run_(std::move(run)) { on->installEventFilter(this); }

protected:
    bool eventFilter(QObject*, QEvent* event) override {
        if (event->type() == QEvent::Enter || event->type() == QEvent::FocusIn) run_();
        if (event->type() == QEvent::Wheel) return true;  // a wheel that passes by chooses nothing
        return false;
    }

private:
    std::function<void()> run_;
};
}  // namespace

AttributePane::AttributePane(Desk& desk) : desk_(desk), title_(new QLabel), sentence_(new QLabel) {
    setObjectName("attributes");
    setAttribute(Qt::WA_StyledBackground);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(12, 8, 4, 6);
    all->setSpacing(4);
    title_->setProperty("role", "second");
    all->addWidget(title_);
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(4);
    grid->setVerticalSpacing(2);
    grid->setColumnStretch(1, 1);
    const auto kinds = attribute_kinds();
    for (size_t i = 0; i < kinds.size(); ++i) {
        Row row{new QLabel(short_label(kinds[i].key)), new QComboBox, new QLabel};
        row.label->setProperty("role", "second");
        row.label->setFixedWidth(72);
        row.label->setToolTip(QLatin1String(kinds[i].label));
        row.value->setObjectName(QStringLiteral("attribute.%1").arg(QLatin1String(kinds[i].key)));
        row.value->setAccessibleName(QLatin1String(kinds[i].label));
        row.value->setEditable(kinds[i].free_text);
        row.value->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        row.value->setMinimumContentsLength(6);
        row.value->setStyleSheet(QStringLiteral("padding: 1px 3px; font-size: 12px;"));
        row.origin->setProperty("role", "second");
        row.origin->setFixedWidth(84);
        row.origin->setStyleSheet(QStringLiteral("font-size: 11px;"));
        grid->addWidget(row.label, static_cast<int>(i), 0);
        grid->addWidget(row.value, static_cast<int>(i), 1);
        grid->addWidget(row.origin, static_cast<int>(i), 2);
        new Watch(row.value, [this, i] { explain(i); });
        if (kinds[i].free_text)
            connect(row.value->lineEdit(), &QLineEdit::editingFinished, this,
                    [this, i] { choose(i, rows_[i].value->currentText()); });
        else
            connect(row.value, &QComboBox::activated, this,
                    [this, i](int at) { choose(i, rows_[i].value->itemData(at).toString()); });
        rows_.push_back(row);
    }
    all->addLayout(grid);
    sentence_->setWordWrap(true);
    sentence_->setProperty("role", "second");
    sentence_->setMinimumHeight(46);
    sentence_->setAlignment(Qt::AlignTop);
    all->addWidget(sentence_);
    connect(&desk_, &Desk::selected, this, &AttributePane::refresh);
    connect(&desk_, &Desk::changed, this, [this](const News& news) {
        if (news.any(News::plan | News::inputs)) refresh();
    });
}

void AttributePane::refresh() {
    if (!desk_.has_session() || !isVisibleTo(window())) return;
    const auto ports = desk_.chosen_ports();
    title_->setText(ports.empty()       ? tr("ATTRIBUTES · select a port")
                    : ports.size() == 1 ? tr("ATTRIBUTES OF %1").arg(q(ports[0]))
                                        : tr("ATTRIBUTES OF %1").arg(counted(static_cast<int>(ports.size()), "port")));
    title_->setText(title_->fontMetrics().elidedText(title_->text(), Qt::ElideRight, 250));
    const auto& input = desk_.session().plan().attributes();
    for (size_t i = 0; i < rows_.size(); ++i) fill(i, input, ports);
    explain(0);
}

void AttributePane::fill(size_t i, const AttributeInput& input, const std::vector<std::string>& ports) {
    filling_ = true;
    const auto& kind = attribute_kinds()[i];
    auto& row = rows_[i];
    row.value->clear();
    row.value->setEnabled(!ports.empty());
    row.origin->clear();
    if (!ports.empty()) {
        const auto first = attribute_state(input, ports[0], kind, false);
        bool same_value = true, same_origin = true, applies = first.applies();
        for (size_t k = 1; k < ports.size(); ++k) {
            const auto state = attribute_state(input, ports[k], kind, false);
            same_value &= state.value == first.value;
            same_origin &= state.origin == first.origin;
            applies |= state.applies();
        }
        const QString unit = *kind.unit ? QStringLiteral(" ") + QLatin1String(kind.unit) : QString();
        if (kind.free_text) {
            row.value->setEditText(same_value ? q(first.value) : several);
        } else {
            row.value->addItem(QStringLiteral("–"), QString());
            for (const auto& v : legal_for_all(input, ports, kind)) row.value->addItem(q(v) + unit, q(v));
            if (!same_value)
                row.value->insertItem(0, several, several);
            else if (!first.value.empty() && row.value->findData(q(first.value)) < 0)
                row.value->addItem(q(first.value) + unit + tr(" (not legal here)"), q(first.value));
            row.value->setCurrentIndex(same_value ? std::max(0, row.value->findData(q(first.value))) : 0);
        }
        row.value->setEnabled(applies || !first.value.empty());
        row.origin->setText(same_origin ? q(word_of(first.origin)) : several);
        const bool missing = same_origin && first.origin == AttributeOrigin::missing;
        row.origin->setStyleSheet(
            missing
                ? QStringLiteral("font-size: 11px; color: %1;").arg((i == 0 ? theme().stop : theme().caution).name())
                : QStringLiteral("font-size: 11px;"));
    }
    filling_ = false;
}

void AttributePane::explain(size_t i) {
    const auto& kind = attribute_kinds()[i];
    const auto ports = desk_.has_session() ? desk_.chosen_ports() : std::vector<std::string>{};
    QString text = QString::fromUtf8(kind.meaning);
    if (!ports.empty()) {
        const auto state = attribute_state(desk_.session().plan().attributes(), ports[0], kind);
        if (!state.remark.empty()) text += QStringLiteral(" ") + q(state.remark);
    }
    sentence_->setText(text);
}

void AttributePane::choose(size_t i, const QString& value) {
    if (filling_ || value == several || !desk_.has_session()) return;
    const auto ports = desk_.chosen_ports();
    if (ports.empty()) return;
    const auto edit =
        attribute_edit(desk_.session().plan().attributes(), ports, attribute_kinds()[i], value.toStdString());
    if (!edit) return desk_.say(q(edit.first().text), true);
    desk_.apply(edit.value());
}

}  // namespace kp::app
