// SPDX-License-Identifier: GPL-3.0-or-later
// What a program has to settle for its whole process before it does anything else: standard streams that are closed,
// signals that end it, memory that is not there. Whatever ends it, it says one line and leaves no half-written file.
#pragma once

#include <string>

namespace kp {

/// Descriptors 0 to 2 that the caller closed lead to /dev/null from now on, so that no file of the user's gets one of
/// these numbers and with it what is meant for a screen. What is written to a standard output that was closed is an
/// error of that write, as nobody would get it.
void open_standard_streams();

/// After this
/// - a signal that ends the program (SIGINT, SIGTERM, SIGHUP, SIGXCPU) first removes what was being written aside;
/// - a file that grows beyond the limit of the process is an error of that write;
/// - an allocation that cannot be met, and an exception that nobody takes, say one line that begins with `name` on
///   standard error, remove what was being written aside, and end the program with 2. What is in the recovery journal
///   stays there.
void end_tidily(const char* name);

/// In a child process that only computes: what end_tidily() set is as it was.
void end_as_ever();

/// A file that is being written aside: removed when a signal or lacking memory ends the program before it is released.
/// At most eight at a time are remembered; names longer than 4,095 bytes are not.
void remember_unfinished(const std::string& path);
void forget_unfinished(const std::string& path);

}  // namespace kp
