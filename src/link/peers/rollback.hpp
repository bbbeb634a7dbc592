#pragma once

#include <array>
#include <cursimeter/link/peer_game.hpp>
#include <optional>
#include <vector>

#include "link/neighbours.hpp"
#include "link/wire/stated_intent.hpp"

namespace cursimeter::link {

/// Ticks that are kept.
inline constexpr std::uint32_t moments_kept = 256;

/// The runners of all players, tick by tick: played ahead of what is known, and again when it comes and is another.
class Rollback {
  public:
    Rollback(const std::vector<Chart>& charts, const PeerGameConfig& config);

    /// What a player wants in the tick after the last that is known of it.
    void take(std::size_t player, const StatedIntent& intent);
    /// After this tick, which is known or the one before all that is, it wants nothing any more.
    void end(std::size_t player, std::uint32_t last);

    /// Plays the next tick.
    void tick(Advancer& advancer);
    /// Plays again from the first tick for which something else was known afterwards.
    void settle(Advancer& advancer, PeerStatistics& statistics);

    [[nodiscard]] std::uint32_t now() const { return now_; }
    /// The newest tick of which a player's intent is known, with all before it.
    [[nodiscard]] std::uint32_t known(std::size_t player) const { return players_[player].known; }
    /// The newest of which all are.
    [[nodiscard]] std::uint32_t confirmed() const;
    [[nodiscard]] bool keeps(std::uint32_t tick) const {
        return tick <= now_ && now_ - tick < moments_kept - 1;
    }
    /// What a player wanted in a tick that is known and kept; nothing in tick 0.
    [[nodiscard]] const StatedIntent& intent(std::size_t player, std::uint32_t tick) const {
        return players_[player].wanted[tick % moments_kept];
    }
    [[nodiscard]] const Runner& runner(std::size_t player, std::uint32_t tick) const {
        return players_[player].moments[tick % moments_kept].runner;
    }
    [[nodiscard]] const Chart& chart(std::size_t player) const { return charts_[players_[player].chart]; }
    [[nodiscard]] const Report& report(std::size_t player) const { return players_[player].report; }
    [[nodiscard]] glm::dvec3 shown(std::size_t player, double part) const;
    /// Events of ticks that are known for good since they were last asked for; those that there is no room for are
    /// counted.
    [[nodiscard]] std::optional<RemoteEvent> next_event(PeerStatistics& statistics);
    [[nodiscard]] static RunnerKey key(std::size_t player) { return {static_cast<std::uint16_t>(player), 0}; }

  private:
    static constexpr std::size_t events_a_tick = 12;
    struct Moment {
        Runner runner;        ///< after the tick
        StatedIntent played;  ///< by what it was played
        std::uint8_t event_count = 0;
        bool events_lost = false;
        std::array<RemoteEvent, events_a_tick> events{};
    };
    struct Player {
        std::size_t chart = 0;
        std::vector<Moment> moments;       ///< ring by tick
        std::vector<StatedIntent> wanted;  ///< the same, as far as it is known
        std::uint32_t known = 0;
        std::optional<std::uint32_t> last;  ///< it is gone after this tick
        Report report;
        glm::dvec3 offset{0.0};  ///< of the shown place, fading
    };
    void play(Advancer& advancer, bool first_time);
    void note_change(std::size_t player, std::uint32_t tick, const StatedIntent& intent);
    [[nodiscard]] StatedIntent expected(const Player& player, std::uint32_t tick) const;

    const std::vector<Chart>& charts_;
    double dt_, fade_, visible_limit_;
    EventMask told_events_;
    std::vector<Player> players_;
    Neighbours neighbours_;
    std::uint32_t now_ = 0;
    std::uint32_t changed_;                         ///< the first tick that is to be played again
    std::uint32_t told_ = 0;                        ///< ticks up to here have told their events
    std::size_t told_player_ = 0, told_event_ = 0;  ///< of the tick after it
};

}  // namespace cursimeter::link
