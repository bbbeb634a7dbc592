#include <fmt/format.h>

#include <algorithm>
#include <cursimeter/reload.hpp>

#include "core/calls/carrier.hpp"
#include "core/chart/renamed.hpp"
#include "core/runner/charges.hpp"
#include "core/runner/holders.hpp"
#include "core/runner/levels.hpp"
#include "core/runner/timers.hpp"
#include "core/runner/wake.hpp"

namespace cursimeter {
namespace {

using detail::ChartData;
using detail::place_in_next;
using detail::RunnerAccess;
using detail::RunnerState;

class Carrier {
  public:
    Carrier(const ChartData& from, const RunnerState& old, const ChartData& to, RunnerState& fresh)
        : from_(from), old_(old), to_(to), fresh_(fresh) {}

    std::vector<std::string> carry() {
        const RunnerState spawned = fresh_;
        fresh_ = old_;  // place, motion, clock, keys, pushes
        fresh_.chart_tag = spawned.chart_tag;
        fresh_.meter_count = spawned.meter_count;
        fresh_.meters = spawned.meters;
        fresh_.spent = spawned.spent;
        fresh_.state = spawned.state;
        fresh_.above = spawned.above;
        fresh_.flowing = fresh_.draining = fresh_.by_distance = 0;
        fresh_.metered_at = old_.clock;
        fresh_.derived = fresh_.watched = {};
        fresh_.momentary = 0;
        fresh_.lately_left = fresh_.lately_switched = 0;
        fresh_.levels_moved = 0;
        fresh_.scales = spawned.scales;
        fresh_.scaled_until = 0.0;
        fresh_.lasting = {};
        fresh_.used = 0;
        fresh_.blocks = {};
        fresh_.modifiers = {};
        fresh_.modifier_count = 0;
        fresh_.holders = {};
        for (unsigned timer = detail::timer::buffer_first; timer < limits::timers; ++timer) {
            detail::stop_timer(fresh_, timer);
        }
        state();
        actions();
        meters();
        cooldowns();
        modifiers();
        blocks();
        zones();
        fresh_.segment = detail::SegmentKind::steady;
        fresh_.trend = detail::Trend::constant;
        fresh_.segment_due = fresh_.clock;
        fresh_.segment_end = detail::SegmentEnd::replan;
        wake(fresh_);
        return std::move(lost_);
    }

  private:
    void lose(const char* what, const std::string& name, const std::string& more = {}) {
        lost_.push_back(fmt::format("{} '{}' is not in the new chart{}", what, name, more));
    }
    void keep_timer(unsigned before, unsigned now) {
        if (detail::ticks(old_, before)) {
            fresh_.timers[now] = old_.timers[before];
            fresh_.ticking |= detail::TimerMask{1} << now;
        }
    }

