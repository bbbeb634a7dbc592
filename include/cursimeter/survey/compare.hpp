#pragma once

#include <cursimeter/survey/run.hpp>
#include <string>
#include <vector>

/// What has changed between two runs of the same drill, say before and after a chart was edited.
namespace cursimeter::survey {

enum class RunChangeKind : unsigned char {
    moved,    ///< the visit begins or ends at another time
    added,    ///< a visit that the run before had not
    removed,  ///< a visit that it had
};
struct RunChange {
    RunChangeKind kind = RunChangeKind::moved;
    std::string state;
    double at_before = 0.0, at_after = 0.0;            ///< s
    double seconds_before = 0.0, seconds_after = 0.0;  ///< of the visit
};
/// Visits that belong together are found by the longest row of states that both runs have in common. Times that differ
/// by less than `within` are the same.
[[nodiscard]] std::vector<RunChange> compare_runs(const Chart& chart_before, const Run& before,
                                                  const Chart& chart_after, const Run& after,
                                                  Seconds within = Seconds{1e-6});

}  // namespace cursimeter::survey
