#pragma once

#include <algorithm>
#include <bit>
#include <cstddef>
#include <cstdint>
#include <cursimeter/link/protocol.hpp>
#include <optional>
#include <vector>

#include "link/wire/packet.hpp"

namespace cursimeter::link {

/// The seats of those that are connected, by their peers: a packet finds its seat in constant time, however many seats
/// there are. All memory is taken when it is made. Peers are scattered by a number that nobody can guess, so nobody can
/// choose them to lie in a row.
class PeerTable {
  public:
    PeerTable(std::size_t seats, std::uint64_t secret) : slots_(std::bit_ceil(4 * seats)), secret_(secret) {}

    [[nodiscard]] std::optional<std::size_t> find(PeerId peer) const {
        for (std::size_t i = home_of(peer); slots_[i].used; i = next(i)) {
            if (slots_[i].peer == peer) {
                return slots_[i].seat;
            }
        }
        return std::nullopt;
    }
    /// Takes up who is connected now. As much work as there are seats: once for each who comes or goes.
    template <class Seats>
    void take(const Seats& seats) {
        std::fill(slots_.begin(), slots_.end(), Slot{});
        for (std::size_t seat = 0; seat < seats.size(); ++seat) {
            if (!seats[seat].connected) {
                continue;
            }
            std::size_t i = home_of(seats[seat].peer);
            while (slots_[i].used) {
                i = next(i);
            }
            slots_[i] = {seats[seat].peer, seat, true};
        }
    }

  private:
    struct Slot {
        PeerId peer;
        std::size_t seat = 0;
        bool used = false;
    };
    [[nodiscard]] std::size_t home_of(PeerId peer) const {
        return static_cast<std::size_t>(wire::mix(peer.value, secret_)) & (slots_.size() - 1);
    }
    [[nodiscard]] std::size_t next(std::size_t i) const { return (i + 1) & (slots_.size() - 1); }

    std::vector<Slot> slots_;
    std::uint64_t secret_;
};

}  // namespace cursimeter::link
