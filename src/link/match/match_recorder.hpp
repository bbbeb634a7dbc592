#pragma once

#include <cursimeter/link/match.hpp>
#include <vector>

#include "link/match/match_coding.hpp"
#include "link/server/crowd.hpp"

namespace cursimeter::link {

/// What is recorded of the tick that is played now.
struct MatchRecorder::Work {
    /// Of a place for a runner, as it was last recorded.
    struct Seen {
        bool used = false;
        std::uint16_t life = 0;
        std::uint64_t digest = 0;
        StatedIntent intent;
        wire::IntentModels models;
    };

    [[nodiscard]] bool fits(const Crowd& crowd, const std::vector<Chart>& charts) const;
    /// Before a tick, once all is done that the game does between two.
    void begin(const Crowd& crowd, Tick tick) noexcept;
    void end(const Crowd& crowd) noexcept;

    std::vector<std::byte> bytes;
    std::vector<std::byte> block;  ///< room for the largest tick
    std::vector<Seen> seen;
    std::vector<std::uint64_t> charts;  ///< their digests
    match::Models models;
    std::optional<wire::Writer> writer;
    std::uint32_t last_tick = 0, ticks = 0, whole_every = 0;
    bool whole = false;
    bool over = false;
};

}  // namespace cursimeter::link
