#include "link/wire/message_stream.hpp"

#include <algorithm>

namespace cursimeter::link::wire {
namespace {

/// Of a row: nearly eight of the longest messages. A power of 2, so that its places go round with the counters.
constexpr std::size_t row_bytes = 8192;
/// s after which what is not confirmed is said again: at least, and the part of the way there and back, which is
/// known at its shortest.
constexpr double say_again = 0.25, round_trips = 1.5;
/// Bytes that are said in two packets in a row, so that a short message is not late because one is lost.
constexpr std::uint32_t most_repeated = 64;
/// Packets that say how far the other row has come after a piece of it: any may be lost.
constexpr int said_how_often = 3;

/// The number nearest to `near` with these low bits.
std::uint32_t near_to(std::uint16_t low, std::uint32_t near) {
    const auto difference =
        static_cast<std::int16_t>(static_cast<std::uint16_t>(low - static_cast<std::uint16_t>(near)));
    return near + static_cast<std::uint32_t>(static_cast<std::int32_t>(difference));
}

/// Of two places in a row that may have gone round.
std::uint32_t later_of(std::uint32_t a, std::uint32_t b) {
    return static_cast<std::int32_t>(a - b) > 0 ? a : b;
}

}  // namespace

MessageStream::MessageStream() {
    sent_.bytes.resize(row_bytes);
    came_.bytes.resize(row_bytes);
}

void MessageStream::start() {
    sent_.begin = sent_.end = came_.begin = came_.end = spoken_ = repeated_ = confirmed_ = 0;
    again_at_ = 0.0;
    owed_ = 0;
}

bool MessageStream::send(std::span<const std::byte> message) {
    if (message.size() > longest_message || message.size() + 2 > sent_.room()) {
        return false;
    }
    sent_.at(sent_.end++) = static_cast<std::byte>(message.size() & 0xffU);
    sent_.at(sent_.end++) = static_cast<std::byte>(message.size() >> 8U);
    for (const std::byte byte : message) {
        sent_.at(sent_.end++) = byte;
    }
    return true;
}

std::optional<std::span<const std::byte>> MessageStream::next() {
    if (came_.end - came_.begin < 2) {
        return std::nullopt;
    }
    const std::size_t size = std::to_integer<std::size_t>(came_.at(came_.begin)) |
                             std::to_integer<std::size_t>(came_.at(came_.begin + 1)) << 8U;
    if (size > longest_message) {
        start();  // no such row can have been sent: its sender is not one of us
        return std::nullopt;
    }
    if (came_.end - came_.begin < size + 2) {
        return std::nullopt;
    }
    came_.begin += 2;
    for (std::size_t i = 0; i < size; ++i) {
        message_[i] = came_.at(came_.begin++);
    }
    return std::span(message_).first(size);
}

MessageStream::Piece MessageStream::speak(std::size_t most, double clock, double round_trip) {
    const double wait = std::max(say_again, round_trips * round_trip);
    Piece piece;
    piece.come = static_cast<std::uint16_t>(came_.end);
    piece.any_come = owed_ > 0;
    owed_ -= piece.any_come ? 1 : 0;
    if (sent_.begin != confirmed_) {
        confirmed_ = sent_.begin;
        again_at_ = clock + wait;
    } else if (clock >= again_at_) {
        spoken_ = repeated_ = sent_.begin;
    }
    if (spoken_ == sent_.begin) {
        again_at_ = clock + wait;
    }
    const std::uint32_t begin = spoken_ - repeated_ <= most_repeated ? repeated_ : spoken_;
    piece.begin = static_cast<std::uint16_t>(begin);
    piece.size =
        static_cast<std::uint32_t>(std::min({std::size_t{sent_.end - begin}, most, piece.bytes.size()}));
    for (std::uint32_t i = 0; i < piece.size; ++i) {
        piece.bytes[i] = sent_.at(begin + i);
    }
    repeated_ = spoken_;
    spoken_ = later_of(spoken_, begin + piece.size);
    return piece;
}

void MessageStream::hear(const Piece& piece) {
    if (piece.any_come) {
        const std::uint32_t come = near_to(piece.come, sent_.begin);
        if (come - sent_.begin <= sent_.end - sent_.begin) {
            sent_.begin = come;
            spoken_ = later_of(spoken_, come);
            repeated_ = later_of(repeated_, come);
        }
    }
    if (piece.size == 0) {
        return;
    }
    owed_ = said_how_often;
    const std::uint32_t begin = near_to(piece.begin, came_.end);
    const std::uint32_t known = came_.end - begin;
    if (known > piece.size) {
        return;  // a gap before it, or all of it is known
    }
    const std::size_t more = std::min<std::size_t>(piece.size - known, came_.room());
    for (std::size_t i = 0; i < more; ++i) {
        came_.at(came_.end++) = piece.bytes[known + i];
    }
}

}  // namespace cursimeter::link::wire
