#pragma once

#include "link/server/crowd.hpp"
#include "link/server/seat.hpp"
#include "link/server/shortlist.hpp"

namespace cursimeter::link {

/// Puts snapshots together: the client's own runner, then as many others as fit, the most urgent first. Several can
/// be at work at the same time, each for other clients: they share nothing that they change.
class SnapshotWriter {
  public:
    explicit SnapshotWriter(const ServerConfig& config);
    void set_interest(Interest* interest) { asked_ = interest; }
    /// Before the first client of a snapshot.
    void begin() {
        for (std::vector<Expected>& known : expected_) {
            known.clear();
        }
        wanted_whole_.clear();
    }
    /// Runners of which somebody needs a fresh replica.
    [[nodiscard]] std::span<const std::uint16_t> wanted_whole() const { return wanted_whole_; }
    /// Writes the closed packet of a snapshot for a client and notes what it was told. Returns its length.
    std::size_t write(const Crowd& crowd, Seat& seat, SeatId id, Tick tick, SnapshotNumber number,
                      std::span<std::byte> packet);

  private:
    struct Expected {
        SnapshotNumber base{};
        Replica told;     ///< what there is to tell by that base
        Replica replica;  ///< what its readers expect
    };
    void update_views(const Crowd& crowd, Seat& seat, SeatId id, SnapshotNumber number) const;
    /// Lists all that could be told, with how urgent they are and what they may take.
    void list(const Crowd& crowd, Seat& seat, SnapshotNumber number);
    /// `packet_room` are the bytes of the body at most.
    void write_own(wire::Writer& writer, const Crowd& crowd, Seat& seat, Tick tick, std::size_t packet_room,
                   wire::SnapshotHead& head) const;
    void write_entry(wire::Writer& writer, wire::EntryModels& models, const Crowd& crowd, Seat& seat,
                     SentSnapshot& sent, const Shortlist::Candidate& candidate, std::uint16_t from,
                     SnapshotNumber number);
    /// By that base, in this snapshot: many clients have the same.
    [[nodiscard]] const Expected& expected(const Crowd& crowd, std::size_t place, SnapshotNumber base);

    double interest_;
    std::size_t budget_;
    std::uint32_t every_;
    Interest* asked_ = nullptr;
    double tick_seconds_;
    Shortlist shortlist_;
    std::vector<std::vector<Expected>> expected_;  ///< by place
    std::vector<std::uint16_t> wanted_whole_;
};

}  // namespace cursimeter::link
