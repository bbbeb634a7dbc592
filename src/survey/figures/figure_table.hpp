#pragma once

#include <cursimeter/chart.hpp>
#include <cursimeter/chart_spec.hpp>
#include <cursimeter/course/course.hpp>
#include <functional>
#include <limits>
#include <string>
#include <vector>

#include "core/chart/chart_data.hpp"

/// The table of figures: each with the function that finds it, so that one can be asked for alone.
namespace cursimeter::survey {

inline constexpr double no_figure = std::numeric_limits<double>::quiet_NaN();
inline const std::string simulated = "simulated, exact to 1 us and 1 um";

/// A leg's name as a part of a figure's: "sea wall" is sea_wall.
[[nodiscard]] std::string name_part(const std::string& text);

struct Answer {
    double value = no_figure;
    std::string how;
};

/// What figures are found from.
struct FigureSource {
    const ChartSpec& spec;
    Chart chart;
    const Course* course = nullptr;
    [[nodiscard]] const detail::ChartData& data() const { return chart.data(); }
    [[nodiscard]] const detail::CompiledState& state(std::uint8_t index) const {
        return chart.data().states[index];
    }
};

struct FigureEntry {
    std::string name, unit, meaning;
    std::function<Answer()> find;
};
using FigureTable = std::vector<FigureEntry>;

/// Speeding up, stopping, turning round (figures_ground.cpp).
void add_ground_figures(FigureTable& table, const FigureSource& source, std::uint8_t state);
/// What draining a meter allows, and what comes back (figures_meters.cpp).
void add_effort_figures(FigureTable& table, const FigureSource& source, std::uint8_t state);
void add_meter_figures(FigureTable& table, const FigureSource& source, std::uint8_t meter);
/// Jumps, bursts, slides, wall runs and flight (figures_kinds.cpp).
void add_kind_figures(FigureTable& table, const FigureSource& source, std::uint8_t state);
/// The widest gap that a jump clears, and a burst with a jump (gap.cpp).
void add_gap_figure(FigureTable& table, const FigureSource& source, std::uint8_t jump);
void add_burst_gap_figure(FigureTable& table, const FigureSource& source, std::uint8_t burst);
/// The highest ledge that a jump gets onto, a burst that goes by the look, and a run along a wall (ledge.cpp).
void add_ledge_figure(FigureTable& table, const FigureSource& source, std::uint8_t jump);
void add_burst_ledge_figure(FigureTable& table, const FigureSource& source, std::uint8_t burst);
void add_wall_ledge_figure(FigureTable& table, const FigureSource& source, std::uint8_t wall);
/// The ground states that input alone brings about, slowest first.
[[nodiscard]] std::vector<std::uint8_t> run_up_states(const FigureSource& source);

}  // namespace cursimeter::survey
