#pragma once

#include <cursimeter/chart_spec.hpp>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

/// The numbers of a chart by their path, "states.sprint.speed.forward": for code that changes them, tools above all.
/// Elements of lists count from 1: "states.jump.launch.heights[1]". Of a gain curve's point, [1] is the time and
/// [2] the fraction: "states.sprint.gain.up_curve[2][1]".
namespace cursimeter::survey {

/// One number of a chart.
struct ChartValue {
    std::string path;
    std::string unit;             ///< "m/s"; empty where it has none
    std::optional<double> value;  ///< as it holds, `like` included; empty where neither says it
    bool said = false;            ///< whether the chart says it itself, not by `like`
    double least = 0.0, most = 0.0;
    bool above_least = false;  ///< `least` itself is out of range
    bool whole = false;        ///< a count
    std::string
        fallback;         ///< what holds where nobody says it, in the reference's words: "0.35", "as forward"
    std::string meaning;  ///< one line
};

/// All numbers, in the order of the chart reference. A number that nobody says (a default) has no value.
[[nodiscard]] std::vector<ChartValue> chart_values(const ChartSpec& spec);

/// One of them. Throws ChartError that names the nearest path there is.
[[nodiscard]] ChartValue chart_value(const ChartSpec& spec, std::string_view path);

/// Says a number. Throws ChartError, with nothing changed, for a path that there is not or a value out of its
/// range; whether the chart as a whole still compiles is `compile`'s to say.
void set_chart_value(ChartSpec& spec, std::string_view path, double value);

}  // namespace cursimeter::survey
