#pragma once

#include <cursimeter/chart.hpp>
#include <cursimeter/intent.hpp>
#include <cursimeter/report.hpp>
#include <cursimeter/runner.hpp>
#include <cursimeter/units.hpp>

namespace cursimeter {

/// Advances one runner by one tick on open, flat ground.
///
/// The tick is cut at every instant at which something changes (a key, a meter's mark, a timer, the
/// end of a ramp, a speed that a condition reads), and motion in between has a closed form; so the
/// run does not depend on how time is cut into ticks.
///
/// dt: 0 to `longest_tick`. At 0 no time passes, but the intent is taken in. More than the longest
/// tick simulates just that and says so; a negative or undefined dt is refused and changes nothing.
/// An intent with undefined values is mended (no move, last look), never fatal.
///
/// Allocates nothing, throws nothing, locks nothing. Tens of nanoseconds in a tick without instant.
[[nodiscard]] Report advance(const Chart& chart, Runner& runner, const Intent& intent, Seconds dt) noexcept;

}  // namespace cursimeter
