#pragma once

#include <cstddef>
#include <cstdint>
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

/// A server and clients over a simulated link. Times in ms and parts in percent, as people say them.
struct NetOptions {
    std::string chart;
    std::string drill;  ///< empty: random hands
    std::string course;
    std::size_t clients = 3;
    double seconds = 60.0;
    double rate = 60.0;                                    ///< ticks a second
    double snapshots = 20.0;                               ///< a second
    double delay = 0.0;                                    ///< ms, one way
    double jitter = 0.0;                                   ///< ms, more or less
    double loss = 0.0;                                     ///< %
    double burst = 0.0;                                    ///< ms
    double duplicate = 0.0, reorder = 0.0, corrupt = 0.0;  ///< %
    double bandwidth = 0.0;                                ///< kB/s; 0: any
    std::uint64_t seed = 1;
    std::string picture;  ///< PNG or SVG file; empty: none
    bool json = false;
};

int net_command(const NetOptions& options);

/// Prints docs/chart-reference.md, docs/drill-reference.md or docs/course-reference.md.
int reference_command(const std::string& which);

}  // namespace cursimeter::tool
