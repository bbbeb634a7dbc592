#include "survey/probe.hpp"

#include <cmath>

#include "core/chart/facts.hpp"

namespace cursimeter::survey {

namespace {

/// `asked` are the modifiers that it is for, a bit each: one may hold while it is active itself, or another that asks for it.
Recipe recipe_for(const detail::ChartData& chart, const detail::CompiledCondition& condition,
                  std::uint32_t asked = 0) {
    namespace fact = detail::fact;
    Recipe recipe;
    if (condition.clause_count == 0) {
        return recipe;
    }
    for (std::uint16_t i = 0; i < condition.clause_count; ++i) {
        const detail::Clause& clause = chart.clauses[static_cast<std::size_t>(condition.first_clause) + i];
        const detail::FixedFacts &want = clause.want.fixed, &care = clause.care.fixed;
        const bool by_input = !want.test(fact::pushed) && !want.test(fact::locked) && !fact::any_zone(want) &&
                              !(care.test(fact::headroom) && !want.test(fact::headroom));
        if (!by_input && i + 1 < condition.clause_count) {
            continue;
        }
        recipe.held = fact::on_of(want);
        recipe.pressed = fact::pressed_of(want);
        if (want.test(fact::moving_backward)) {
            recipe.move = {-1.0, 0.0};
        } else if (want.test(fact::moving_sideways)) {
            recipe.move = {0.0, 1.0};
        } else if (care.test(fact::moving) && !want.test(fact::moving)) {
            recipe.move = {};
        }
        for (std::size_t bit = 0; bit < chart.derived_facts.size(); ++bit) {
            const detail::DerivedFact& derived = chart.derived_facts[bit];
            const std::uint32_t modifier = std::uint32_t{1} << (derived.index % limits::modifier_kinds);
            if (clause.want.derived.test(static_cast<unsigned>(bit)) &&
                derived.quantity == detail::Quantity::active && (asked & modifier) == 0 &&
                chart.modifiers[derived.index].conditional) {
                const Recipe by =
                    recipe_for(chart, chart.modifiers[derived.index].holds_while, asked | modifier);
                recipe.held |= by.held;
            }
        }
        break;
    }
    return recipe;
}

}  // namespace

Recipe recipe_of(const detail::ChartData& chart, std::uint8_t state) {
    return recipe_for(chart, chart.states[state].enter);
}

Probe::Probe(const Chart& chart, const Terrain* terrain, const Placement& placement)
    : chart_(chart), terrain_(terrain), runner_(spawn(chart, placement)) {
    look.yaw = placement.yaw;
    for (std::uint8_t i = 0; i < chart.action_count(); ++i) {
        set_press_mode(runner_, ActionId{i},
                       PressMode::hold);  // on means held, whatever the chart's own mode
    }
}

void Probe::pass(double seconds) {
    for (const double end = now() + seconds; now() < end - 1e-9;) {
        static_cast<void>(tick(std::min(step, end - now())));
    }
}

Report Probe::tick(double seconds) {
    Intent intent;
    intent.move = move;
    intent.look = look;
    intent.held = held;
    return terrain_ != nullptr ? advance(chart_, runner_, intent, *terrain_, Seconds{seconds})
                               : advance(chart_, runner_, intent, Seconds{seconds});
}

void Probe::settle_speed(double seconds) {
    for (const double end = now() + seconds; now() < end - 1e-9;) {
        static_cast<void>(tick(step));
        if (std::fabs(runner_.speed() - runner_.speed_target()) < 1e-9) {
            return;
        }
    }
}

}  // namespace cursimeter::survey
