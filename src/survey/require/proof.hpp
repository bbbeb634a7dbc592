#pragma once

#include <string>

#include "survey/require/asked.hpp"

namespace cursimeter::survey {

/// What proves a requirement for every run; nothing if it cannot be proven. It reasons and plays nothing. `restless` are states that come
/// and go many times a second, a bit each.
[[nodiscard]] std::optional<std::string> prove(const Asked& asked, detail::StateMask restless);

}  // namespace cursimeter::survey
