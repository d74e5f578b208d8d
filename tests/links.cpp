// SPDX-License-Identifier: GPL-3.0-or-later
// Linked with one folder of the core, whole, and with what that folder may know; see tests/CMakeLists.txt.
int main() {}
