#pragma once

#include <cursimeter/chart_spec.hpp>
#include <functional>
#include <optional>
#include <string>
#include <vector>

/// The other way round: figures that are wanted, and the chart values that give them.
namespace cursimeter::survey {

struct Wish {
    std::string figure;  ///< see figures.hpp
    double value = 0.0;
    std::string unit;
};
/// "sprint.distance = 40 m". Throws ChartError for a figure that the chart has not, or another unit than the figure's.
[[nodiscard]] Wish read_wish(const std::string& text, const ChartSpec& spec);

/// A value that may be turned, and how far.
struct FitRange {
    std::string path;  ///< see values.hpp
    std::optional<double> from,
        to;  ///< the whole range of the key around a quarter to four times its value, if not said
};
/// "states.sprint.speed.forward", or with "=5:9" behind it. Throws ChartError.
[[nodiscard]] FitRange read_fit_range(const std::string& text, const ChartSpec& spec);

struct FitPlan {
    std::vector<Wish> wishes;
    std::vector<FitRange> vary;
    std::optional<double> keep_within;  ///< fraction by which a value without a range may change
    std::function<void(std::size_t tried)> progress{};  ///< gets the number of charts tried, if it is given
};

struct FitValue {
    std::string path, unit;
    double before = 0.0, after = 0.0;
    double least = 0.0, most = 0.0;  ///< that were allowed
    bool at_bound = false;
};
struct FitWish {
    Wish wish;
    double before = 0.0, reached = 0.0;
    bool met = false;  ///< to 0.1 %
};
struct Fit {
    ChartSpec spec;  ///< with the values found
    std::vector<FitValue> values;
    std::vector<FitWish> wishes;
    bool met = false;  ///< all of them
    /// Pairs of wishes that pull the values in opposite ways, by index; none if all are met.
    std::vector<std::pair<std::size_t, std::size_t>> conflicts;
    std::size_t charts = 0;  ///< that were tried
};

/// Looks for values that meet all wishes, as near to the chart's own as it can; where that cannot be, for those that
/// miss them least (squares of relative errors). Deterministic. A hundred to a few thousand charts: up to some seconds.
/// Throws ChartError for a plan without wishes or values.
[[nodiscard]] Fit fit(const ChartSpec& spec, const FitPlan& plan);

}  // namespace cursimeter::survey
