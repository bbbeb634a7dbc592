#pragma once

#include <cursimeter/chart_spec.hpp>
#include <functional>
#include <string>
#include <vector>

/// What becomes of figures as one or two values of a chart are turned.
namespace cursimeter::survey {

/// A value and the numbers that it takes: from, from + step ... up to `to`.
struct SweepAxis {
    std::string path;  ///< see values.hpp
    double from = 0.0, to = 0.0, step = 0.0;
    [[nodiscard]] std::size_t count() const;
    [[nodiscard]] double at(std::size_t index) const;
};
/// "states.sprint.speed.forward=5:9:0.25". Throws ChartError for text that is none, a path that the chart has not, a
/// step that leads nowhere, or more than 10,000 numbers.
[[nodiscard]] SweepAxis read_axis(const std::string& text, const ChartSpec& spec);

struct SweepRow {
    std::vector<double> at;      ///< of each axis
    std::vector<double> values;  ///< of each figure; NaN where the chart does not get there
    std::string trouble;         ///< why the chart cannot be so at all; empty if it can
};
struct SweepPlan {
    std::vector<SweepAxis> axes;       ///< one or two
    std::vector<std::string> figures;  ///< see figures.hpp
    unsigned threads = 0;              ///< 0: as many as there are cores
    /// Rows that are known already, say from an interrupted sweep: their values are not found again.
    std::vector<SweepRow> known;
    /// Told after each row that was found, from the calling thread or another, one at a time: how many of all are
    /// done, and the row.
    std::function<void(std::size_t done, std::size_t all, const SweepRow& row)> progress;
};
/// All rows, the first axis turning slowest, whatever the number of threads. Throws ChartError for a plan with no axis
/// or a figure that the chart has not.
[[nodiscard]] std::vector<SweepRow> sweep(const ChartSpec& spec, const SweepPlan& plan);

}  // namespace cursimeter::survey