    void state() {
        const std::string& name = from_.states[old_.state].name;
        if (const auto place = place_in_next(from_.states, to_.states, old_.state)) {
            fresh_.state = *place;
        } else {
            fresh_.state_since = fresh_.clock;
            lose("state", name, fmt::format(": '{}' instead", to_.states[fresh_.state].name));
        }
    }
    void actions() {
        detail::ActionMask held = 0, on = 0, by_game = 0, toggles = to_.toggles;
        for (std::size_t i = 0; i < from_.actions.size(); ++i) {
            const auto place = place_in_next(from_.actions, to_.actions, i);
            const detail::ActionMask bit = detail::ActionMask{1} << i;
            if (!place) {
                if (((old_.held | old_.on) & bit) != 0) {
                    lose("action", from_.actions[i].name);
                }
                continue;
            }
            const detail::ActionMask there = detail::ActionMask{1} << *place;
            held |= (old_.held & bit) != 0 ? there : 0;
            on |= (old_.on & bit) != 0 ? there : 0;
            by_game |= (old_.held_by_game & bit) != 0 ? there : 0;
            const bool overridden = ((old_.toggles ^ from_.toggles) & bit) != 0;
            if (overridden) {  // by the player
                toggles = (old_.toggles & bit) != 0 ? toggles | there : toggles & ~there;
            }
            const std::uint8_t before = from_.actions[i].buffer_slot, now = to_.actions[*place].buffer_slot;
            if (before != detail::no_buffer && now != detail::no_buffer) {
                keep_timer(detail::timer::buffer_first + before, detail::timer::buffer_first + now);
            }
        }
        fresh_.held = held;
        fresh_.on = on;
        fresh_.held_by_game = by_game;
        fresh_.toggles = toggles;
    }
    void meters() {
        for (std::uint8_t i = 0; i < from_.meters.size(); ++i) {
            const auto place = place_in_next(from_.meters, to_.meters, i);
            if (!place) {
                lose("meter", from_.meters[i].name);
                continue;
            }
            const double capacity = to_.meters[*place].capacity;
            const double level = old_.meters[i].level + old_.meters[i].rate * (old_.clock - old_.metered_at);
            fresh_.meters[*place].level =
                detail::level_beside_marks(to_.meters[*place], std::clamp(level, 0.0, capacity));
            fresh_.above[*place] = detail::marks_at_or_below(to_.meters[*place], fresh_.meters[*place].level);
            const auto mask = static_cast<detail::MeterMask>(1U << *place);
            const std::optional<SpentSpec>& latch = to_.meters[*place].spent;
            const double now = fresh_.meters[*place].level;
            const bool spent =
                latch && (now <= latch->at || ((old_.spent >> i & 1U) != 0 && now < latch->until));
            fresh_.spent = static_cast<detail::MeterMask>(spent ? fresh_.spent | mask : fresh_.spent & ~mask);
            if ((old_.draining >> i & 1U) != 0) {
                fresh_.draining = static_cast<detail::MeterMask>(fresh_.draining | mask);
            }
            keep_timer(detail::timer::refill_first + i, detail::timer::refill_first + *place);
        }
    }
    void cooldowns() {
        for (std::uint8_t i = 0; i < from_.cooldowns.size(); ++i) {
            const unsigned used = detail::charges_used(old_, i);
            const auto place = place_in_next(from_.cooldowns, to_.cooldowns, i);
            if (!place) {
                if (used != 0) {
                    lose("cooldown", from_.cooldowns[i].name);
                }
                continue;
            }
            const unsigned kept = std::min<unsigned>(used, to_.cooldowns[*place].charges);
            fresh_.used = detail::with_charges(fresh_.used, *place, kept);
            keep_timer(detail::timer::cooldown_first + i, detail::timer::cooldown_first + *place);
        }
    }
    void modifiers() {
        std::size_t count = 0;
        for (const detail::ModifierState& at_work : old_.modifiers) {
            if (at_work.strength == 0) {
                break;
            }
            const std::string& name = from_.modifiers[at_work.modifier].name;
            const auto place = place_in_next(from_.modifiers, to_.modifiers, at_work.modifier);
            if (!place) {
                lose("modifier", name);
                continue;
            }
            const auto end = fresh_.modifiers.begin() + static_cast<std::ptrdiff_t>(count);
            const auto there =
                std::find_if(fresh_.modifiers.begin(), end,
                             [&](const detail::ModifierState& before) { return before.modifier == *place; });
            if (there != end && detail::is_shared(to_.modifiers[*place])) {  // was kept source by source
                detail::add_holder(fresh_, *there, at_work.source, at_work.strength);
                continue;
            }
            detail::ModifierState& kept = fresh_.modifiers[count++];
            kept = at_work;
            kept.modifier = *place;
            kept.stacks = std::min<std::uint8_t>(at_work.stacks, to_.modifiers[*place].most) & 15U;
        }
        fresh_.modifier_count = static_cast<std::uint8_t>(count);
        std::stable_sort(fresh_.modifiers.begin(),
                         fresh_.modifiers.begin() + static_cast<std::ptrdiff_t>(count),
                         [](const auto& a, const auto& b) { return a.modifier < b.modifier; });
        for (const detail::Holder& holder : old_.holders) {
            const auto place = holder.strength == 0
                                   ? std::nullopt
                                   : place_in_next(from_.modifiers, to_.modifiers, holder.modifier);
            for (detail::ModifierState& kept : fresh_.modifiers) {
                if (place && kept.strength != 0 && kept.modifier == *place) {
                    detail::add_holder(fresh_, kept, holder.source, holder.strength);
                }
            }
        }
    }
    void blocks() {
        fresh_.rooted = false;
        for (std::size_t i = 0; i < from_.blocks.size(); ++i) {
            if (old_.blocks[i] == 0) {
                continue;
            }
            if (const auto place = place_in_next(from_.blocks, to_.blocks, i)) {
                fresh_.blocks[*place] = old_.blocks[i];
                fresh_.rooted = fresh_.rooted || to_.blocks[*place].movement;
            } else {
                lose("block", from_.blocks[i].name);
            }
        }
    }
    void zones() {
        fresh_.around.zones = 0;
        for (std::size_t i = 0; i < from_.zones.size(); ++i) {
            if ((old_.around.zones >> i & 1U) == 0) {
                continue;
            }
            const auto found = std::find(to_.zones.begin(), to_.zones.end(), from_.zones[i]);
            if (found != to_.zones.end()) {
                fresh_.around.zones =
                    static_cast<std::uint8_t>(fresh_.around.zones | 1U << (found - to_.zones.begin()));
            } else {
                lose("zone", from_.zones[i]);
            }
        }
    }

    const ChartData& from_;
    const RunnerState& old_;
    const ChartData& to_;
    RunnerState& fresh_;
    std::vector<std::string> lost_;
};

}  // namespace

std::vector<std::string> detail::carry_state(const ChartData& from, const RunnerState& old,
                                             const ChartData& to, RunnerState& fresh) {
    return Carrier(from, old, to, fresh).carry();
}

CarriedOver carry_over(const Chart& from, const Runner& runner, const Chart& to) {
    const RunnerState& old = RunnerAccess::state(runner);
    if (old.chart_tag != from.data().tag) {
        throw ChartError({{"carry_over",
                           "the runner was not spawned with the chart that it is said to come from",
                           "give the chart of its spawn, or of its last carry_over",
                           {},
                           0,
                           0}});
    }
    CarriedOver carried{spawn(to, {runner.position(), runner.yaw()}), {}, IdMap(from, to)};
    carried.lost = detail::carry_state(from.data(), old, to.data(), RunnerAccess::state(carried.runner));
    return carried;
}

}  // namespace cursimeter
