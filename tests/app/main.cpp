// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/theme/theme.hpp"
#include "tests/app/watchdog.hpp"

#include <QApplication>
#include <QTemporaryDir>
#include <gtest/gtest.h>

int main(int argc, char** argv) {
    testing::InitGoogleTest(&argc, argv);
    // What the window remembers between starts must not be the tester's own.
    QTemporaryDir settings;
    qputenv("XDG_CONFIG_HOME", settings.path().toUtf8());
    kp::app::test::WatchedApplication app(argc, argv);
    kp::app::load_fonts();
    kp::app::use_theme(false);
    return RUN_ALL_TESTS();
}
