#pragma once

#include <cursimeter/controls/controls.hpp>

#include "core/chart/key_table.hpp"

/// Every key of a controls file.
namespace cursimeter::keys {

[[nodiscard]] Table<ControlsSpec> controls_table();

}  // namespace cursimeter::keys
