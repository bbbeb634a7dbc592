#pragma once

#include <cursimeter/survey/why.hpp>
#include <functional>
#include <string>
#include <vector>

/// Does a chart still do what was agreed? A drill's expectations (`ExpectSpec`), held against runs of it.
namespace cursimeter::survey {

/// What became of one expectation in one run.
struct Verdict {
    std::size_t expect = 0;  ///< index among the drill's
    std::string said;        ///< "sprint from 3 to 9 s", "jump within 0.1 s after jump pressed"
    bool kept = true;
    double at = 0.0;      ///< s, when it was first not so; of a leg NaN
    std::string instead;  ///< "walk", "stamina 7.3", "2.61 s"
    std::string
        why;  ///< of a state: "sprint: no: stamina >= 10 does not hold (stamina 0)", or "walk: enter: ...", what came
};

/// All expectations of a drill against one run of it, ticks ending at `tick_ends`; `course` may be null. Times are exact to a
/// microsecond, so the verdicts are the same at any tick rate (in a world to the millisecond to which contacts are).
/// Throws ChartError if a term is wrong, a leg is not the course's, or the chart has no room for the terms (64 states).
[[nodiscard]] std::vector<Verdict> judge(const ChartSpec& chart, const DrillSpec& drill, const Course* course,
                                         std::span<const double> tick_ends);

/// A run that is to be judged, in even ticks. What it points to outlives the judging.
struct TrialRun {
    const ChartSpec* chart = nullptr;
    const DrillSpec* drill = nullptr;
    const Course* course = nullptr;  ///< null: open flat ground
    double rate = 60.0;              ///< ticks a second, 10 to 1000
};
struct Judged {
    std::vector<Verdict> verdicts;
    std::vector<Diagnostic> wrong;  ///< why it could not be judged: what `judge` would have thrown
};
/// Gets the number of runs judged so far, from any thread, one at a time.
using TrialProgress = std::function<void(std::size_t done)>;
/// All of them, on so many threads (0: as many as there are cores), which changes nothing in what comes out.
[[nodiscard]] std::vector<Judged> judge_all(std::span<const TrialRun> runs, unsigned threads = 0,
                                            const TrialProgress& progress = {});

/// Expectations that a run of the drill keeps, to begin from: the state in the middle of each visit of 0.2 s and more, and the
/// course's legs with their times, rounded up to a tenth of a second.
[[nodiscard]] std::vector<ExpectSpec> propose_expectations(const ChartSpec& chart, const DrillSpec& drill,
                                                           const Course* course,
                                                           std::span<const double> tick_ends);

}  // namespace cursimeter::survey
