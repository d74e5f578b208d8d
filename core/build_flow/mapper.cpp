// SPDX-License-Identifier: GPL-3.0-or-later
// Reads what the mapper needs, and hands on what it says.
#include "core/build_flow/mapper.hpp"

#include "core/base/text.hpp"
#include "core/inputs/data_folder.hpp"
#include "core/inputs/design.hpp"

namespace kp {

std::string shipped_cells() {
    return data_folder() + "/cells/skerry.lib";
}

Result<synthesis::MapAnswer> map_files(Disk& disk, const MapFiles& files, const Reach* reach) {
    for (const auto& path : files.sources)
        if (const auto name = lower(path); name.ends_with(".vhd") || name.ends_with(".vhdl"))
            return Message{Severity::stop, Code::language,
                           "The stand-in mapper reads Verilog and SystemVerilog; VHDL is read for its ports only.",
                           path};
    const auto library = load_libraries(disk, {files.library});
    if (!library) return library.messages();
    auto texts = load_sources(disk, files.sources, reach, files.folders);
    if (!texts) return texts.messages();
    synthesis::MapRequest request;
    request.reading.include = texts.value()->include;
    request.reading.defines = files.defines;
    request.top = files.top;
    request.parameters = files.parameters;
    auto answer = synthesis::map_design(texts.value()->sources, library.value(), request);
    if (*texts.value()->outside) return **texts.value()->outside;
    return answer;
}

}  // namespace kp
