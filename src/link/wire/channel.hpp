#pragma once

#include "link/guard/guard.hpp"
#include "link/wire/packet.hpp"

namespace cursimeter::link::wire {

/// The packets of one session, as one end closes and opens them. Plain ones are stamped with the session's key: that keeps
/// out damage, strays, and whoever cannot read the traffic. Sealed ones are encrypted, and each is taken once.
class Channel {
  public:
    void start(std::uint64_t key);
    void start(const guard::SessionKeys& keys);

    [[nodiscard]] bool is_sealed() const { return sealed_; }
    /// Bytes before the body of a packet.
    [[nodiscard]] std::size_t before_body() const { return sealed_ ? sealed_envelope_bytes : envelope_bytes; }
    /// Closes the packet of this length, the body of which stands in its place.
    void close(std::span<std::byte> packet, Kind kind);
    /// The body, if the packet is whole, of this session, and has not come before. It is in the packet or in the channel, and
    /// valid until either changes.
    [[nodiscard]] std::optional<std::span<const std::byte>> open(std::span<const std::byte> packet);
    /// Packets that were right, but had come before or are older than is known.
    [[nodiscard]] std::uint64_t repeated() const { return repeated_; }

  private:
    /// kind, low bits of the number, tag
    static constexpr std::size_t sealed_envelope_bytes = 1 + 4 + guard::tag_bytes;
    bool sealed_ = false;
    std::uint64_t key_ = 0;
    guard::SessionKeys keys_;
    std::uint64_t sent_ = 0;    ///< number of the next packet
    std::uint64_t newest_ = 0;  ///< number of the newest that came, if any
    std::uint64_t came_ = 0;    ///< bit i: the packet i before it has come
    std::uint64_t repeated_ = 0;
    std::array<std::byte, most_packet_bytes> opened_{};
};

}  // namespace cursimeter::link::wire
