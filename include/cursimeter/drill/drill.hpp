#pragma once

#include <array>
#include <cursimeter/chart.hpp>
#include <cursimeter/intent.hpp>
#include <cursimeter/runner.hpp>
#include <cursimeter/saved_runner.hpp>
#include <optional>
#include <string>
#include <vector>

/// A drill is a scripted input sequence: the same presses and moves at the same times, whatever the
/// tick rate. Drills drive tests, tools and demos; their file format is in docs/drill-reference.md.
namespace cursimeter {

namespace detail {
class Findings;
}

/// A wanted look, in degrees.
struct LookSpec {
    Degrees yaw{0.0};
    Degrees pitch{0.0};
    friend bool operator==(const LookSpec&, const LookSpec&) = default;
};

/// What happens at one time of a drill. Within a step: release, then hold, then press, move, look.
struct StepSpec {
    double at = 0.0;                   ///< s
    std::vector<std::string> hold;     ///< keys that go down and stay down
    std::vector<std::string> release;  ///< keys that go up
    std::vector<std::string> press;    ///< keys that go down and up again after `press_seconds`
    std::optional<Move> move;          ///< stays until the next one
    std::optional<LookSpec> look;      ///< stays until the next one
    friend bool operator==(const StepSpec&, const StepSpec&) = default;
};

/// Steps that are repeated: pass i (from 0) begins at `from + i * every`.
struct RepeatSpec {
    double from = 0.0;   ///< s
    double every = 0.0;  ///< s
    int times = 1;
    std::vector<StepSpec> steps;  ///< `at` counts from the start of each pass
    friend bool operator==(const RepeatSpec&, const RepeatSpec&) = default;
};

/// What is expected of a run of the drill: `survey::judge` holds runs against it, nothing else reads it. What must hold is all of
/// `state`, `holds` and `never` that is said, or the time of a course's leg. When: at a time, in a stretch of time, or each
/// time that `after` comes to hold; by default all the time.
struct ExpectSpec {
    std::optional<std::string> state;  ///< the state that the runner is in
    std::vector<std::string> holds;    ///< terms as in a chart's conditions: all of them hold
    std::vector<std::string> never;    ///< terms that do not all hold together
    std::optional<std::string> leg;  ///< of the course: is finished, in the time that `least` and `most` say
    std::optional<double> least, most;  ///< s
    std::optional<double> at;           ///< s
    std::optional<double> from, to;     ///< s; the start and the end of the drill if only one is said
    std::optional<std::string> after;   ///< a term: each time that it comes to hold
    std::optional<double> within;       ///< s: at some time in so many seconds from `at` or `after` on
    friend bool operator==(const ExpectSpec&, const ExpectSpec&) = default;
};

/// Either a place, where the runner begins at rest with full meters, or a runner that was saved.
struct StartSpec {
    std::optional<std::array<double, 3>> position{};  ///< m; the origin if it is not said
    std::optional<Degrees> yaw{};                     ///< 0 if it is not said
    /// As `save_runner` wrote it: it goes on with all that it had, keys that are down too.
    std::optional<std::string> runner{};
    /// s: what a course's clock shows then, by which its moving parts stand; 0 if it is not said.
    std::optional<double> time{};
    Facing facing = Facing::look;  ///< all through the drill

    /// Where a runner that was not saved begins.
    [[nodiscard]] Placement place() const;
    friend bool operator==(const StartSpec&, const StartSpec&) = default;
};

struct DrillSpec {
    std::string name;
    double seconds = 0.0;         ///< length of the drill
    double press_seconds = 0.05;  ///< how long a `press` keeps its key down
    StartSpec start;
    std::vector<std::string> set_hold;    ///< actions that the player has set to hold
    std::vector<std::string> set_toggle;  ///< actions that the player has set to toggle
    std::vector<StepSpec> steps;
    std::vector<RepeatSpec> repeats;
    std::vector<ExpectSpec> expects;
    friend bool operator==(const DrillSpec&, const DrillSpec&) = default;
};

/// A drill for one chart: its actions resolved, its repeats laid out, its changes in order of time.
class Drill {
  public:
    /// Throws ChartError with every diagnostic (unknown actions, times out of range or order).
    Drill(const DrillSpec& spec, const Chart& chart);

    [[nodiscard]] const std::string& name() const { return name_; }
    [[nodiscard]] Seconds length() const { return Seconds{seconds_}; }
    /// `Chart::naming` of the chart that it was made for.
    [[nodiscard]] std::uint32_t naming() const { return naming_; }
    /// A runner placed and set as the drill begins, or the saved one. Throws ChartError for a chart with other names.
    [[nodiscard]] Runner spawn(const Chart& chart) const;
    /// The runner from which it goes on, as its chart took it over; nothing if it begins at rest.
    [[nodiscard]] const std::optional<RestoredRunner>& saved() const { return saved_; }
    /// The drill's clock at its start, which is the course's clock: `StartSpec::time`.
    [[nodiscard]] Seconds begin() const { return Seconds{begin_}; }
    /// What the runner faces, all through it.
    [[nodiscard]] Facing facing() const { return facing_; }
    /// The changes in order; `at` is a time on the drill's clock.
    [[nodiscard]] std::span<const Change> changes() const { return changes_; }

  private:
    void restore(const StartSpec& start, const Chart& chart, detail::Findings& findings);

    std::string name_;
    std::uint32_t naming_ = 0;
    double seconds_ = 0.0;
    double begin_ = 0.0;
    Facing facing_ = Facing::look;
    Placement start_;
    std::string saved_text_;               ///< empty, or the saved runner, for further charts
    std::optional<RestoredRunner> saved_;  ///< of the chart that the drill was made for
    std::uint64_t chart_digest_ = 0;
    std::vector<std::pair<ActionId, PressMode>> press_modes_;
    std::vector<Change> changes_;
};

/// Throws ChartError if the drill goes on from a saved runner, or from a time other than 0: for those whose runners begin at a
/// place, with their world.
void require_fresh_start(const Drill& drill);

/// The end of a tick on a clock that shows `begin` at the start of tick 0, s, with `rate` ticks a second. Where `begin` is itself the end of such a
/// tick, ends are to the bit those that were counted from 0.
[[nodiscard]] double tick_end(double rate, double begin, std::uint64_t tick);

/// The hands of somebody who begins to play a runner: nothing held, no move, looking level the runner's way.
[[nodiscard]] Intent empty_hands(const Runner& runner);
/// The hands as they were in the last tick of the runner, to go on with.
[[nodiscard]] Intent hands_of(const Runner& runner);

/// Plays a drill tick by tick. A change belongs to the tick in whose [begin, end) it lies.
class DrillPlayer {
  public:
    /// `runner` is the one that the drill spawned; the drill must outlive the player.
    DrillPlayer(const Drill& drill, const Runner& runner);
    /// The intent for the tick from `begin` to `end`, s on the drill's clock; valid until the next call. Ticks must follow one
    /// another.
    [[nodiscard]] Intent intent(double begin, double end);

  private:
    const Drill* drill_;
    std::size_t next_ = 0;
    std::vector<Change> tick_changes_;
    Intent hands_;  ///< how things are at the next tick's start
};

}  // namespace cursimeter
