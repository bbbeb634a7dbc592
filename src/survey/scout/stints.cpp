#include "survey/scout/stints.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/numbers/detmath.hpp>

#include "core/chart/chart_data.hpp"

namespace cursimeter::survey {
namespace {

int degrees_towards(const glm::dvec3& from, const glm::dvec3& to) {
    return static_cast<int>(
        std::lround(detmath::arc_tangent(to.y - from.y, to.x - from.x) * 57.29577951308232));
}

}  // namespace

bool has_weight(const Report& report) {
    return std::any_of(report.events().begin(), report.events().end(), [](const Event& event) {
        switch (event.kind) {
            case EventKind::entered:
            case EventKind::emptied:
            case EventKind::filled:
            case EventKind::recovered:
            case EventKind::ready:
            case EventKind::lifted:
            case EventKind::landed:
            case EventKind::bumped:
            case EventKind::ended:
                return true;
            case EventKind::left:
            case EventKind::pressed:
            case EventKind::released:
            case EventKind::draining:
            case EventKind::rested:
            case EventKind::spent:
            case EventKind::jumped:
            case EventKind::pushed:
            case EventKind::began:
            case EventKind::stacked:
            case EventKind::crowded:
            case EventKind::refused:
            case EventKind::crossed:
            case EventKind::footstep:
            case EventKind::held_back:
            case EventKind::crushed:
                return false;
        }
        return false;
    });
}

StintMaker::StintMaker(const Errand& errand) : errand_(errand) {
    const detail::ChartData& chart = errand.chart.data();
    const auto add = [this](std::uint32_t keys) {
        keys &= errand_.actions;
        if (std::find(key_sets_.begin(), key_sets_.end(), keys) == key_sets_.end()) {
            key_sets_.push_back(keys);
        }
    };
    add(0);
    for (std::uint8_t i = 0; i < errand.chart.action_count(); ++i) {
        add(key_bit(ActionId{i}));
    }
    for (const detail::Clause& clause : chart.clauses) {
        const detail::FixedFacts wanted = clause.care.fixed & clause.want.fixed;
        add(detail::fact::on_of(wanted) | detail::fact::pressed_of(wanted));
    }
    for (const detail::CompiledState& state : chart.states) {
        const auto* along = state.burst.along.data();
        if (std::find(along, along + state.burst.along_count, Along::look) !=
            along + state.burst.along_count) {
            pitches_ = {-90, -60, -30, 0, 30, 60, 90};  // straight up is as far up as it goes
            break;
        }
        if (state.kind == StateKind::fly && state.fly.by_look) {
            pitches_ = {-60, -30, 0, 30, 60};
        }
    }
}

std::uint32_t StintMaker::some_keys(std::uint32_t held, Dice& dice) const {
    const auto any = [&] { return key_sets_[dice.below(static_cast<std::uint32_t>(key_sets_.size()))]; };
    const std::uint32_t way = dice.below(10);
    if (way < 4) {
        return any();
    }
    if (way < 7) {
        return any() | any();
    }
    return way < 9 ? held ^ any() : held;
}

std::int16_t StintMaker::some_yaw(const Situation& now, const std::optional<glm::dvec3>& ahead,
                                  Dice& dice) const {
    const glm::dvec3 at = now.runner.position();
    const std::uint32_t way = dice.below(20);
    if (way < 6) {
        return now.hands.yaw;
    }
    if (way < 12) {
        if (ahead) {
            return whole_degrees(degrees_towards(at, *ahead) + (way < 9 ? 0 : dice.between(-20, 20)));
        }
        return whole_degrees(now.hands.yaw + 45 * dice.between(-3, 4));
    }
    if (way < 16) {
        return whole_degrees(now.hands.yaw + dice.between(-30, 30));
    }
    if (way < 18) {
        return whole_degrees(45 * dice.between(0, 7));
    }
    return whole_degrees(dice.between(0, 359));
}

Cue StintMaker::some_cue(const Situation& now, Dice& dice) const {
    const std::uint32_t way = dice.below(20);
    if (way < 8) {
        return Cue::none;
    }
    const bool in_air = !now.runner.grounded();
    if (way < (in_air ? 12U : 14U)) {
        return Cue::ticks;
    }
    if (way < (in_air ? 14U : 18U)) {
        return Cue::event;
    }
    // In the air only what can still come.
    const bool rises = now.runner.velocity().z > 0.0;
    const std::array<std::pair<Cue, bool>, 3> cues{
        {{Cue::apex, !in_air || rises},
         {Cue::brink, !in_air || read_waits(errand_.chart, now.runner).coyote > 0.0},
         {Cue::level, !in_air || rises || now.runner.position().z > now.stood_at}}};
    const auto& [cue, may_come] = cues[dice.below(3)];
    return may_come ? cue : Cue::event;
}

Stint StintMaker::make(const Situation& now, const std::optional<glm::dvec3>& ahead, Dice& dice) const {
    constexpr std::array<double, 6> lengths{0.06, 0.12, 0.2, 0.3, 0.45, 0.7};  // s
    const double rate = errand_.plan.rate;
    Stint stint;
    stint.ticks = static_cast<std::uint16_t>(std::max(1L, std::lround(lengths[dice.below(6)] * rate)));
    stint.first = now.hands;
    const bool ferried = errand_.phase_of(now) != 0;
    if (dice.percent(ferried ? 25 : 2)) {  // wait: for what moves, or until there is more to spend
        stint.ticks = static_cast<std::uint16_t>(std::lround(0.1 * dice.between(4, 20) * rate));
        stint.first.move = 0;
        stint.first.held = 0;
        return stint;
    }
    stint.first.yaw = some_yaw(now, ahead, dice);
    stint.first.held = some_keys(now.hands.held, dice);
    const std::uint32_t moving = dice.below(20);
    stint.first.move = static_cast<std::uint8_t>(moving < 16 ? 1 : moving < 17 ? 0 : 1 + dice.below(8));
    if (!pitches_.empty() && dice.percent(50)) {
        stint.first.pitch = pitches_[dice.below(static_cast<std::uint32_t>(pitches_.size()))];
    }
    stint.second = stint.first;
    stint.cue = some_cue(now, dice);
    if (stint.cue == Cue::none) {
        return stint;
    }
    stint.cue_ticks = static_cast<std::uint16_t>(1 + dice.below(stint.ticks));
    if (stint.cue != Cue::ticks) {  // time to see the cue
        stint.ticks = static_cast<std::uint16_t>(stint.ticks + std::lround(0.3 * rate));
    }
    stint.second.held = some_keys(stint.first.held, dice);
    if (dice.percent(30)) {
        stint.second.yaw = some_yaw(now, ahead, dice);
    }
    return stint;
}

bool CueWatch::due(const Errand& errand, const Situation& now, const Report& report) {
    const Runner& runner = now.runner;
    const double tick = 1.0 / errand.plan.rate;
    const bool was = was_;
    switch (cue_) {
        case Cue::none:
        case Cue::ticks:
            return false;
        case Cue::event:
            return has_weight(report);
        case Cue::apex:
            was_ = runner.velocity().z > 0.0 && !runner.grounded();
            return was && !was_;
        case Cue::brink:  // one tick more would be too late
            was_ = !runner.grounded() && read_waits(errand.chart, runner).coyote > tick;
            return was && !was_ && !runner.grounded();
        case Cue::level:
            was_ = !runner.grounded() && runner.position().z + runner.velocity().z * tick > now.stood_at;
            return was && !was_ && !runner.grounded();
    }
    return false;
}

}  // namespace cursimeter::survey
