#include <fmt/format.h>

#include <cursimeter/chartfile/schema.hpp>

#include "commands/commands.hpp"

namespace cursimeter::tool {

int schema_command(const ReferenceOptions& options) {
    fmt::print("{}", options.format == "chart"    ? chart_schema()
                     : options.format == "drill"  ? drill_schema()
                     : options.format == "course" ? course_schema()
                     : options.format == "trials" ? trials_schema()
                                                  : controls_schema());
    return 0;
}

}  // namespace cursimeter::tool
