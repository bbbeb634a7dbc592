#pragma once

#include <cursimeter/chart.hpp>
#include <cursimeter/controls/controls.hpp>

namespace cursimeter::tryout {

/// Keys, mouse buttons and pad buttons for a chart that says nothing of them: moves on W A S D and the left stick, actions by
/// what they are called where that is usual (jump on the space bar, sprint on shift), the others on the keys around, in the
/// chart's order. Inputs are called as the window calls them: "key.w", "mouse.left", "pad.south", "pad.right_trigger".
[[nodiscard]] ControlsSpec default_controls(const Chart& chart);

}  // namespace cursimeter::tryout
