#pragma once

#include <cursimeter/effects.hpp>
#include <cursimeter/runner.hpp>
#include <random>

namespace support {

using namespace cursimeter;

/// What games do to runners between two ticks, by chance.
class Deeds {
  public:
    explicit Deeds(unsigned seed) : random_(seed) {}

    /// Something about every third second of ticks of `dt`, seldom two things at once.
    void perhaps(const Chart& chart, Runner& runner, Seconds dt) {
        while (between(0.0, 1.0) < dt.value / 3.0) {
            do_something(chart, runner);
        }
    }

  private:
    double between(double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(random_);
    }
    template <class Id>
    Id any(std::size_t count) {
        return Id{static_cast<std::uint8_t>(random_() % count)};
    }
    void do_something(const Chart& chart, Runner& runner) {
        const auto kind = random_() % 12;
        if (kind < 3) {
            push_somehow(runner);
        } else if (kind < 5 && chart.modifier_count() > 0) {
            const auto modifier = any<ModifierId>(chart.modifier_count());
            static_cast<void>(grant(chart, runner, modifier, {.source = 1, .strength = between(0.1, 2.0)}));
        } else if (kind == 5 && chart.modifier_count() > 0) {
            const auto modifier = any<ModifierId>(chart.modifier_count());
            static_cast<void>(remove(chart, runner, modifier, 1,
                                     between(0.0, 1.0) < 0.5 ? Removal::fades : Removal::at_once));
        } else if (kind == 6 && chart.block_count() > 0) {
            const auto which = any<BlockId>(chart.block_count());
            static_cast<void>(blocked(chart, runner, which) > 0 ? unblock(chart, runner, which)
                                                                : block(chart, runner, which));
        } else if (kind == 7 && chart.meter_count() > 0) {
            static_cast<void>(
                try_spend(chart, runner, any<MeterId>(chart.meter_count()), std::round(between(0.0, 60.0))));
        } else if (kind == 8 && chart.meter_count() > 0) {
            static_cast<void>(
                grant(chart, runner, any<MeterId>(chart.meter_count()), std::round(between(0.0, 60.0))));
        } else if (kind == 9 && chart.cooldown_count() > 0) {
            static_cast<void>(try_use(chart, runner, any<CooldownId>(chart.cooldown_count())));
        } else if (kind == 10 && chart.action_count() > 0) {
            hold_action(chart, runner, any<ActionId>(chart.action_count()), between(0.0, 1.0) < 0.5);
        } else if (kind == 11) {
            static_cast<void>(force_state(chart, runner, any<StateId>(chart.state_count())));
        }
    }
    void push_somehow(Runner& runner) {
        Push blow;
        blow.direction = {between(-1.0, 1.0), between(-1.0, 1.0), between(0.0, 1.0)};
        blow.strength = std::round(between(1.0, 6.0));
        blow.lift = between(0.0, 1.0) < 0.3 ? 0.5 : 0.0;
        blow.seconds = between(0.0, 1.0) < 0.3 ? 0.0 : 0.25 * std::round(between(1.0, 4.0));
        blow.locks = between(0.0, 1.0) < 0.2;
        blow.replaces = between(0.0, 1.0) < 0.2;
        static_cast<void>(push(runner, blow));
    }

    std::mt19937 random_;
};

}  // namespace support
