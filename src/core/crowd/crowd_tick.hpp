#pragma once

#include <cursimeter/crowd.hpp>
#include <span>

/// A tick of a part of a crowd: its runners from `first` on, one for each intent. The report has begun.
namespace cursimeter::detail {

/// As many lanes at once as this processor can work.
[[nodiscard]] std::size_t most_lanes();

void advance_crowd(Crowd& crowd, std::size_t first, std::span<const Intent> intents, Seconds dt,
                   CrowdReport& report);
void advance_crowd_in_world(Crowd& crowd, std::size_t first, std::span<const Intent> intents,
                            const Terrain& terrain, Seconds dt, CrowdReport& report);

}  // namespace cursimeter::detail
