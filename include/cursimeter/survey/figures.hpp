#pragma once

#include <cursimeter/chart_spec.hpp>
#include <cursimeter/course/course.hpp>
#include <span>
#include <string>
#include <string_view>
#include <vector>

/// A chart's numbers as level designers and animators ask for them: how far, how long, how high.
namespace cursimeter::survey {

/// One number that follows from a chart. Named by what it is of: "sprint.distance", "stamina.recover".
struct Figure {
    std::string name;
    std::string unit;
    double value = 0.0;   ///< NaN where the chart does not get there
    std::string how;      ///< "closed form: ...", "simulated, exact to 1 us", or why there is none
    std::string meaning;  ///< one line
};

/// The figures that a chart has, by name, in the order of its states, meters last. Throws ChartError if the spec
/// does not compile, as all of these do.
[[nodiscard]] std::vector<std::string> figure_names(const ChartSpec& spec, const Course* course = nullptr);

/// All of them. On open ground but for slopes and walls, which are laid out as needed, with an input that does what
/// the state's `enter` asks for. Takes up to a second; a course adds the length of its legs.
[[nodiscard]] std::vector<Figure> figures(const ChartSpec& spec, const Course* course = nullptr);

/// Those of the given names, in that order: the chart is compiled once.
[[nodiscard]] std::vector<Figure> figures(const ChartSpec& spec, std::span<const std::string> names,
                                          const Course* course = nullptr);

/// One of them, at the cost of that one alone: a few microseconds for a closed form, otherwise about a millisecond.
/// Throws ChartError that names the nearest for a name that the chart has not.
[[nodiscard]] Figure figure(const ChartSpec& spec, std::string_view name, const Course* course = nullptr);

}  // namespace cursimeter::survey
