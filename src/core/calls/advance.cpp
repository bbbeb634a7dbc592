#include <cursimeter/advance.hpp>

#include "core/choose/gather.hpp"
#include "core/choose/looking_on.hpp"
#include "core/runner/levels.hpp"
#include "core/runner/timers.hpp"
#include "core/tick/open_ground.hpp"

/// The door of the tick. What it does is in tick/open_ground.hpp and tick/loop.cpp.
namespace cursimeter {
namespace {

using detail::RunnerState;

inline Report advance_open(const Chart& chart, Runner& runner, const Intent& intent, Seconds dt,
                           const detail::ChoiceWatch* watch) noexcept {
    Report report;
    RunnerState& state = detail::RunnerAccess::state(runner);
    detail::expect_later_runner(state);
    detail::advance_on_open_ground(chart.data(), state, intent, dt, report, watch);
    return report;
}

inline Report advance_in(const Chart& chart, Runner& runner, const Intent& intent, const Terrain& terrain,
                         Seconds dt, const detail::ChoiceWatch* watch) noexcept {
    Report report;
    detail::advance_in_world(chart.data(), detail::RunnerAccess::state(runner), intent, terrain, dt, report,
                             watch);
    return report;
}

}  // namespace

Report advance(const Chart& chart, Runner& runner, const Intent& intent, Seconds dt) noexcept {
    return advance_open(chart, runner, intent, dt, nullptr);
}

Report advance(const Chart& chart, Runner& runner, const Intent& intent, const Terrain& terrain,
               Seconds dt) noexcept {
    return advance_in(chart, runner, intent, terrain, dt, nullptr);
}

namespace detail {

Report advance_watched(const Chart& chart, Runner& runner, const Intent& intent, const Terrain* terrain,
                       Seconds dt, const ChoiceWatch& watch) noexcept {
    const ChoiceWatch* told = watch.tell != nullptr ? &watch : nullptr;
    return terrain == nullptr ? advance_open(chart, runner, intent, dt, told)
                              : advance_in(chart, runner, intent, *terrain, dt, told);
}

void look_on_now(const Chart& chart, const Runner& runner, const ChoiceWatch& watch) noexcept {
    const ChartData& data = chart.data();
    RunnerState now = RunnerAccess::state(runner);
    catch_up_levels(data, now);
    const Facts facts = gather(data, now, 0, meter_facts(data, now));
    const std::uint64_t barred = is_lately(now, now.state_since) ? now.lately_left : 0;
    const Bans bans = bans_of(data, now);
    const Choice choice = choose(data, now, facts, facts, barred, bans);
    watch.tell(watch.to, {now.clock, now.state, facts, facts, barred, bans, choice});
}

}  // namespace detail

}  // namespace cursimeter
