#include "core/choose/gather.hpp"

#include <cmath>

#include "core/chart/facts.hpp"
#include "core/choose/watched.hpp"
#include "core/contact/pushes.hpp"
#include "core/kinds/kind.hpp"
#include "core/motion/crossing.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/amounts.hpp"
#include "core/runner/charges.hpp"
#include "core/runner/instant.hpp"
#include "core/runner/timers.hpp"
#include "core/want/blocks.hpp"

/// Gathering the facts about a runner.
namespace cursimeter::detail {
namespace {

std::uint64_t speed_facts(const ChartData& chart, const RunnerState& runner) {
    std::uint64_t bits = 0;
    for (const SpeedMark& mark : chart.speed_marks) {
        const bool above = is_above(runner.speed, mark.value, (runner.derived & mark.derived_bit) != 0);
        bits |= above ? mark.derived_bit : 0;
    }
    for (const RiseMark& mark : chart.rise_marks) {
        const bool above = is_above(runner.velocity.z, mark.value, (runner.derived & mark.derived_bit) != 0);
        bits |= above ? mark.derived_bit : 0;
    }
    return bits;
}

/// Facts about contacts, pushes and zones.
std::uint64_t contact_facts(const RunnerState& runner) {
    const Surroundings& around = runner.around;
    const auto when = [](bool holds, unsigned bit) { return holds ? fact::bit(bit) : 0; };
    return when(around.grounded, fact::grounded) | when(around.headroom, fact::headroom) |
           when(around.by_wall, fact::wall) |
           when(around.grounded || ticks(runner, timer::coyote), fact::footing) |
           when(is_pushed(runner), fact::pushed) | when(runner.locks != 0, fact::locked) |
           std::uint64_t{around.zones} << fact::zone_first;
}

}  // namespace

std::uint64_t meter_facts(const ChartData& chart, const RunnerState& runner) {
    std::uint64_t bits = 0;
    for (std::size_t i = 0; i < chart.meters.size(); ++i) {
        const CompiledMeter& meter = chart.meters[i];
        for (std::size_t k = 0; k < runner.above[i]; ++k) {
            bits |= meter.marks[k].derived_bit;
        }
        if ((runner.spent >> i & 1U) != 0) {
            bits |= meter.spent_bit;
        }
    }
    return bits;
}

Facts gather(const ChartData& chart, const RunnerState& runner, std::uint64_t momentary,
             std::uint64_t meter_bits) {
    Facts facts;
    facts.fixed = std::uint64_t{on_now(chart, runner)} << fact::on_first | momentary |
                  std::uint64_t{runner.moving} << fact::moving | contact_facts(runner);
    if (chart.buffered_count != 0) {
        facts.fixed |= buffered_presses(chart, runner);
    }
    facts.derived = meter_bits | modifier_facts(chart, runner);
    for (std::size_t i = 0; i < chart.cooldowns.size(); ++i) {
        if (is_ready(chart, runner, i)) {
            facts.derived |= chart.cooldowns[i].ready_bit;
        }
    }
    for (const std::uint8_t needy : chart.needy) {
        if (possible(runner, chart.states[needy])) {
            facts.derived |= chart.states[needy].possible_bit;
        }
    }
    facts.derived |= speed_facts(chart, runner);
    for (const TimeMark& mark : chart.time_marks) {
        if (runner.clock + instant_width.value >= runner.state_since + mark.seconds) {
            facts.derived |= mark.derived_bit;
        }
    }
    return facts;
}

}  // namespace cursimeter::detail
