#pragma once

#include <array>
#include <cursimeter/link/server.hpp>
#include <optional>
#include <vector>

namespace cursimeter::link {

/// Packets that wait to be sent, in their order. All memory is taken when it is made.
template <std::size_t Longest>
class PacketQueue {
  public:
    explicit PacketQueue(std::size_t most) : packets_(most) {}
    /// Room for a packet to somebody; none if too many wait already. `send` says how long it has become.
    [[nodiscard]] std::span<std::byte> room(PeerId peer) {
        if (next_ == count_) {
            next_ = count_ = 0;
        }
        if (count_ == packets_.size()) {
            return {};
        }
        packets_[count_].peer = peer;
        return packets_[count_].bytes;
    }
    void send(std::size_t size) { packets_[count_++].size = size; }
    /// A place in the row for a packet that is written later: several can be, at the same time. `close` says how
    /// long it has become.
    [[nodiscard]] std::optional<std::size_t> reserve(PeerId peer) {
        if (room(peer).empty()) {
            return std::nullopt;
        }
        send(0);
        return count_ - 1;
    }
    [[nodiscard]] std::span<std::byte> reserved(std::size_t place) { return packets_[place].bytes; }
    void close(std::size_t place, std::size_t size) { packets_[place].size = size; }
    [[nodiscard]] std::optional<OutgoingPacket> next() {
        while (next_ != count_) {
            const Packet& packet = packets_[next_++];
            if (packet.size != 0) {
                return OutgoingPacket{packet.peer, std::span(packet.bytes).first(packet.size)};
            }
        }
        return std::nullopt;
    }

  private:
    struct Packet {
        PeerId peer;
        std::size_t size = 0;
        std::array<std::byte, Longest> bytes{};
    };
    std::vector<Packet> packets_;
    std::size_t count_ = 0, next_ = 0;  ///< those from `next_` up to `count_` wait
};

/// What finds no room is not sent, and the other side asks again. Short notes have room of their own, so that a
/// flood of questions keeps nobody's snapshot out, and there is room for the answer to everybody's.
struct Outbox {
    /// Between two turns of a server's loop, more than 200,000 a second at 60 turns.
    static constexpr std::size_t most_notes = 4096;
    static constexpr std::size_t note_bytes = 40;

    explicit Outbox(std::size_t most_packets) : packets(most_packets), notes(most_notes) {}
    [[nodiscard]] std::optional<OutgoingPacket> next() {
        const auto packet = packets.next();
        return packet ? packet : notes.next();
    }

    PacketQueue<packet_bytes> packets;
    PacketQueue<note_bytes> notes;
};

}  // namespace cursimeter::link
