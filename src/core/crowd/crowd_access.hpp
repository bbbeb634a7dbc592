#pragma once

#include <cursimeter/crowd.hpp>

#include "core/chart/chart_data.hpp"

/// The way into a Crowd and its report for those who move it on.
namespace cursimeter::detail {

struct CrowdAccess {
    static RunnerState& whole(Crowd& crowd, std::size_t index) {
        return RunnerAccess::state(crowd.whole_[index]);
    }
    static LaneBlock* blocks(Crowd& crowd) { return crowd.blocks_.data(); }
    static GoingOn* going_on(Crowd& crowd) { return crowd.going_on_.data(); }
    static void catch_up(Crowd& crowd, std::size_t index) { crowd.catch_up(index); }

    static void begin(CrowdReport& report);
    static void count_advanced(CrowdReport& report, std::size_t runners) { report.advanced_ += runners; }
    static void refuse(CrowdReport& report, std::size_t index, std::size_t runners, Refusal why);
    static void take_in(CrowdReport& report, std::size_t index, const Report& one);
};

}  // namespace cursimeter::detail
