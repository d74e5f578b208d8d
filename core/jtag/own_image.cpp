// SPDX-License-Identifier: GPL-3.0-or-later
// One digest of three: whatever of pegs, constraints and netlist changes, the image is another.
#include "core/jtag/own_image.hpp"

#include "core/base/checksum.hpp"
#include "core/format/image/image.hpp"
#include "core/model/proof_notes.hpp"

namespace kp {

std::string ImageOrigin::digest() const {
    return sha256(pegs + constraints + netlist);
}

ImageOrigin image_origin(const Project& project, const std::string& netlist) {
    std::string text;
    for (const auto& file : project.constraints) text += file.path + "\n" + file.text;
    return {digest_of_pegs(project.pegs), sha256(text), netlist};
}

std::string own_image(const Part& part, const Project& project, const std::string& top, const ImageOrigin& origin) {
    return write_image({part.idcode, project.part, top, "", origin.digest(), {}});
}

}  // namespace kp
