#pragma once

#include <cursimeter/chart.hpp>
#include <cursimeter/rehearsal/peers.hpp>
#include <cursimeter/rehearsal/rehearsal.hpp>
#include <cursimeter/survey/compare.hpp>
#include <cursimeter/survey/run.hpp>
#include <optional>
#include <string>
#include <vector>

#include "scene/options.hpp"

namespace cursimeter::tool {

/// The same drill at another tick rate.
struct RunAtRate {
    double rate = 0.0;  ///< ticks a second
    survey::Run run;
    survey::RateGap gap;
};

/// A run with what it was made from, for printing and drawing.
struct RunResult {
    Chart chart;
    std::string drill;
    double rate = 0.0;
    survey::Run run;
    std::optional<Course> course;
    std::vector<RunAtRate> also;
};

/// Players without a server.
struct PeersResult {
    Chart chart;
    std::string course;  ///< its name; empty: open ground
    NetOptions options;
    rehearsal::PeerResult result;
};

/// Players over a link.
struct NetResult {
    Chart chart;
    std::string drill;   ///< its name
    std::string course;  ///< its name; empty: open ground
    NetOptions options;
    rehearsal::Result result;
};

}  // namespace cursimeter::tool
