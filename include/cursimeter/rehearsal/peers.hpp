#pragma once

#include <cursimeter/link/peer_game.hpp>
#include <cursimeter/rehearsal/rehearsal.hpp>
#include <vector>

namespace cursimeter::rehearsal {

/// Players without a server, each linked to each, in virtual time.
struct PeerPlan {
    std::size_t players = 2;  ///< 2 to 4
    double seconds = 60.0;
    std::uint64_t seed = 1;
    LinkFaults faults;            ///< of each way
    link::PeerGameConfig config;  ///< but for players, own and session
    double start_apart = 2.0;     ///< m
    double frame_rate = 144.0;    ///< turns of each program's loop a second
    Seconds stall{0.0};           ///< for which each program stands still every 10 s, one after the other
};

/// How one end did. Sizes in m.
struct PeerEndResult {
    link::PeerPhase phase = link::PeerPhase::joining;
    link::PeerStatistics statistics;
    double bytes_up_per_s = 0.0, packets_up_per_s = 0.0;  ///< to all others together
    /// By how much others' places were off when their tick was played first.
    double error_median = 0.0, error_p99 = 0.0, error_max = 0.0;
};
struct PeerResult {
    std::vector<PeerEndResult> ends;
    std::uint32_t confirmed = 0;  ///< ticks that are known for good at all ends
    bool same = true;             ///< all runners after each of them are the same at all ends, to the bit
    std::uint64_t digest = 0;     ///< of all runners after the last of them
};

/// Human hands play the scene's chart on open ground, or over its course; everybody begins where its first drill
/// does, beside one another.
[[nodiscard]] PeerResult rehearse_peers(const Scene& scene, const PeerPlan& plan);

}  // namespace cursimeter::rehearsal
