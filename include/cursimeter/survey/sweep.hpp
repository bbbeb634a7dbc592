#pragma once

#include <cstdint>
#include <cursimeter/chart_spec.hpp>
#include <cursimeter/drill/drill.hpp>
#include <cursimeter/survey/figures.hpp>
#include <functional>
#include <optional>
#include <string>
#include <vector>

/// What becomes of figures as values of a chart are turned.
namespace cursimeter::survey {

/// A value and the numbers that it takes: from, from + step ... up to `to`. A step of 0 stands for any number in between, for samples.
struct SweepAxis {
    std::string path;  ///< see values.hpp
    double from = 0.0, to = 0.0, step = 0.0;
    [[nodiscard]] std::size_t count() const;
    [[nodiscard]] double at(std::size_t index) const;
};
/// "states.sprint.speed.forward=5:9:0.25", or "...=5:9" for samples. Throws ChartError for text that is none, a path that the chart has not, a
/// step that leads nowhere, or more than 10,000 numbers.
[[nodiscard]] SweepAxis read_axis(const std::string& text, const ChartSpec& spec);

struct SweepRow {
    std::vector<double> at;      ///< of each axis
    std::vector<double> values;  ///< of each figure; NaN where the chart does not get there
    std::string trouble;         ///< why the chart cannot be so at all; empty if it can
};
inline constexpr std::size_t most_sweep_axes = 16;
struct SweepPlan {
    std::vector<SweepAxis> axes;       ///< up to `most_sweep_axes`
    std::vector<std::string> figures;  ///< see figures.hpp; with a drill also "leg.sea_wall" and "trial.kept"
    /// A run whose legs and expectations are figures as well. Both must live as long; null: none, and open ground.
    const DrillSpec* drill = nullptr;
    const Course* course = nullptr;
    double rate = 60.0;    ///< ticks a second of that run
    unsigned threads = 0;  ///< 0: as many as there are cores
    /// So many rows by chance in place of all combinations: a Latin hypercube (McKay, Beckman and Conover 1979), in which each
    /// value is spread evenly over its range. The same seed gives the same rows.
    std::optional<std::size_t> sample;
    std::uint64_t seed = 1;
    /// Rows that are known already, say from an interrupted sweep: their values are not found again.
    std::vector<SweepRow> known;
    /// Told after each row that was found, from the calling thread or another, one at a time: how many of all are
    /// done, and the row.
    std::function<void(std::size_t done, std::size_t all, const SweepRow& row)> progress;
    /// Finds rows elsewhere, in place of threads here: calls `found` once for each of the rows whose `at` it is given, in any order,
    /// with what `sweep_row` says of it.
    using Found = std::function<void(std::size_t index, SweepRow row)>;
    std::function<void(const std::vector<std::vector<double>>& rows, const Found& found)> elsewhere;
};
/// All rows, the first axis turning slowest, or those of the sample, whatever the number of threads. Throws ChartError for a plan with no
/// axis, a figure that the chart has not, or a value that the chart does not say.
[[nodiscard]] std::vector<SweepRow> sweep(const ChartSpec& spec, const SweepPlan& plan);

/// A figure of a plan, as the chart has it. Throws ChartError that names the nearest for a name that the plan has not.
[[nodiscard]] Figure sweep_figure(const ChartSpec& spec, const SweepPlan& plan, const std::string& name);

/// One row of it: the plan's figures with its values at these numbers.
[[nodiscard]] SweepRow sweep_row(const ChartSpec& spec, const SweepPlan& plan, std::vector<double> at);

/// How much a value moves a figure.
struct Sensitivity {
    std::size_t figure = 0, axis = 0;  ///< indices in the plan
    double change =
        0.0;  ///< of the figure as the value goes over its range, the others at their means, in the figure's unit
    double part = 0.0;  ///< of the figure's variance, 0 to 1; what the parts leave to 1 is no straight line
};
/// By a straight line through all rows (least squares), by figure, those that move it most first. NaN where too few rows have the figure.
[[nodiscard]] std::vector<Sensitivity> sensitivities(const SweepPlan& plan,
                                                     const std::vector<SweepRow>& rows);

/// What is wanted of a figure.
struct Preference {
    std::size_t figure = 0;  ///< index in the plan
    bool more = true;        ///< rather than less
};
/// The rows that no other beats: none is as good in both figures and better in one (the Pareto front). From the best in the first figure to
/// the best in the second; of rows that are alike the first. Rows without one of the figures are none of them.
[[nodiscard]] std::vector<std::size_t> best_rows(const std::vector<SweepRow>& rows, const Preference& first,
                                                 const Preference& second);

}  // namespace cursimeter::survey
