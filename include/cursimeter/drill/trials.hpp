#pragma once

#include <optional>
#include <string>
#include <vector>

/// What is to be tried, all at once: the trials file of docs/trials-reference.md.
namespace cursimeter {

/// Each chart through each drill, on each course, at each rate: the drills' expectations are held against these runs. Files are named as
/// the trials file names them, from its own folder on.
struct TrialSpec {
    std::vector<std::string> charts;
    std::vector<std::string> drills;
    std::vector<std::string> courses;              ///< none: open flat ground
    std::vector<double> rates{20.0, 60.0, 144.0};  ///< ticks a second
    friend bool operator==(const TrialSpec&, const TrialSpec&) = default;
};

/// A figure of charts, and what it has to be.
struct FigureBoundsSpec {
    std::string name;  ///< as `survey::figures` names it: "jump.height"
    std::vector<std::string> charts;
    std::optional<std::string> course;  ///< for the lengths of its legs
    std::optional<double> least, most;  ///< in the figure's unit
    friend bool operator==(const FigureBoundsSpec&, const FigureBoundsSpec&) = default;
};

struct TrialsSpec {
    std::string name;
    std::vector<TrialSpec> trials;
    std::vector<FigureBoundsSpec> figures;
    friend bool operator==(const TrialsSpec&, const TrialsSpec&) = default;
};

/// Throws ChartError with every diagnostic: lists that are empty, bounds that nothing meets, nothing to try.
void check_trials(const TrialsSpec& spec);

}  // namespace cursimeter
