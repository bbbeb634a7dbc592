#pragma once

#include <cursimeter/drill/trials.hpp>

#include "core/chart/key_table.hpp"

/// Every key of a trials file.
namespace cursimeter::keys {

[[nodiscard]] Table<TrialsSpec> trials_table();

}  // namespace cursimeter::keys
