#include "survey/scout/hands.hpp"

#include <array>

namespace cursimeter::survey {

Move move_of(std::uint8_t move) {
    constexpr double half = 0.7071;  // a drill writes it so
    constexpr std::array<Move, 9> moves{{{0.0, 0.0},
                                         {1.0, 0.0},
                                         {half, half},
                                         {0.0, 1.0},
                                         {-half, half},
                                         {-1.0, 0.0},
                                         {-half, -half},
                                         {0.0, -1.0},
                                         {half, -half}}};
    return moves[move];
}

Look look_of(const Hands& hands) {
    return {Degrees(hands.yaw).radians(), Degrees(hands.pitch).radians()};
}

std::int16_t whole_degrees(int degrees) {
    const int turned = ((degrees % 360) + 360) % 360;
    return static_cast<std::int16_t>(turned > 180 ? turned - 360 : turned);
}

void add_changes(std::vector<Change>& changes, const Hands& before, const Hands& after, std::size_t actions) {
    for (std::uint8_t i = 0; i < actions; ++i) {
        if ((before.held & ~after.held & key_bit(ActionId{i})) != 0) {
            changes.push_back(Change::release(ActionId{i}, 0.0));
        }
    }
    for (std::uint8_t i = 0; i < actions; ++i) {
        if ((after.held & ~before.held & key_bit(ActionId{i})) != 0) {
            changes.push_back(Change::press(ActionId{i}, 0.0));
        }
    }
    if (after.move != before.move) {
        changes.push_back(Change::move_to(move_of(after.move), 0.0));
    }
    if (after.yaw != before.yaw || after.pitch != before.pitch) {
        changes.push_back(Change::look_to(look_of(after), 0.0));
    }
}

DrillSpec drill_of(const Way& way, const Chart& chart, const StartSpec& start, double rate) {
    DrillSpec drill;
    drill.name = "scouted";
    drill.start = start;
    drill.seconds = static_cast<double>(way.end) / rate;
    Hands before;
    before.yaw = whole_degrees(static_cast<int>(start.yaw.value_or(Degrees{0.0}).value));
    for (std::uint8_t i = 0; i < chart.action_count(); ++i) {
        if (chart.press_mode(ActionId{i}) == PressMode::toggle) {
            drill.set_hold.push_back(chart.name(ActionId{i}));
        }
    }
    for (const HandsAt& change : way.changes) {
        if (change.tick >= way.end) {
            break;  // a way that was made quicker may be over before all its changes
        }
        StepSpec step;
        step.at = static_cast<double>(change.tick) / rate;
        for (std::uint8_t i = 0; i < chart.action_count(); ++i) {
            const std::uint32_t bit = key_bit(ActionId{i});
            if ((before.held & ~change.hands.held & bit) != 0) {
                step.release.push_back(chart.name(ActionId{i}));
            } else if ((change.hands.held & ~before.held & bit) != 0) {
                step.hold.push_back(chart.name(ActionId{i}));
            }
        }
        if (change.hands.move != before.move) {
            step.move = move_of(change.hands.move);
        }
        if (change.hands.yaw != before.yaw || change.hands.pitch != before.pitch) {
            step.look = LookSpec{Degrees(change.hands.yaw), Degrees(change.hands.pitch)};
        }
        before = change.hands;
        if (!step.release.empty() || !step.hold.empty() || step.move || step.look) {
            drill.steps.push_back(std::move(step));
        }
    }
    return drill;
}

}  // namespace cursimeter::survey
