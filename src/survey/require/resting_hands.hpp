#pragma once

#include <optional>

#include "survey/check/fact_solver.hpp"

/// What hands do, as facts about keys and moves. They begin at rest: whatever they want then, a key goes down for it at that very
/// instant.
namespace cursimeter::survey {

/// They have let go of all keys for a while. A toggle is on or off, as it was left.
[[nodiscard]] AllOf hands_at_rest(const detail::ChartData& chart);
/// They let go of all keys now, or have just done so: presses of before may wait.
[[nodiscard]] AllOf hands_letting_go(const detail::ChartData& chart);
/// What they do to keep a way's terms. Nothing if they cannot from rest, since a key must have been down before.
[[nodiscard]] std::optional<AllOf> hands_for(const detail::ChartData& chart, const detail::Clause& way);

/// s for which a press may wait that brings another state about than the wanted one.
[[nodiscard]] double longest_waiting_press(const detail::ChartData& chart, std::uint8_t wanted);

}  // namespace cursimeter::survey
