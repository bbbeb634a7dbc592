#pragma once

#include <cursimeter/terrain.hpp>

#include "core/chart/chart_data.hpp"

/// Ticks in which a world holds nothing that could be met.
namespace cursimeter::detail {

/// Whether a runner that came along the straight line `motion` from `from`, or beside it by up to `bend` m, found nothing on its way
/// and nothing at its end but the level floor that it had underfoot, or nothing at all in the air. Then takes that floor's surface
/// in; otherwise changes nothing. Only for who leans against nothing and is moved by its segments alone. One question to the world (`Terrain::is_open`) for all that the sweeps and probes of
/// a chord would tell.
[[nodiscard]] bool goes_through_open(const ChartData& chart, RunnerState& runner, const Terrain& terrain,
                                     const glm::dvec3& from, const glm::dvec3& motion, double bend);

}  // namespace cursimeter::detail
