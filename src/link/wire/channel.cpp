#include "link/wire/channel.hpp"

namespace cursimeter::link::wire {
namespace {

/// Packets before the newest of which it is known whether they have come.
constexpr std::uint64_t window = 64;

/// The number nearest to `near` with these low bits; 0 is the first.
std::uint64_t expanded(std::uint32_t low, std::uint64_t near) {
    const auto difference = static_cast<std::int32_t>(low - static_cast<std::uint32_t>(near));
    return near + static_cast<std::uint64_t>(static_cast<std::int64_t>(difference));
}

}  // namespace

void Channel::start(std::uint64_t key) {
    sealed_ = false;
    key_ = key;
    repeated_ = 0;
}

void Channel::start(const guard::SessionKeys& keys) {
    sealed_ = true;
    keys_ = keys;
    sent_ = newest_ = came_ = repeated_ = 0;
}

void Channel::close(std::span<std::byte> packet, Kind kind) {
    if (!sealed_) {
        stamp(packet, kind, key_);
        return;
    }
    packet[0] = static_cast<std::byte>(kind);
    for (unsigned i = 0; i < 4; ++i) {
        packet[1 + i] = static_cast<std::byte>(sent_ >> (8 * i) & 0xffU);
    }
    guard::close(keys_.out, sent_++, static_cast<std::uint8_t>(kind), packet.subspan(sealed_envelope_bytes),
                 packet.subspan<5, guard::tag_bytes>());
}

std::optional<std::span<const std::byte>> Channel::open(std::span<const std::byte> packet) {
    if (!sealed_) {
        return is_stamped(packet, key_) ? std::optional(packet.subspan(envelope_bytes)) : std::nullopt;
    }
    if (packet.size() < sealed_envelope_bytes || packet.size() > most_packet_bytes) {
        return std::nullopt;
    }
    std::uint32_t low = 0;
    for (unsigned i = 0; i < 4; ++i) {
        low |= std::to_integer<std::uint32_t>(packet[1 + i]) << (8 * i);
    }
    const std::uint64_t number = expanded(low, newest_);
    const std::span<const std::byte> closed = packet.subspan(sealed_envelope_bytes);
    const std::span<std::byte> room = std::span(opened_).first(closed.size());
    if (!guard::open(keys_.in, number, std::to_integer<std::uint8_t>(packet[0]), closed,
                     packet.subspan<5, guard::tag_bytes>(), room)) {
        return std::nullopt;
    }
    const auto later = static_cast<std::int64_t>(number - newest_);
    if (came_ == 0 || later > 0) {
        came_ = came_ != 0 && later < static_cast<std::int64_t>(window)
                    ? came_ << static_cast<unsigned>(later) | 1U
                    : 1U;
        newest_ = number;
        return room;
    }
    const std::uint64_t bit =
        later > -static_cast<std::int64_t>(window) ? std::uint64_t{1} << static_cast<unsigned>(-later) : 0;
    if (bit == 0 || (came_ & bit) != 0) {
        ++repeated_;
        return std::nullopt;
    }
    came_ |= bit;
    return room;
}

}  // namespace cursimeter::link::wire
