#pragma once

#include <cursimeter/intent.hpp>
#include <cursimeter/report.hpp>

#include "core/chart/chart_data.hpp"

/// Ticks in which the wanted velocity turns (turning.cpp).
namespace cursimeter::detail {

/// Lets dt seconds pass on the way to the target by the state's gain law, or by what steers it in the air, the same as planning
/// and gliding segment by segment, in one go. Returns false, and changes nothing, under a gain curve or another kind, or if the speed
/// might cross a mark, a foot come down or a meter drain by the metre. Nothing else may be due in these seconds.
bool follow_target(const ChartData& chart, RunnerState& runner, double dt);

/// What became of a tick for which only the look has moved.
enum class Turn : std::uint8_t {
    on_arc,    ///< the whole tick is done, along an arc at full speed (motion/arc.hpp)
    followed,  ///< the whole tick is done
    unheeded,  ///< the look was taken in; the segment goes on as it was
    on_way,    ///< the look was taken in; nothing is due, and `follow_target` may do the rest
    pending,   ///< the segment must be planned anew
};

}  // namespace cursimeter::detail
