#include <fmt/format.h>

#include <algorithm>
#include <cursimeter/chartfile/schema.hpp>

#include "commands/commands.hpp"
#include "json/output_schemas.hpp"

namespace cursimeter::tool {

std::vector<std::string> schema_names() {
    std::vector<std::string> names{"chart", "drill", "course", "controls", "trials"};
    for (const OutputSchema& output : output_schemas) {
        names.emplace_back(output.name);
    }
    return names;
}

int schema_command(const ReferenceOptions& options) {
    const auto output = std::find_if(std::begin(output_schemas), std::end(output_schemas),
                                     [&](const OutputSchema& one) { return one.name == options.format; });
    if (output != std::end(output_schemas)) {
        fmt::print("{}", output->text);
        return 0;
    }
    fmt::print("{}", options.format == "chart"    ? chart_schema()
                     : options.format == "drill"  ? drill_schema()
                     : options.format == "course" ? course_schema()
                     : options.format == "trials" ? trials_schema()
                                                  : controls_schema());
    return 0;
}

}  // namespace cursimeter::tool
