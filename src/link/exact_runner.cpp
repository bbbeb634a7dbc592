#include "link/exact_runner.hpp"

#include <bit>
#include <cmath>

#include "core/chart_data.hpp"
#include "core/runner_fields.hpp"
#include "core/timers.hpp"

namespace cursimeter::link::wire {
namespace {

/// Codes one field after the other. Zeros and the usual sit in a flag.
template <class Coder>
class FieldCoder {
  public:
    explicit FieldCoder(Coder& coder) : coder_(coder) {}

    double real(const char*, double value) {
        auto bits = std::bit_cast<std::uint64_t>(value);
        bool plain = bits == 0;
        coder_.bit(zero_, plain);
        if (plain) {
            return 0.0;
        }
        bool again = bits == last_;
        coder_.bit(again_, again);
        if (again) {
            bits = last_;
        } else {
            // Floats and round numbers have their lower half empty.
            bool half = (bits & 0xffff'ffffU) == 0;
            coder_.bit(half_, half);
            auto upper = static_cast<std::uint32_t>(bits >> 32U);
            auto lower = static_cast<std::uint32_t>(bits);
            coder_.bits(upper, 32);
            if (half) {
                lower = 0;
            } else {
                coder_.bits(lower, 32);
            }
            bits = std::uint64_t{upper} << 32U | lower;
        }
        last_ = bits;
        return std::bit_cast<double>(bits);
    }
    std::uint64_t word(const char*, std::uint64_t value, unsigned bits) {
        bool plain = value == 0;
        coder_.bit(plain_, plain);
        if (plain) {
            return 0;
        }
        auto upper = static_cast<std::uint32_t>(value >> 32U);
        auto lower = static_cast<std::uint32_t>(value);
        if (bits > 32) {
            coder_.bits(upper, bits - 32);
        }
        coder_.bits(lower, bits < 32 ? bits : 32);
        return bits > 32 ? std::uint64_t{upper} << 32U | lower : lower;
    }
    std::uint64_t ahead(const char* name, std::uint64_t value, unsigned bits) {
        return word(name, value, bits);
    }

  private:
    Coder& coder_;
    Model zero_, again_{0xe000}, half_{0xc000}, plain_;
    std::uint64_t last_ = 0;
};

/// Whether only things that the chart has are set: waits, charges, meters, actions, blocks.
bool fits_lists(const detail::ChartData& chart, const detail::RunnerState& state) {
    const auto below = [](std::size_t count) { return (std::uint64_t{1} << count) - 1; };
    const std::uint64_t waits = below(detail::timer::buffer_first) |
                                below(chart.buffered_count) << detail::timer::buffer_first |
                                below(chart.cooldowns.size()) << detail::timer::cooldown_first |
                                below(chart.meters.size()) << detail::timer::refill_first;
    const std::uint64_t meters = below(chart.meters.size()), actions = below(chart.actions.size());
    bool fits = (state.ticking & ~waits) == 0 && ((state.held | state.on | state.toggles) & ~actions) == 0 &&
                ((state.flowing | state.draining | state.spent | state.by_distance) & ~meters) == 0;
    for (std::size_t i = 0; i < limits::cooldowns; ++i) {
        const unsigned used = state.used >> (4 * i) & 15U;
        fits = fits && used <= (i < chart.cooldowns.size() ? chart.cooldowns[i].charges : 0U);
    }
    for (std::size_t i = chart.blocks.size(); i < state.blocks.size(); ++i) {
        fits = fits && state.blocks[i] == 0;
    }
    return fits;
}

/// Whether the state can be one of the chart's, so far as indices and limits go. Whatever else it says is
/// harmless: undefined numbers are stopped below, and times that have passed are caught up with.
bool plausible(const detail::ChartData& chart, const detail::RunnerState& state) {
    bool fits =
        fits_lists(chart, state) && state.chart_tag == chart.tag && state.state < chart.states.size() &&
        state.around.barrier_count <= state.around.barriers.size() && state.leg <= detail::LegKind::ease &&
        state.trend <= detail::Trend::falling && state.leg_end <= detail::LegEnd::landing &&
        std::fabs(state.clock) < 1e9 && state.clock >= 0.0;
    for (const detail::ModifierState& modifier : state.modifiers) {
        fits = fits && modifier.phase <= detail::ModifierPhase::falling &&
               (modifier.strength == 0 || modifier.modifier < chart.modifiers.size());
    }
    for (std::size_t i = 0; i < chart.meters.size(); ++i) {
        fits = fits && (state.mark[i] == detail::no_mark || state.mark[i] < chart.meters[i].marks.size()) &&
               std::isfinite(state.meters[i].level) && std::isfinite(state.meters[i].rate);
    }
    for (int axis = 0; axis < 3; ++axis) {
        fits = fits && std::isfinite(state.position[axis]) && std::isfinite(state.velocity[axis]) &&
               std::isfinite(state.acceleration[axis]);
    }
    for (const double value :
         {state.speed, state.distance, state.move_forward, state.move_side, state.look_yaw, state.look_pitch,
          state.facing.x, state.facing.y, state.wanted.x, state.wanted.y, state.state_since, state.floor,
          state.metered_at}) {
        fits = fits && std::isfinite(value);
    }
    return fits && !std::isnan(state.leg_due) && !std::isnan(state.condition_due) &&
           !std::isnan(state.next_due);
}

}  // namespace

void write_runner(Writer& writer, const Runner& runner) {
    detail::RunnerState state = detail::RunnerAccess::state(runner);
    FieldCoder coder(writer);
    detail::visit_fields(state, coder);
}

bool read_runner(Reader& reader, const Chart& chart, Runner& runner) {
    detail::RunnerState state;
    state.meter_count = static_cast<std::uint8_t>(chart.meter_count()) & 0x7fU;
    state.mark.fill(detail::no_mark);
    FieldCoder coder(reader);
    detail::visit_fields(state, coder);
    if (!plausible(chart.data(), state)) {
        return false;
    }
    detail::RunnerAccess::state(runner) = state;
    return true;
}

}  // namespace cursimeter::link::wire
