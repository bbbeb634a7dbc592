#pragma once

#include <cursimeter/survey/run.hpp>
#include <cursimeter/survey/script.hpp>
#include <optional>

/// Why a state is taken, and why each other is not: read off the very choices that the core made.
namespace cursimeter::survey {

/// One choice among the states, with all facts on which it rested.
struct Moment {
    double at = 0.0;  ///< s from the start of the run
    StateId state;    ///< the one it was in
    detail::Facts facts;
    std::uint64_t held_back = 0;  ///< bit per state that was left too lately to come back by itself
    std::uint64_t banned = 0;     ///< bit per state that a block bans
    StateId taken;                ///< the one it is in from then on
    bool changed = false;
    Cause cause{};
};

/// How a state stands at a moment.
enum class StandingKind : std::uint8_t {
    taken,      ///< it is, or is to be, the runner's state
    fails,      ///< a term of its condition does not hold
    after,      ///< its `from` does not list the state that the runner is in
    banned,     ///< a block bans it
    outranked,  ///< its condition holds, but another state comes first
    held_back,  ///< it was left less than `shortest_return` ago: conditions undo each other
};

struct TermReading {
    std::uint16_t term = 0;  ///< number among the chart's terms
    std::string text;        ///< "stamina >= 10"
    std::string path;        ///< "states.sprint.enter[4]"
    bool holds = false;
    bool momentary = false;  ///< a press or release: holds for an instant only
};

struct Standing {
    StateId state;
    StandingKind kind = StandingKind::fails;
    bool by_stay = false;  ///< the runner is in it, so that its `stay` was asked
    /// One list of terms per clause; any one of them must hold in full. Empty: always.
    std::vector<std::vector<TermReading>> clauses;
    /// Of `fails`: the first term that does not hold, in the clause that lacks the fewest.
    std::optional<TermReading> failing;
    StateId first;  ///< of `outranked`: the state that comes first
};

[[nodiscard]] Standing standing(const Chart& chart, const Moment& moment, StateId state);
/// "taken", "no: stamina >= 10 does not hold"; `current` is the state that the runner is in.
[[nodiscard]] std::string describe(const Chart& chart, const Standing& standing, StateId current);
/// The moment as it would be if a term held, or did not.
[[nodiscard]] Moment suppose(const Chart& chart, Moment moment, std::uint16_t term, bool holds);

/// A run with every choice that was made in it, and each moment, to a microsecond, at which a fact changed that
/// changed nothing.
struct WatchedRun {
    Run run;
    std::vector<Moment> moments;  ///< in order of time; none between two means that nothing changed
};
/// `run`, watched: the same run, bit for bit. `course` may be null: open ground.
[[nodiscard]] WatchedRun watch(const Chart& chart, Script& script, const Course* course,
                               bool keep_samples = false);
[[nodiscard]] WatchedRun watch(const Chart& chart, const Drill& drill, const Course* course,
                               std::span<const double> tick_ends, bool keep_samples = false);

/// Whether a change comes of what the player did: of a key or a move that a term asks for. Otherwise the world or the
/// runner's own state brought it about.
[[nodiscard]] bool is_by_hand(const Chart& chart, const Cause& cause);

/// What a term compares, as it is: "stamina 7.3", "speed 2.4 m/s"; empty for a plain fact.
[[nodiscard]] std::string read_term_value(const Chart& chart, const Runner& runner, std::uint16_t term);

/// The stretch of a run in which a term stays as it is at a moment.
struct Stretch {
    double since = 0.0;  ///< s; the run's start if it has been so ever since
    double until = 0.0;  ///< s; NaN if it stays so to the end of the run
};

struct StateExplanation {
    Standing standing;
    std::vector<std::vector<std::string>> values;  ///< by clause and term; see read_term_value
    std::optional<Stretch> failing_stretch;        ///< of `fails`
};
struct Explanation {
    double at = 0.0;
    StateId state;
    double since = 0.0;                  ///< s; when the state was entered
    Cause cause{};                       ///< why
    std::vector<StateExplanation> rank;  ///< every state, in rank order
};
/// At a time of a run, s from its start. The moment is the last one at or before it; presses count at their very
/// instant only.
[[nodiscard]] Explanation explain(const Chart& chart, Script& script, const Course* course, Seconds at);
[[nodiscard]] Explanation explain(const Chart& chart, const Drill& drill, const Course* course,
                                  std::span<const double> tick_ends, Seconds at);

/// Every state in rank order as it stands for a live runner, with what its terms compare. Presses and stretches of time
/// are not seen: those are `explain`'s. For a debug menu, a few dozen microseconds; allocates.
[[nodiscard]] std::vector<StateExplanation> read_rank(const Chart& chart, const Runner& runner);

/// A stretch in which a state was wanted and not taken: all that its `enter` asks of the player's keys was done.
struct Denial {
    double from = 0.0, until = 0.0;  ///< s; the same for a press that came to nothing
    Standing standing;               ///< at its start
};
/// In order of time. States that no key asks for are never denied.
[[nodiscard]] std::vector<Denial> denials(const Chart& chart, const WatchedRun& watched, StateId state);

}  // namespace cursimeter::survey
