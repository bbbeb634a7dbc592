#pragma once

#include <cmath>
#include <cstddef>
#include <cstdint>
#include <cstdlib>
#include <span>
#include <vector>

#include "link/scene.hpp"
#include "link/wire/messages.hpp"

/// What the fuzz targets share: each turns bytes that the fuzzer made up into a packet with a good stamp, so that they
/// reach the decoder behind it.
namespace decoders {

using namespace support;
using Bytes = std::vector<std::byte>;

inline Bytes stamped(link::wire::Kind kind, std::uint64_t key, const std::uint8_t* data, std::size_t size,
                     std::size_t least = 0) {
    Bytes packet(std::max(least, link::wire::envelope_bytes + std::min<std::size_t>(size, 1100)));
    for (std::size_t i = 0; i + link::wire::envelope_bytes < packet.size() && i < size; ++i) {
        packet[link::wire::envelope_bytes + i] = static_cast<std::byte>(data[i]);
    }
    link::wire::stamp(packet, kind, key);
    return packet;
}

/// The token of a client that is to say hello: answers must have it.
inline std::uint64_t token_of(link::Client& client) {
    const auto hello = client.next_packet();
    return hello ? link::wire::read_message<link::wire::Hello>(*hello).token : 0;
}

/// Ends the run where something is not as it must be.
inline void require(bool holds) {
    if (!holds) {
        std::abort();
    }
}

}  // namespace decoders
