#pragma once

#include <cursimeter/runner.hpp>
#include <string>
#include <string_view>
#include <vector>

namespace cursimeter {

/// A runner as text, for save games, drills and reports of faults: one line of letters and digits, usually 600 to
/// 1,300 of them and more with long names, the same on every machine. It holds all of the runner and the names of its
/// chart. Within one process a copy of the `Runner` does. Allocates. Throws ChartError if the runner is not one of the chart.
[[nodiscard]] std::string save_runner(const Chart& chart, const Runner& runner);

struct RestoredRunner {
    Runner runner;
    /// Every bit is as it was: the chart has the digest and the names of the one that it was saved with.
    bool exact = false;
    /// What another chart could not take over, a line each, as `carry_over` tells it.
    std::vector<std::string> lost;
};

/// A runner of the chart, as `save_runner` wrote it. With another chart than it was saved with (numbers were tuned, things
/// came, went or were renamed with `was`) it is taken over by names, as by `carry_over`. Bytes from strangers are
/// harmless. Throws ChartError if the text is none, is damaged, or was written by a version of the library that keeps other
/// things.
[[nodiscard]] RestoredRunner restore_runner(const Chart& chart, std::string_view saved);

}  // namespace cursimeter
