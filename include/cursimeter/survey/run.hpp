#pragma once

#include <array>
#include <cursimeter/advance.hpp>
#include <cursimeter/course/course.hpp>
#include <cursimeter/drill/drill.hpp>
#include <span>
#include <string>
#include <vector>

/// Running a chart through a drill and keeping what happened. For tools, tests and debug menus; it
/// allocates as it records.
namespace cursimeter::survey {

/// The runner as one tick left it. Times count from the start of the run.
struct Sample {
    double at = 0.0;  ///< s
    StateId state;
    glm::dvec3 position{0.0};   ///< m
    glm::dvec3 velocity{0.0};   ///< m/s
    double speed = 0.0;         ///< m/s
    double speed_target = 0.0;  ///< m/s
    double distance = 0.0;      ///< m
    std::array<double, limits::meters> levels{};
    std::uint32_t on = 0;  ///< bit per action
    bool grounded = true;
};

/// A stretch in one state.
struct Visit {
    StateId state;
    double at = 0.0;        ///< s
    double seconds = 0.0;   ///< until the next visit or the end of the run
    double distance = 0.0;  ///< m walked meanwhile
    Cause cause{};
};

/// An event with its time from the start of the run.
struct TimedEvent {
    double at = 0.0;  ///< s
    Event event{};
};

/// A timed stretch of a course.
struct LegTime {
    std::string name;
    double begun = 0.0, ended = 0.0;  ///< s from the start of the run; NaN where it was not
};

/// What happened in a run.
struct Run {
    double seconds = 0.0;
    double distance = 0.0;  ///< m walked in it
    std::size_t ticks = 0;
    std::uint64_t digest = 0;
    Runner runner;  ///< as the last tick left it
    std::vector<Visit> visits;
    std::vector<TimedEvent> events;
    std::vector<Sample> samples;                  ///< the start, then one per tick; empty if not wanted
    std::array<double, limits::meters> lowest{};  ///< per meter, at any instant
    std::vector<LegTime> legs;                    ///< of the course, if there was one
    std::size_t events_lost = 0;
    std::size_t ticks_capped = 0;  ///< with more instants than a tick may have
};

/// Of one run: nine hours at 60 ticks a second. Kept samples take about 0.25 kB each.
inline constexpr std::size_t most_ticks = 2'000'000;
/// Ends of ticks of even length, s, on a clock that shows `begin` at the start: k / rate, the last one at `begin + seconds`. The rate must
/// be at least 10 a second, so that no tick is longer than `longest_tick`; throws ChartError otherwise, and for more than
/// `most_ticks`.
[[nodiscard]] std::vector<double> even_ticks(double rate, Seconds seconds, Seconds begin = Seconds{0.0});
/// All of a drill, on its clock.
[[nodiscard]] std::vector<double> even_ticks(double rate, const Drill& drill);

class Script;
/// Runs what a script says: a drill or a take (survey/script.hpp). `course` may be null: open ground.
[[nodiscard]] Run run(const Chart& chart, Script& script, const Course* course, bool keep_samples = true);
/// Runs the drill with ticks that end at the given times, s on the drill's clock, ascending from after its begin.
[[nodiscard]] Run run(const Chart& chart, const Drill& drill, std::span<const double> tick_ends,
                      bool keep_samples = true);
/// The same on a course.
[[nodiscard]] Run run(const Chart& chart, const Drill& drill, const Course& course,
                      std::span<const double> tick_ends, bool keep_samples = true);

}  // namespace cursimeter::survey
