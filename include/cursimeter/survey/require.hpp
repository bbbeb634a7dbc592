#pragma once

#include <cstdint>
#include <cursimeter/chart_spec.hpp>
#include <cursimeter/drill/drill.hpp>
#include <optional>
#include <string>
#include <vector>

/// Requirements: what has to be so whatever is pressed. Proven by reasoning over the chart's conditions, meters, cooldowns and times,
/// refuted by a drill that breaks them, or neither.
///
/// A requirement is one of
///   never STATE with TERM, TERM     in that state the terms do not all hold: "never sprint with stamina spent"
///   never TERM, TERM                nor in any state; "never STATE" alone: it is not entered
///   STATE ends within T s           after each entry: "knocked ends within 2 s"
///   STATE possible within T s       from any state, some input brings it about: "jump possible within 3 s". "from walk, slide:
///                                   jump possible within 1 s" begins in those states only
///
/// What is so for 10 ms at most does not count: so long a state that was just left is held back. Proofs hold for every input, world and
/// push; not for what the game does by calls of its own to meters, cooldowns, states and blocks. Those that reason about how fast a
/// runner can be hold as long as nothing but itself makes it faster; see `Ruling::unless`. Drills play on open flat ground.
namespace cursimeter::survey {

enum class Decision : unsigned char { proven, refuted, undecided };
[[nodiscard]] std::string_view to_string(Decision decision);

/// What is to be said of a requirement.
struct Ruling {
    std::string requirement;
    Decision decision = Decision::undecided;
    std::string because;              ///< what proves it; what the drill shows; how far it was searched
    std::string unless;               ///< what the proof does not cover besides; empty: nothing
    std::optional<DrillSpec> breach;  ///< a short drill that breaks it; it was played to make sure
    double at = 0.0;                  ///< s; when it is broken
};

struct RequirePlan {
    std::uint64_t ticks = 1'000'000;  ///< to be played in search of a breach; about 0.3 us each
    std::uint64_t seed = 1;           ///< one seed gives one answer
    double rate = 60.0;               ///< ticks a second of the drills, 10 to 1000
};

/// Rules on one requirement. Throws ChartError for text that is none (path "require", with what would be), for terms that are wrong, and
/// for a chart that has no room for them (64 states).
[[nodiscard]] Ruling rule_on(const ChartSpec& spec, const std::string& requirement,
                             const RequirePlan& plan = {});

}  // namespace cursimeter::survey
