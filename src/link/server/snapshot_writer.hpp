#pragma once

#include "link/server/crowd.hpp"
#include "link/server/seat.hpp"
#include "link/server/shortlist.hpp"
#include "link/wire/script.hpp"

namespace cursimeter::link {

/// Puts snapshots together: the client's own runner, then as many others as fit, the most urgent first. Several can
/// be at work at the same time, each for other clients: they share nothing that they change.
class SnapshotWriter {
  public:
    explicit SnapshotWriter(const ServerConfig& config);
    SnapshotWriter(const SnapshotWriter&) = delete;  // its scripts point at its models
    SnapshotWriter& operator=(const SnapshotWriter&) = delete;
    void set_interest(Interest* interest) { asked_ = interest; }
    /// Before the first client of a snapshot.
    void begin() {
        forget();
        wanted_whole_.clear();
    }
    /// Runners of which somebody needs a fresh replica.
    [[nodiscard]] std::span<const std::uint16_t> wanted_whole() const { return wanted_whole_; }
    /// Writes the closed packet of a snapshot for a client and notes what it was told. Returns its length.
    std::size_t write(const Crowd& crowd, Seat& seat, SeatId id, Tick tick, SnapshotNumber number,
                      std::span<std::byte> packet);

  private:
    /// What there is to tell of a runner by a base, 0: none; as steps of `replicas_`.
    struct Told {
        SnapshotNumber base{};
        std::size_t begin{}, end{};
    };
    /// An entry: its head, its replica if that is told anew, its events.
    using EntrySteps = std::array<std::span<const wire::Step>, 3>;
    void forget();
    void update_views(const Crowd& crowd, Seat& seat, SeatId id, SnapshotNumber number) const;
    /// Lists all that could be told, with how urgent they are and what they may take.
    void list(const Crowd& crowd, Seat& seat, SnapshotNumber number);
    /// `packet_room` are the bytes of the body at most.
    void write_own(wire::Writer& writer, const Crowd& crowd, Seat& seat, Tick tick, std::size_t packet_room,
                   wire::SnapshotHead& head) const;
    /// `from` is the first place that it can be about. The steps are good until the next.
    [[nodiscard]] EntrySteps entry(const Crowd& crowd, Seat& seat, SentSnapshot& sent,
                                   const Shortlist::Candidate& candidate, std::uint16_t from,
                                   SnapshotNumber number);
    /// Its replica, if it is told anew. Many clients have the same base.
    [[nodiscard]] std::span<const wire::Step> replica(const Crowd& crowd, std::size_t place,
                                                      SnapshotNumber base);

    double interest_;
    std::size_t budget_;
    std::uint32_t every_;
    Interest* asked_ = nullptr;
    double tick_seconds_;
    Shortlist shortlist_;
    wire::EntryModels models_;             ///< of which steps tell the places
    wire::Script replicas_, here_;         ///< of this snapshot; of the entry at hand
    wire::Learnt learnt_;                  ///< before the entry at hand
    std::vector<std::vector<Told>> told_;  ///< by place
    std::vector<std::uint16_t> wanted_whole_;
};

}  // namespace cursimeter::link
