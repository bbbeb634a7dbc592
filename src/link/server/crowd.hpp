#pragma once

#include <array>
#include <cursimeter/link/server.hpp>
#include <optional>
#include <vector>

#include "link/neighbours.hpp"
#include "link/wire/snapshot_coding.hpp"
#include "link/wire/stated_intent.hpp"

/// The server's runners: the truth, what others are told of it, and what it was in the last second.
namespace cursimeter::link {

/// A snapshot by its number: its tick divided by the ticks from one to the next.
using SnapshotNumber = std::uint32_t;

/// Where a runner was after a tick.
struct Trail {
    glm::dvec3 position{0.0}, velocity{0.0};
    Look look;
    StateId state;
    std::uint32_t tick = 0;
    std::uint8_t teleports = 0;
};

/// Events that are kept for clients that have not heard of them.
inline constexpr std::uint32_t events_kept = 256;
/// One of the server's runners.
struct Actor {
    bool used = false;
    bool fresh = true;  ///< no snapshot has told of it yet
    std::uint16_t life = 0;
    std::uint8_t chart = 0;
    std::uint8_t teleports = 0;
    std::optional<SeatId> owner;
    std::uint8_t player = 0;  ///< of that client
    Runner runner;
    Report report;
    StatedIntent directed;
    StatedIntent played;               ///< what it was made to want in the last tick
    Replica wishes;                    ///< what it wanted after the last tick; only these fields count
    std::optional<FineTime> acted_at;  ///< when move or actions of that first changed since the last snapshot
    detail::ActionMask pressed = 0;    ///< those pressed since the last snapshot
    double rising = 0.0;               ///< m/s, of the ground underfoot in the last tick
    SnapshotNumber refreshed =
        0;                      ///< the last snapshot that was not as predicted, or was to be told as a whole
    bool wanted_whole = false;  ///< somebody needs a fresh one
    std::uint32_t next_event = 0;
    std::uint32_t since = 0;  ///< tick of its spawn
    std::array<Replica, wire::replicas_kept> told{};
    std::array<wire::ToldEvent, events_kept> events{};
    std::vector<Trail> trail;  ///< ring by tick
};

class Crowd {
  public:
    Crowd(const std::vector<Chart>& charts, const ServerConfig& config);

    std::optional<RunnerKey> spawn(std::size_t chart, const Placement& placement, std::optional<SeatId> owner,
                                   std::size_t player, Tick now);
    void despawn(std::uint16_t place);
    [[nodiscard]] bool exists(RunnerKey key) const;
    /// Throws std::out_of_range if there is none.
    [[nodiscard]] Actor& at(RunnerKey key);
    [[nodiscard]] std::vector<Actor>& actors() { return actors_; }
    [[nodiscard]] const std::vector<Actor>& actors() const { return actors_; }
    [[nodiscard]] const Cast& cast(const Actor& actor) const { return casts_[actor.chart]; }
    [[nodiscard]] RunnerKey key(std::size_t place) const {
        return {static_cast<std::uint16_t>(place), actors_[place].life};
    }

    /// Moves one runner on; notes its events and where it is then.
    void advance(Actor& actor, const StatedIntent& intent, Advancer& advancer, Tick tick);
    /// Notes where all are before a tick, for an advancer that wants to know.
    void note_neighbours(bool wanted);
    /// Finds out what all replicas are at a snapshot.
    void take_snapshot(SnapshotNumber number);
    /// What a client that has the replica of an older snapshot expects of the last one that was told anew, rounded.
    [[nodiscard]] Replica expected(std::size_t place, SnapshotNumber base, const Replica& told) const;
    /// What there is to tell of it to those who have that base: its newest replica, and since when it has been turning.
    [[nodiscard]] Replica told_by(std::size_t place, SnapshotNumber base) const;
    /// Where it was at a time in ticks, if that is still known.
    [[nodiscard]] std::optional<Seen> seen(const Actor& actor, double time) const;

  private:
    void note_wishes(Actor& actor, const Intent& intent, Tick tick) const;
    /// Up to when it looked as in that replica, on the way from one snapshot to another.
    [[nodiscard]] FineTime still_until(const Actor& actor, const Replica& base, SnapshotNumber from,
                                       SnapshotNumber to) const;
    void note_event(Actor& actor, const Event& event, Tick tick);

    std::vector<Cast> casts_;
    double dt_;
    SnapshotInterval interval_;
    EventMask told_events_;
    std::vector<Actor> actors_;
    Neighbours neighbours_;  ///< before this tick, if they are wanted
};

}  // namespace cursimeter::link
