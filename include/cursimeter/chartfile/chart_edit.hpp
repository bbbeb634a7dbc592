#pragma once

#include <string>
#include <string_view>
#include <vector>

/// Numbers put into a chart file's text, all else left as its author wrote it.
namespace cursimeter {

struct NumberEdit {
    std::string path;  ///< "states.sprint.speed.forward", as in cursimeter/survey/values.hpp
    double value = 0.0;
};

/// The text with these numbers in it: comments, order and layout stay. A number that the text does not say (a state
/// takes it over by `like`) is added to its table. Throws ChartError for a path that there is not, and if the result
/// is no sound chart file. `name` stands in for the file's name in diagnostics.
[[nodiscard]] std::string edit_chart_text(std::string_view text, const std::string& name,
                                          const std::vector<NumberEdit>& edits);

}  // namespace cursimeter
