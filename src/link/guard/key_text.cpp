#include <cursimeter/link/seal.hpp>

namespace cursimeter::link {
namespace {

using Bytes = std::array<std::uint8_t, 32>;

std::string text_of(const Bytes& bytes) {
    constexpr char digits[] = "0123456789abcdef";
    std::string text;
    for (const std::uint8_t byte : bytes) {
        text += digits[byte >> 4U];
        text += digits[byte & 15U];
    }
    return text;
}

std::optional<Bytes> bytes_of(std::string_view text) {
    Bytes bytes{};
    if (text.size() != 2 * bytes.size()) {
        return std::nullopt;
    }
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        const int digit = c >= '0' && c <= '9'   ? c - '0'
                          : c >= 'a' && c <= 'f' ? c - 'a' + 10
                          : c >= 'A' && c <= 'F' ? c - 'A' + 10
                                                 : -1;
        if (digit < 0) {
            return std::nullopt;
        }
        bytes[i / 2] = static_cast<std::uint8_t>(bytes[i / 2] << 4U | digit);
    }
    return bytes;
}

}  // namespace

std::string to_text(const PublicKey& key) {
    return text_of(key.bytes);
}
std::string to_text(const SecretKey& key) {
    return text_of(key.bytes);
}
std::optional<PublicKey> public_key_from(std::string_view text) {
    const auto bytes = bytes_of(text);
    return bytes ? std::optional(PublicKey{*bytes}) : std::nullopt;
}
std::optional<SecretKey> secret_key_from(std::string_view text) {
    const auto bytes = bytes_of(text);
    return bytes ? std::optional(SecretKey{*bytes}) : std::nullopt;
}

}  // namespace cursimeter::link
