// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/theme/theme.hpp"

#include <QApplication>
#include <gtest/gtest.h>

int main(int argc, char** argv) {
    testing::InitGoogleTest(&argc, argv);
    QApplication app(argc, argv);
    kp::app::load_fonts();
    kp::app::use_theme(false);
    return RUN_ALL_TESTS();
}
