#pragma once

#include <cursimeter/rehearsal/rehearsal.hpp>
#include <string>

#include "commands.hpp"

/// What `net` prints and draws.
namespace cursimeter::tool {

struct NetResult {
    Chart chart;
    std::string drill;   ///< its name
    std::string course;  ///< its name; empty: open ground
    NetOptions options;
    rehearsal::Result result;
};

[[nodiscard]] std::string net_summary(const NetResult& net);
[[nodiscard]] std::string net_json(const NetResult& net);
/// Draws the first client's runner: the truth, what its owner saw and what the second client saw.
void draw_net(const NetResult& net, const std::string& file);

}  // namespace cursimeter::tool
