#pragma once

#include "core/runner/charges.hpp"
#include "core/runner/instant.hpp"
#include "core/runner/timers.hpp"

/// Cooldowns: charges that are used and come back. A runner keeps how many have not come back yet, and when
/// the next one does.
namespace cursimeter::detail {

/// Uses a charge; where the wait begins with it, and none runs yet, it begins.
void use_charge(const ChartData& chart, RunnerState& runner, std::uint8_t cooldown);
/// Begins the wait of a cooldown that waits for its state's end.
void leave_cooldown(const ChartData& chart, RunnerState& runner, std::uint8_t cooldown);
/// Gives charges back at once. Returns how many there were to give back.
unsigned refund_charges(RunnerState& runner, std::uint8_t cooldown, unsigned charges);
/// The wait for a charge is over.
void regain_charge(Instant& instant, std::uint8_t cooldown);

/// How fast each cooldown runs, 1 as in the chart. Before and after a change of modifiers: waits under way
/// keep the part that is left of them.
using CooldownRates = std::array<double, limits::cooldowns>;
[[nodiscard]] CooldownRates cooldown_rates(const ChartData& chart, const RunnerState& runner);
void rescale_cooldowns(const ChartData& chart, RunnerState& runner, const CooldownRates& before);

}  // namespace cursimeter::detail
