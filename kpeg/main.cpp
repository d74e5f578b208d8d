// SPDX-License-Identifier: GPL-3.0-or-later
// kpeg: the engine of Kite Peg without a window. Exit status 0 in order, 1 findings or violations, 2 unusable input.
#include "kpeg/commands.hpp"

#include "core/base/disk.hpp"

#include <cstdio>
#include <iostream>

namespace kpeg {

int refuse(const std::vector<kp::Message>& messages) {
    for (const auto& m : messages)
        if (m.severity == kp::Severity::stop) {
            std::cerr << "kpeg: " << m.sentence() << "\n";
            return unusable;
        }
    return unusable;
}

int write_out(const kp::Json& json, const std::string& path, int status) {
    if (path.empty()) return status;
    const std::string text = json.dump(1, ' ', false, kp::Json::error_handler_t::replace) + "\n";
    if (path == "-") {
        std::fwrite(text.data(), 1, text.size(), stdout);
        return std::fflush(stdout) == 0 ? status : static_cast<int>(unusable);
    }
    auto written = kp::save_whole(kp::real_disk(), path, text);
    return written ? status : refuse(written.messages());
}

}  // namespace kpeg

int main(int argc, char** argv) {
    CLI::App app{"kpeg: Kite Peg without a window"};
    app.require_subcommand(1);
    kpeg::Run run;
    kpeg::add_time(app, run);
    kpeg::add_rules(app, run);
    kpeg::add_ports(app, run);
    kpeg::add_pegs(app, run);
    kpeg::add_sdc(app, run);
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        if (error.get_exit_code() == 0) return app.exit(error);
        std::cerr << "kpeg: " << error.what() << " Try kpeg --help.\n";
        return kpeg::unusable;
    }
    return run();
}
