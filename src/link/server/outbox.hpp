#pragma once

#include <array>
#include <cursimeter/link/server.hpp>
#include <optional>
#include <vector>

namespace cursimeter::link {

/// The packets that wait to be sent. All memory is taken when it is made; what finds no room is not sent, and the other
/// side asks again. Short notes have room of their own, so that a flood of questions keeps nobody's snapshot out, and
/// there is room for the answer to everybody's.
class Outbox {
  public:
    explicit Outbox(std::size_t packets) : packets_(packets), notes_(most_notes) {
        for (Packet& packet : packets_) {
            packet.bytes.resize(packet_bytes);
        }
    }
    /// Room for a packet to somebody; none if too many wait already. `send` says how long it has become.
    [[nodiscard]] std::span<std::byte> room(PeerId peer) {
        if (next_packet_ == packet_count_) {
            next_packet_ = packet_count_ = 0;
        }
        if (packet_count_ == packets_.size()) {
            return {};
        }
        packets_[packet_count_].peer = peer;
        return packets_[packet_count_].bytes;
    }
    void send(std::size_t size) { packets_[packet_count_++].size = size; }
    [[nodiscard]] std::span<std::byte> note_room(PeerId peer) {
        if (next_note_ == note_count_) {
            next_note_ = note_count_ = 0;
        }
        if (note_count_ == notes_.size()) {
            return {};
        }
        notes_[note_count_].peer = peer;
        return notes_[note_count_].bytes;
    }
    void send_note(std::size_t size) { notes_[note_count_++].size = static_cast<std::uint8_t>(size); }

    [[nodiscard]] std::optional<OutgoingPacket> next() {
        if (next_packet_ != packet_count_) {
            const Packet& packet = packets_[next_packet_++];
            return OutgoingPacket{packet.peer, std::span(packet.bytes).first(packet.size)};
        }
        if (next_note_ != note_count_) {
            const Note& note = notes_[next_note_++];
            return OutgoingPacket{note.peer, std::span(note.bytes).first(note.size)};
        }
        return std::nullopt;
    }

  private:
    /// Between two turns of a server's loop, more than 200,000 a second at 60 turns.
    static constexpr std::size_t most_notes = 4096;
    static constexpr std::size_t note_bytes = 40;
    struct Packet {
        PeerId peer;
        std::size_t size = 0;
        std::vector<std::byte> bytes;
    };
    struct Note {
        PeerId peer;
        std::uint8_t size = 0;
        std::array<std::byte, note_bytes> bytes{};
    };
    std::vector<Packet> packets_;
    std::vector<Note> notes_;
    std::size_t packet_count_ = 0, next_packet_ = 0, note_count_ = 0, next_note_ = 0;
};

}  // namespace cursimeter::link
