#pragma once

#include <nlohmann/json.hpp>

#include "scene/trials.hpp"

namespace cursimeter::tool {

[[nodiscard]] nlohmann::ordered_json trial_json(const Trials& trials);

}  // namespace cursimeter::tool
