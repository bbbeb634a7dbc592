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

/// Adds on which side of its marks a speed is.
template <class Mark>
void gather_speed(const std::vector<Mark>& marks, double speed, const DerivedFacts& before,
                  DerivedFacts& facts) {
    for (const Mark& mark : marks) {
        facts.set_if(is_above(speed, mark.value, before.test(mark.bit)), mark.bit);
    }
}

/// Facts about contacts and pushes: bits of the first word.
std::uint64_t contact_facts(const RunnerState& runner) {
    const Surroundings& around = runner.around;
    const auto when = [](bool holds, unsigned bit) { return std::uint64_t{holds} << bit; };
    return when(around.grounded, fact::grounded) | when(around.headroom, fact::headroom) |
           when(around.by_wall, fact::wall) |
           when(around.grounded || ticks(runner, timer::coyote), fact::footing) |
           when(is_pushed(runner), fact::pushed) | when(runner.locks != 0, fact::locked);
}

}  // namespace

DerivedFacts meter_facts(const ChartData& chart, const RunnerState& runner) {
    DerivedFacts bits;
    for (std::size_t i = 0; i < chart.meters.size(); ++i) {
        const CompiledMeter& meter = chart.meters[i];
        for (std::size_t k = 0; k < runner.above[i]; ++k) {
            set(bits, meter.marks[k].bit);
        }
        if ((runner.spent >> i & 1U) != 0) {
            set(bits, meter.spent_bit);
        }
    }
    return bits;
}

Facts gather(const ChartData& chart, const RunnerState& runner, std::uint64_t momentary,
             const DerivedFacts& meter_bits) {
    Facts facts;
    facts.fixed.words = {std::uint64_t{on_now(chart, runner)} << fact::on_first |
                             std::uint64_t{runner.moving} << fact::moving | contact_facts(runner),
                         momentary | buffered_presses(chart, runner),
                         std::uint64_t{runner.around.zones} << (fact::zone_first % 64)};
    facts.derived = meter_bits;
    add_modifier_facts(chart, runner, facts.derived);
    for (std::size_t i = 0; i < chart.cooldowns.size(); ++i) {
        const DerivedBit& bit = chart.cooldowns[i].ready_bit;
        if (bit) {
            facts.derived.set_if(is_ready(chart, runner, i), *bit);
        }
    }
    for (const std::uint8_t needy : chart.needy) {
        facts.derived.set_if(possible(runner, chart.states[needy]), *chart.states[needy].possible_bit);
    }
    gather_speed(chart.speed_marks, runner.speed, runner.derived, facts.derived);
    gather_speed(chart.rise_marks, runner.velocity.z, runner.derived, facts.derived);
    for (const TimeMark& mark : chart.time_marks) {
        facts.derived.set_if(has_lasted(runner, mark.seconds), mark.bit);
    }
    return facts;
}

}  // namespace cursimeter::detail
