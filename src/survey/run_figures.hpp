#pragma once

#include <cursimeter/survey/figures.hpp>
#include <cursimeter/survey/sweep.hpp>

/// Figures of a run of a sweep's drill, beside those of the chart.
namespace cursimeter::survey {

/// Those that a plan has: "leg.sea_wall" in s for each leg of its course, "trial.kept" if its drill expects something. None without a
/// drill.
[[nodiscard]] std::vector<Figure> run_figures(const SweepPlan& plan);
/// Their values for a chart, by name; NaN for a leg that was not finished.
[[nodiscard]] std::vector<Figure> run_figures(const ChartSpec& spec, const SweepPlan& plan);

}  // namespace cursimeter::survey
