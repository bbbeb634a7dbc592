#pragma once

#include <cursimeter/chart.hpp>
#include <cursimeter/survey/run.hpp>
#include <optional>
#include <string>

namespace cursimeter::tool {

/// A run with what it was made from, for printing and drawing.
struct RunResult {
    Chart chart;
    std::string drill;
    double rate = 0.0;
    survey::Run run;
    std::optional<Course> course;
};

/// For a person.
[[nodiscard]] std::string summary_text(const RunResult& result);
/// For a program: exactly one JSON object and a line's end.
[[nodiscard]] std::string run_json(const RunResult& result);

}  // namespace cursimeter::tool
