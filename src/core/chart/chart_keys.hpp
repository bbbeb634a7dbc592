#pragma once

#include "core/chart/key_table.hpp"

/// Every key of a chart file.
namespace cursimeter::keys {

inline constexpr std::array press_modes{Word("hold", PressMode::hold), Word("toggle", PressMode::toggle)};

[[nodiscard]] Table<ChartSpec> chart_table();
/// What a state may take over from another: all but its name in the version before.
[[nodiscard]] Table<StateSpec> state_table();

}  // namespace cursimeter::keys
