#include "link/wire/packet.hpp"

#include <algorithm>

#include "core/numbers/digest.hpp"

namespace cursimeter::link::wire {
namespace {

std::uint32_t checksum(std::span<const std::byte> packet, std::uint64_t key) {
    const auto kind = std::to_integer<std::uint64_t>(packet[0]);
    return static_cast<std::uint32_t>(digest_of(packet.subspan(envelope_bytes), mix(key, kind)));
}

}  // namespace

std::uint64_t digest_of(std::span<const std::byte> bytes, std::uint64_t key) {
    detail::Digest digest;
    digest.add(key);
    digest.add(std::uint64_t{bytes.size()});
    for (std::size_t i = 0; i < bytes.size(); i += 8) {
        std::uint64_t word = 0;
        const std::size_t count = std::min<std::size_t>(8, bytes.size() - i);
        for (std::size_t k = 0; k < count; ++k) {
            word |= std::to_integer<std::uint64_t>(bytes[i + k]) << (8 * k);
        }
        digest.add(word);
    }
    return digest.value();
}

std::uint64_t mix(std::uint64_t a, std::uint64_t b, std::uint64_t c) {
    detail::Digest digest;
    digest.add(a);
    digest.add(b);
    digest.add(c);
    return digest.value();
}

void stamp(std::span<std::byte> packet, Kind kind, std::uint64_t key) {
    packet[0] = static_cast<std::byte>(kind);
    const std::uint32_t sum = checksum(packet, key);
    for (unsigned i = 0; i < 4; ++i) {
        packet[1 + i] = static_cast<std::byte>(sum >> (8 * i) & 0xffU);
    }
}

bool is_stamped(std::span<const std::byte> packet, std::uint64_t key) {
    if (packet.size() < envelope_bytes || packet.size() > most_packet_bytes) {
        return false;
    }
    std::uint32_t sum = 0;
    for (unsigned i = 0; i < 4; ++i) {
        sum |= std::to_integer<std::uint32_t>(packet[1 + i]) << (8 * i);
    }
    return sum == checksum(packet, key);
}

}  // namespace cursimeter::link::wire
