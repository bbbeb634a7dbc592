#include "survey/require/resting_hands.hpp"

#include <algorithm>

#include "core/chart/facts.hpp"

namespace cursimeter::survey {
namespace {

namespace fact = detail::fact;

void put(AllOf& hands, unsigned number, bool set) {
    hands.push_back({Literal{static_cast<std::uint16_t>(number), set}});
}

bool is_toggle(const detail::ChartData& chart, unsigned action) {
    return chart.actions[action].press == PressMode::toggle;
}

/// A move in the direction that a way asks for, unless a push has taken control away.
void put_move(AllOf& hands, const detail::FixedFacts& want) {
    const bool moves = want.test(fact::moving) || want.test(fact::moving_forward) ||
                       want.test(fact::moving_sideways) || want.test(fact::moving_backward);
    if (!moves) {
        put(hands, fact::moving, false);
        return;
    }
    const unsigned to = want.test(fact::moving_backward)   ? fact::moving_backward
                        : want.test(fact::moving_sideways) ? fact::moving_sideways
                                                           : fact::moving_forward;
    const Literal locked{static_cast<std::uint16_t>(fact::locked), true};
    const Literal moving{static_cast<std::uint16_t>(fact::moving), true};
    hands.push_back({locked, moving});
    hands.push_back({!moving, Literal{static_cast<std::uint16_t>(to), true}});
}

/// What hands do with one key of a way. Returns false if they cannot from rest.
bool put_key(AllOf& hands, const detail::ChartData& chart, const detail::Clause& way, unsigned action) {
    const detail::FixedFacts &care = way.care.fixed, &want = way.want.fixed;
    const unsigned on = fact::on_first + action, pressed = fact::pressed_first + action;
    const bool asks_on = care.test(on), wants_on = asks_on && want.test(on);
    const bool asks_press = care.test(pressed) && want.test(pressed);
    const bool bars_press = care.test(pressed) && !want.test(pressed);
    put(hands, fact::released_first + action, false);
    if (is_toggle(chart, action)) {
        // Whether a press turns it on or off is not known, nor whether one is needed.
        if (asks_on) {
            put(hands, on, wants_on);
            return !asks_press && !bars_press;
        }
        put(hands, pressed, asks_press);
        return true;
    }
    const bool goes_down = asks_press || wants_on;
    put(hands, on, goes_down);
    put(hands, pressed, goes_down);
    return !goes_down || (!bars_press && (wants_on || !asks_on));
}

}  // namespace

AllOf hands_at_rest(const detail::ChartData& chart) {
    AllOf hands;
    for (unsigned action = 0; action < chart.actions.size(); ++action) {
        if (!is_toggle(chart, action)) {
            put(hands, fact::on_first + action, false);
        }
        put(hands, fact::pressed_first + action, false);
        put(hands, fact::released_first + action, false);
    }
    put(hands, fact::moving, false);
    return hands;
}

AllOf hands_letting_go(const detail::ChartData& chart) {
    AllOf hands;
    for (unsigned action = 0; action < chart.actions.size(); ++action) {
        if (!is_toggle(chart, action)) {
            put(hands, fact::on_first + action, false);
        }
        if (chart.actions[action].buffer <= 0.0) {
            put(hands, fact::pressed_first + action, false);
        }
    }
    put(hands, fact::moving, false);
    return hands;
}

std::optional<AllOf> hands_for(const detail::ChartData& chart, const detail::Clause& way) {
    AllOf hands;
    for (unsigned action = 0; action < chart.actions.size(); ++action) {
        if (!put_key(hands, chart, way, action)) {
            return std::nullopt;
        }
    }
    put_move(hands, way.want.fixed);
    return hands;
}

double longest_waiting_press(const detail::ChartData& chart, std::uint8_t wanted) {
    double longest = 0.0;
    for (std::uint8_t state = 0; state < chart.states.size(); ++state) {
        const detail::CompiledCondition& enter = chart.states[state].enter;
        for (std::uint16_t i = 0; state != wanted && i < enter.clause_count; ++i) {
            const detail::Clause& way = chart.clauses[static_cast<std::size_t>(enter.first_clause) + i];
            for (unsigned action = 0; action < chart.actions.size(); ++action) {
                if ((detail::presses_of(way) & fact::press_bit(action)) != 0) {
                    longest = std::max(longest, chart.actions[action].buffer);
                }
            }
        }
    }
    return longest;
}

}  // namespace cursimeter::survey
