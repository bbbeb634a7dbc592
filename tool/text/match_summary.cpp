#include "text/match_summary.hpp"

#include <fmt/format.h>

#include <iterator>

namespace cursimeter::tool {

std::string match_summary(const MatchResult& result, const std::string& file) {
    std::string text;
    const auto print = [&]<class... Args>(fmt::format_string<Args...> format, Args&&... args) {
        fmt::format_to(std::back_inserter(text), format, std::forward<Args>(args)...);
    };
    const link::Match& match = result.match;
    // Seconds count from the match's first tick.
    const auto at = [&](std::uint32_t tick) { return (tick - result.first_tick) / match.tick_rate; };
    print("{}: {}, {} runner{}, {} ticks, {:.3f} s at {:g} ticks a second{}\n", file,
          match.origin.note.empty() ? "no note" : match.origin.note, result.runners.size(),
          result.runners.size() == 1 ? "" : "s", match.ticks, match.ticks / match.tick_rate, match.tick_rate,
          result.course.empty() ? "" : ", on course " + result.course);
    if (match.cut_short) {
        print("the last tick of the match is not whole and was left out\n");
    }
    if (!result.first) {
        print("the same, bit for bit\n");
    } else {
        print("differs first in tick {}, at {:.3f} s: runner {}; {} of its and others' ticks differ\n",
              result.first->tick, at(result.first->tick), result.first->runner + 1, result.differing);
    }
    print("\nrunner  chart         seat     from s    until s    walked  in the end\n");
    for (std::size_t i = 0; i < result.runners.size(); ++i) {
        const MatchRunner& runner = result.runners[i];
        print("{:>6}  {:<12}  {:>4}  {:>9.3f}  {:>9.3f}  {:>6.2f} m  {} at ({:.2f}, {:.2f}, {:.2f})\n", i + 1,
              runner.chart.name(), runner.owner ? fmt::format("{}", runner.owner->index) : "-",
              at(runner.first), at(runner.last + 1), runner.walked, runner.chart.name(runner.state),
              runner.place.x, runner.place.y, runner.place.z);
    }
    return text;
}

}  // namespace cursimeter::tool
