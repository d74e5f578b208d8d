// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers of 32 bits, lowest byte first. Linear in the bytes.
#include "core/format/image/image.hpp"
#include "core/base/said.hpp"

namespace kp {

namespace {

constexpr std::string_view magic = "KPIM";
constexpr char version = 1;

void put(std::string& out, std::uint32_t v) {
    for (int k = 0; k < 4; ++k) out += static_cast<char>(v >> (8 * k));
}

std::uint32_t get(std::string_view bytes, size_t at) {
    std::uint32_t v = 0;
    for (size_t k = 0; k < 4; ++k)
        v |= static_cast<std::uint32_t>(static_cast<unsigned char>(bytes[at + k])) << (8 * k);
    return v;
}

}  // namespace

std::uint32_t crc32(std::string_view bytes) {
    std::uint32_t state = 0xFFFFFFFFU;
    for (const char c : bytes) {
        state ^= static_cast<unsigned char>(c);
        for (int k = 0; k < 8; ++k) state = (state >> 1) ^ ((state & 1) ? 0xEDB88320U : 0);
    }
    return ~state;
}

std::string write_image(const Image& i) {
    std::string out(magic);
    out += version;
    put(out, i.idcode);
    const auto text = said("target: {}\ntop: {}\ndate: {}\ndigest: {}\n", i.target, i.top, i.date, i.digest);
    put(out, static_cast<std::uint32_t>(text.size()));
    out += text;
    put(out, static_cast<std::uint32_t>(i.payload.size()));
    out += i.payload;
    put(out, crc32(out));
    return out;
}

std::optional<size_t> image_size(std::string_view bytes) {
    if (bytes.size() < 21 || bytes.substr(0, 4) != magic || bytes[4] != version) return std::nullopt;
    const size_t text_size = get(bytes, 9);
    if (text_size > bytes.size() - 21) return std::nullopt;
    const size_t payload_size = get(bytes, 13 + text_size);
    if (payload_size > bytes.size() - 21 - text_size) return std::nullopt;
    return 21 + text_size + payload_size;
}

Result<Image> read_image(std::string_view bytes, const std::string& file) {
    const auto wrong = [&](const std::string& why) { return Message{Severity::stop, Code::image, why, file}; };
    if (bytes.size() < 21 || bytes.substr(0, 4) != magic || bytes[4] != version)
        return wrong("This is not a configuration image of Kite Peg; make one from a build.");
    Image i;
    i.idcode = get(bytes, 5);
    const size_t text_size = get(bytes, 9);
    if (text_size > bytes.size() - 21) return wrong("The image is cut short; make it again.");
    const size_t payload_size = get(bytes, 13 + text_size);
    if (payload_size != bytes.size() - 21 - text_size)
        return wrong("The image is cut short or too long; make it again.");
    if (crc32(bytes.substr(0, bytes.size() - 4)) != get(bytes, bytes.size() - 4))
        return wrong("The CRC of the image does not agree: bits changed on the way. Make it again, or load it again.");
    auto text = bytes.substr(13, text_size);
    while (!text.empty()) {
        const auto end = text.find('\n');
        const auto line = text.substr(0, end);
        text = end == std::string_view::npos ? std::string_view() : text.substr(end + 1);
        const auto colon = line.find(": ");
        if (colon == std::string_view::npos) continue;
        const auto key = line.substr(0, colon);
        const std::string value(line.substr(colon + 2));
        (key == "target" ? i.target : key == "top" ? i.top : key == "date" ? i.date : i.digest) = value;
    }
    i.payload = std::string(bytes.substr(17 + text_size, payload_size));
    return i;
}

}  // namespace kp
