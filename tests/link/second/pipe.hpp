#pragma once

#include <cstddef>
#include <cstdio>
#include <iostream>
#include <optional>
#include <span>
#include <sstream>
#include <string>
#include <vector>

/// The pipes of the second ends: "packet HEX" and "tick" come in, "packet HEX" goes out.
namespace support {

/// Reads a line. Returns false at the end; `packet` is empty where a tick is to be played.
inline bool read_line(std::optional<std::vector<std::byte>>& packet) {
    std::string line, word, hex;
    if (!std::getline(std::cin, line)) {
        return false;
    }
    std::istringstream(line) >> word >> hex;
    packet.reset();
    if (word == "packet") {
        packet.emplace();
        for (std::size_t i = 0; i + 1 < hex.size(); i += 2) {
            packet->push_back(static_cast<std::byte>(std::stoul(hex.substr(i, 2), nullptr, 16)));
        }
    }
    return true;
}
inline void print_packet(std::span<const std::byte> bytes) {
    std::printf("packet ");
    for (const std::byte byte : bytes) {
        std::printf("%02x", std::to_integer<unsigned>(byte));
    }
    std::printf("\n");
}

}  // namespace support
