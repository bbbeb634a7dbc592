#pragma once

#include <string>

#include "survey/require/asked.hpp"

namespace cursimeter::survey {

struct Proven {
    std::string because;
    bool by_speeds = false;  ///< it holds as long as nothing but the runner itself makes it faster
};

/// What proves a requirement; nothing if it cannot be proven. It reasons and plays nothing. `restless` are states that come and go many
/// times a second, a bit each.
[[nodiscard]] std::optional<Proven> prove(const Asked& asked, detail::StateMask restless);

}  // namespace cursimeter::survey
