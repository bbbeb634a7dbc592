#pragma once

#include <cursimeter/drill/drill.hpp>

#include "core/chart/key_table.hpp"

/// Every key of a drill file.
namespace cursimeter::keys {

[[nodiscard]] Table<DrillSpec> drill_table();

}  // namespace cursimeter::keys
