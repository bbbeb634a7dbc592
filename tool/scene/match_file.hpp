#pragma once

#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/link/match.hpp>
#include <optional>
#include <string>
#include <vector>

/// Recorded matches, played again.
namespace cursimeter::tool {

/// Whether a file's bytes are those of a match, and not of a take.
[[nodiscard]] bool is_match(const std::string& bytes);

/// One runner of a match, from its spawn to its end.
struct MatchRunner {
    link::RunnerKey key;
    Chart chart;
    std::optional<link::SeatId> owner;
    std::uint32_t first = 0, last = 0;  ///< ticks that it played
    double walked = 0.0;                ///< m
    glm::dvec3 place{0.0};              ///< m, in the end
    StateId state;                      ///< the same
};

/// What a match comes to when it is played again.
struct MatchResult {
    link::Match match;
    std::string course;                ///< its name; empty: open ground
    std::vector<MatchRunner> runners;  ///< in the order in which they came
    std::uint32_t first_tick = 0;
    std::uint64_t differing = 0;  ///< runners' ticks that came out otherwise
    struct First {
        std::uint32_t tick;
        std::size_t runner;  ///< index
    };
    std::optional<First> first;
    std::string take;  ///< of the runner that was asked for
};

/// Plays it, and makes a take of the runner with this number, from 1, if one is asked for. `charts` are files for a
/// match that has none in it. Throws ChartError for what is no match, and a runner that there is not.
[[nodiscard]] MatchResult play_match(const std::string& bytes, const std::string& file,
                                     const std::vector<std::string>& charts,
                                     std::optional<std::size_t> runner);

}  // namespace cursimeter::tool
