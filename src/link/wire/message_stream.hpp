#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <cursimeter/link/protocol.hpp>
#include <optional>
#include <span>
#include <vector>

#include "link/wire/coder.hpp"

namespace cursimeter::link::wire {

/// The game's messages of one connection, both ways: each arrives once, whole and in order, whatever is lost. They
/// are rows of bytes, two for the length of a message and then its bytes; each packet carries a piece of the row
/// from where the other side is known to have it, and says how far this side has come. All memory is taken when it
/// is made.
class MessageStream {
  public:
    MessageStream();
    void start();

    /// Returns false, and takes nothing, if the message is too long or too many wait.
    bool send(std::span<const std::byte> message);
    /// The oldest that has come; valid until the next call.
    [[nodiscard]] std::optional<std::span<const std::byte>> next();

    /// A piece in a packet: where it begins, and how far the other row has come; low bits.
    struct Piece {
        std::uint16_t begin = 0, come = 0;
        std::uint32_t size = 0;
        bool any_come = false;
        std::array<std::byte, 256> bytes{};
    };
    /// What to say now, with `most` bytes of the row at most. What is not confirmed is said again after a time that
    /// depends on the way there and back; s.
    [[nodiscard]] Piece speak(std::size_t most, double clock, double round_trip);
    void hear(const Piece& piece);

    /// Whether there is anything to be said.
    [[nodiscard]] bool waits() const { return sent_.begin != sent_.end; }

  private:
    /// Of a row, from the first byte that is still needed to the one after the last, counted from its start.
    struct Row {
        std::vector<std::byte> bytes;
        std::uint32_t begin = 0, end = 0;
        [[nodiscard]] std::byte& at(std::uint32_t i) { return bytes[i % bytes.size()]; }
        [[nodiscard]] std::size_t room() const { return bytes.size() - (end - begin); }
    };
    Row sent_, came_;
    std::uint32_t spoken_ = 0;     ///< up to here it was said once
    std::uint32_t repeated_ = 0;   ///< up to here it was said twice, or need not be
    std::uint32_t confirmed_ = 0;  ///< begin of the row when something was said last
    double again_at_ = 0.0;        ///< s; when it is said again from the begin
    int owed_ = 0;                 ///< packets that are still to say how far the other row has come
    std::array<std::byte, longest_message> message_{};
};

template <class Coder>
void code(Coder& coder, MessageStream::Piece& piece) {
    Model quiet{0x0800}, speaks{0xc000};
    bool silent = piece.size == 0 && !piece.any_come;
    coder.bit(quiet, silent);
    if (silent) {
        piece.size = 0;
        piece.any_come = false;
        return;
    }
    bool any = piece.size != 0;
    coder.bit(speaks, any);
    coder.bits(piece.come, 16);
    piece.any_come = true;
    if (!any) {
        piece.size = 0;
        return;
    }
    coder.bits(piece.begin, 16);
    std::uint32_t less = piece.size - 1;
    coder.bits(less, 8);
    piece.size = less + 1;
    for (std::uint32_t i = 0; i < piece.size; ++i) {
        auto byte = std::to_integer<std::uint32_t>(piece.bytes[i]);
        coder.bits(byte, 8);
        piece.bytes[i] = static_cast<std::byte>(byte);
    }
}

}  // namespace cursimeter::link::wire
