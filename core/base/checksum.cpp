// SPDX-License-Identifier: GPL-3.0-or-later
// SHA-256 (FIPS 180-4) by OpenSSL; linear, one pass.
#include "core/base/checksum.hpp"

#include <openssl/evp.h>
#include <openssl/hmac.h>
#include <sys/random.h>
#include <vector>

namespace kp {

namespace {

std::string hexadecimal(const unsigned char* bytes, size_t size) {
    static const char* digits = "0123456789abcdef";
    std::string out;
    for (size_t i = 0; i < size; ++i) {
        out += digits[bytes[i] >> 4];
        out += digits[bytes[i] & 15];
    }
    return out;
}

}  // namespace

std::string sha256(std::string_view data) {
    unsigned char digest[EVP_MAX_MD_SIZE];
    unsigned int size = 0;
    EVP_Digest(data.data(), data.size(), digest, &size, EVP_sha256(), nullptr);
    return hexadecimal(digest, size);
}

std::string hmac_sha256(std::string_view key, std::string_view data) {
    unsigned char digest[EVP_MAX_MD_SIZE];
    unsigned int size = 0;
    HMAC(EVP_sha256(), key.data(), static_cast<int>(key.size()), reinterpret_cast<const unsigned char*>(data.data()),
         data.size(), digest, &size);
    return hexadecimal(digest, size);
}

std::string random_hex(size_t bytes) {
    std::vector<unsigned char> out(bytes);
    if (::getrandom(out.data(), out.size(), 0) != static_cast<ssize_t>(bytes)) return {};
    return hexadecimal(out.data(), out.size());
}

}  // namespace kp
