#pragma once

#include "core/chart/chart_data.hpp"

namespace cursimeter::detail {

/// Something about the runner is another than the tick knows: everything is looked at anew at the next tick's start.
inline void wake(RunnerState& runner) {
    runner.stale = true;
    runner.next_due = runner.clock;
}

}  // namespace cursimeter::detail
