#pragma once

#include <cstddef>
#include <cursimeter/chart_spec.hpp>
#include <cursimeter/course/course.hpp>
#include <cursimeter/drill/drill.hpp>
#include <cursimeter/tryout/history.hpp>
#include <optional>
#include <string>
#include <vector>

/// What a history holds, written down for the other tools.
namespace cursimeter::tryout {

/// A stretch of a history as a take (docs/take-format.md), and what of it could be taken.
struct PlayedTake {
    std::vector<std::byte> bytes;
    Moment since;  ///< where it begins: later than asked for if the chart was another one before
    std::size_t ticks = 0;
};
/// `spec` is that of the newest tick's chart. Every tick gives the digest that it gave. Throws ChartError if there is no
/// tick from `since` to `until`, or the spec is of another chart.
[[nodiscard]] PlayedTake record_take(const History& history, Moment since, Moment until,
                                     const std::optional<Course>& course, const ChartSpec& spec,
                                     const std::string& note);

/// The keys, moves and looks of a stretch, from the runner as it was: the same run, to the bit, if the chart stayed the same and
/// ticks ended as `tick_end` has them. Throws ChartError if the stretch is empty, or the character began again within it.
[[nodiscard]] DrillSpec written_drill(const History& history, Moment since, Moment until,
                                      const std::string& name);

}  // namespace cursimeter::tryout
