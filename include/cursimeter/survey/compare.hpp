#pragma once

#include <cstdint>
#include <cursimeter/survey/run.hpp>
#include <optional>
#include <string>
#include <vector>

/// What has changed between two runs of the same drill, say before and after a chart was edited, or at two tick rates.
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

/// A digest of the states and their causes, in order and by name: the same at any tick rate. Times and places are left out, because
/// rounded ones would fall on either side of a border now and then; `rate_gap` measures them.
[[nodiscard]] std::uint64_t states_digest(const Chart& chart, const Run& run);

/// How far apart two runs of one chart and drill are that differ in the ticks.
struct RateGap {
    std::optional<std::size_t>
        first;             ///< visit whose state or cause differs, or that only one of the two has
    double seconds = 0.0;  ///< most between the beginnings of visits before that, s
    double metres = 0.0;   ///< between the places at the end, m
};
[[nodiscard]] RateGap rate_gap(const Chart& chart, const Run& one, const Run& other);

}  // namespace cursimeter::survey
