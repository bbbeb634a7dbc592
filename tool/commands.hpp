#pragma once

#include <optional>
#include <string>

/// The subcommands. Each returns the exit code: 0 fine, 1 something wrong was found in what it was
/// given to check. An unusable call or input throws ChartError, which main turns into 2.
namespace cursimeter::tool {

struct RunOptions {
    std::string chart;
    std::string drill;
    std::string course;             ///< empty: open flat ground
    double rate = 60.0;             ///< ticks a second
    std::optional<double> seconds;  ///< the drill's length if not given
    std::string trace;              ///< CSV file; empty: none
    std::string picture;            ///< PNG or SVG file; empty: none
    std::string map;                ///< PNG or SVG file; empty: none
    bool json = false;
};

int run_command(const RunOptions& options);

/// Prints docs/chart-reference.md, docs/drill-reference.md or docs/course-reference.md.
int reference_command(const std::string& which);

}  // namespace cursimeter::tool
