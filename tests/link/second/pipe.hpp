#pragma once

#include <cstddef>
#include <cstdio>
#include <span>
#include <string>
#include <vector>

/// Packets as they go over the pipes of the second ends.
namespace support {

inline std::vector<std::byte> bytes_of(const std::string& hex) {
    std::vector<std::byte> bytes;
    for (std::size_t i = 0; i + 1 < hex.size(); i += 2) {
        bytes.push_back(static_cast<std::byte>(std::stoul(hex.substr(i, 2), nullptr, 16)));
    }
    return bytes;
}
inline void print_packet(std::span<const std::byte> bytes) {
    std::printf("packet ");
    for (const std::byte byte : bytes) {
        std::printf("%02x", std::to_integer<unsigned>(byte));
    }
    std::printf("\n");
}

}  // namespace support
