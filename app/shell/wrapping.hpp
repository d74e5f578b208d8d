// SPDX-License-Identifier: GPL-3.0-or-later
// Rows of a list that show their text whole: as many lines as a column needs at its width.
#pragma once

class QTreeWidget;

namespace kp::app {

/// Rows of the list become as high as their texts need, also when a column changes its width; the last column takes
/// what is left, so that nothing lies outside.
void wrap_rows(QTreeWidget& list);

}  // namespace kp::app
