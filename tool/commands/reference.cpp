#include <fmt/format.h>

#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/controls_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/chartfile/trials_file.hpp>

#include "commands/commands.hpp"

namespace cursimeter::tool {

int reference_command(const ReferenceOptions& options) {
    const std::string& which = options.format;
    fmt::print("{}", which == "chart"    ? chart_reference()
                     : which == "drill"  ? drill_reference()
                     : which == "course" ? course_reference()
                     : which == "trials" ? trials_reference()
                                         : controls_reference());
    return 0;
}

}  // namespace cursimeter::tool
