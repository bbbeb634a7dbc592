#include <fmt/format.h>

#include <algorithm>
#include <bit>
#include <cmath>
#include <cursimeter/controls/controls.hpp>
#include <cursimeter/numbers/detmath.hpp>

#include "controls/controls_keys.hpp"
#include "core/chart/chart_data.hpp"
#include "core/chart/limits_check.hpp"
#include "core/chart/renamed.hpp"

namespace cursimeter {
namespace {

constexpr double radian = 3.141592653589793 / 180.0;
constexpr std::array<const char*, 4> moves{"move_forward", "move_back", "move_left", "move_right"};
/// A tap before the clock began.
constexpr double long_ago = -1e9;

}  // namespace

Controls::Controls(const Chart& chart, const ControlsSpec& spec) : Controls(chart, spec, {}, 0) {}

Controls::Controls(const Chart& chart, const ControlsSpec& spec, std::vector<std::string> inputs,
                   std::uint64_t down)
    : spec_(spec),
      naming_(chart.naming()),
      inputs_(std::move(inputs)),
      stick_(spec.stick),
      look_spec_(spec.look),
      down_(down) {
    detail::Findings findings;
    detail::check_limits(keys::controls_table(), spec, findings);
    std::vector<std::string> actions;
    for (std::uint8_t i = 0; i < chart.action_count(); ++i) {
        actions.push_back(chart.name(ActionId{i}));
    }
    std::vector<std::string> targets = actions;
    targets.insert(targets.end(), moves.begin(), moves.end());
    if (spec.bindings.size() > most_bindings) {
        findings.add("bind", fmt::format("there are {} bindings", spec.bindings.size()),
                     fmt::format("give up to {}", most_bindings));
    }
    for (std::size_t i = 0; i < spec.bindings.size(); ++i) {
        const BindingSpec& said = spec.bindings[i];
        const std::string path = fmt::format("bind[{}]", i + 1);
        const auto action = detail::place_of_old(chart.data().actions, said.action);
        const auto target =
            action ? targets.begin() + *action : std::find(targets.begin(), targets.end(), said.action);
        if (target == targets.end()) {
            findings.add(path + ".action", fmt::format("the chart has no action named '{}'", said.action),
                         detail::advise_name(said.action, targets));
            continue;
        }
        Binding binding;
        const auto index = static_cast<std::size_t>(target - targets.begin());
        binding.target =
            static_cast<std::uint8_t>(index < actions.size() ? index : first_move + index - actions.size());
        binding.double_tap = said.double_tap;
        for (const std::string& name : said.inputs) {
            const std::optional<std::size_t> place = place_of(name);
            if (!place) {
                findings.add(path + ".inputs", fmt::format("'{}' is one input too many", name),
                             fmt::format("use up to {} different ones", most_inputs));
                break;
            }
            binding.chord |= std::uint64_t{1} << *place;
        }
        if (binding.chord != 0) {
            bindings_.push_back(binding);
        }
    }
    for (const PressChoice& choice : spec.presses) {
        const auto action = detail::place_of_old(chart.data().actions, choice.name);
        if (!action) {
            findings.add("actions." + choice.name,
                         fmt::format("the chart has no action named '{}'", choice.name),
                         detail::advise_name(choice.name, actions));
        } else {
            presses_.push_back({*action, choice.press});
        }
    }
    if (!(spec.stick.full_at > spec.stick.dead_zone)) {
        findings.add_relation(
            "stick.full_at",
            fmt::format("{} is not above the dead zone, {}", spec.stick.full_at, spec.stick.dead_zone),
            "let the deflections between them be some", {"stick.dead_zone"});
    }
    if (!findings.empty()) {
        throw ChartError(findings.take());
    }
    pressed_at_.fill(long_ago);
}

std::optional<std::size_t> Controls::place_of(const std::string& name) {
    const auto known = std::find(inputs_.begin(), inputs_.end(), name);
    if (known != inputs_.end()) {
        return static_cast<std::size_t>(known - inputs_.begin());
    }
    if (inputs_.size() < most_inputs) {
        inputs_.push_back(name);
        return inputs_.size() - 1;
    }
    for (std::size_t i = 0; i < inputs_.size(); ++i) {
        const bool bound =
            std::any_of(spec_.bindings.begin(), spec_.bindings.end(), [&](const BindingSpec& one) {
                return std::find(one.inputs.begin(), one.inputs.end(), inputs_[i]) != one.inputs.end();
            });
        if (!bound && (down_ >> i & 1U) == 0) {
            inputs_[i] = name;
            return i;
        }
    }
    return std::nullopt;
}

void Controls::rebind(const Chart& chart, const ControlsSpec& spec, double at) {
    if (chart.naming() != naming_) {
        throw ChartError({{"chart",
                           "has other names than the one that these controls are for",
                           "give that chart, or carry the controls over first",
                           {},
                           0,
                           0}});
    }
    Controls next(chart, spec, inputs_, down_);
    for (const Binding& now : bindings_) {
        if (!now.down) {
            continue;
        }
        const auto same =
            std::find_if(next.bindings_.begin(), next.bindings_.end(),
                         [&](const Binding& other) { return !other.down && other.means_the_same(now); });
        if (same != next.bindings_.end()) {
            same->down = true;
        } else {
            set_target(now.target, -1, at);
        }
    }
    for (std::size_t i = 0; i < inputs_.size(); ++i) {
        if (next.inputs_[i] != inputs_[i]) {
            pressed_at_[i] = long_ago;
        }
    }
    const bool same_stick = stick_ == next.stick_;
    spec_ = std::move(next.spec_);
    inputs_ = std::move(next.inputs_);
    bindings_ = std::move(next.bindings_);
    presses_ = std::move(next.presses_);
    stick_ = next.stick_;
    look_spec_ = next.look_spec_;
    if (!same_stick) {
        move(at);
    }
    aim(0.0, 0.0);  // within the new bounds
}

void Controls::carry_over(const Chart& to) {
    Controls next(to, spec_, inputs_, down_);
    next.pressed_at_ = pressed_at_;
    next.clock_ = clock_;
    next.stick_x_ = stick_x_;
    next.stick_y_ = stick_y_;
    next.look_x_ = look_x_;
    next.look_y_ = look_y_;
    for (std::size_t i = 0; i < bindings_.size(); ++i) {
        if (bindings_[i].down) {
            next.bindings_[i].down = true;
            next.set_target(next.bindings_[i].target, 1, 0.0);
        }
    }
    next.move(0.0);
    next.builder_.next_tick();
    next.set_look(look_);
    next.wanted_look_ = wanted_look_;
    next.facing_ = facing_;
    next.focus_ = focus_;
    *this = std::move(next);
}

InputId Controls::input(std::string_view name) const {
    const auto found = std::find(inputs_.begin(), inputs_.end(), name);
    return InputId{static_cast<std::uint8_t>(found - inputs_.begin())};
}

void Controls::press(InputId input, double at, Consumed consumed) {
    if (input.index >= inputs_.size() || consumed == Consumed::yes || (down_ >> input.index & 1U) != 0) {
        return;
    }
    const double time = clock_ + at;
    const double since = time - pressed_at_[input.index];
    const std::uint64_t bit = std::uint64_t{1} << input.index;
    pressed_at_[input.index] = time;
    down_ |= bit;
    const auto complete = [&](const Binding& binding) {
        return (binding.chord & bit) != 0 && (binding.chord & ~down_) == 0 &&
               (binding.double_tap <= 0.0 || since <= binding.double_tap);
    };
    // Of the chords that this input completes, the longest count: shift + d is not d.
    int longest = 0;
    for (const Binding& binding : bindings_) {
        longest = complete(binding) ? std::max(longest, std::popcount(binding.chord)) : longest;
    }
    for (Binding& binding : bindings_) {
        if (complete(binding) && std::popcount(binding.chord) == longest && !binding.down) {
            binding.down = true;
            set_target(binding.target, 1, at);
        }
    }
}

void Controls::release(InputId input, double at) {
    if (input.index >= inputs_.size()) {
        return;
    }
    const std::uint64_t bit = std::uint64_t{1} << input.index;
    down_ &= ~bit;
    for (Binding& binding : bindings_) {
        if (binding.down && (binding.chord & bit) != 0) {
            binding.down = false;
            set_target(binding.target, -1, at);
        }
    }
}

void Controls::axis(InputId input, double value, double at, Consumed consumed) {
    if (value >= 0.5) {
        press(input, at, consumed);
    } else if (!(value >= 0.4)) {  // also where it is undefined
        release(input, at);
    }
}

void Controls::release_all(double at) {
    for (std::uint8_t i = 0; i < inputs_.size(); ++i) {
        release(InputId{i}, at);
    }
    deflect(0.0, 0.0, at);
    deflect_look(0.0, 0.0);
}

void Controls::release_device(std::string_view prefix, double at) {
    for (std::uint8_t i = 0; i < inputs_.size(); ++i) {
        if (std::string_view(inputs_[i]).substr(0, prefix.size()) == prefix) {
            release(InputId{i}, at);
        }
    }
}

void Controls::set_target(std::uint8_t target, int change, double at) {
    std::uint8_t& count = held_[target];
    const bool before = count != 0;
    count = static_cast<std::uint8_t>(count + change);
    if (before == (count != 0)) {
        return;
    }
    if (target >= first_move) {
        move(at);
    } else if (before) {
        builder_.release(ActionId{target}, at);
    } else {
        builder_.press(ActionId{target}, at);
    }
}

void Controls::deflect(double x, double y, double at) {
    stick_x_ = std::isfinite(x) ? std::clamp(x, -1.0, 1.0) : 0.0;
    stick_y_ = std::isfinite(y) ? std::clamp(y, -1.0, 1.0) : 0.0;
    move(at);
}

void Controls::move(double at) {
    const auto key = [&](std::size_t index) { return held_[first_move + index] != 0 ? 1.0 : 0.0; };
    double forward = key(0) - key(1), side = key(3) - key(2);
    const double size = std::sqrt(stick_x_ * stick_x_ + stick_y_ * stick_y_);
    if (size > stick_.dead_zone) {
        const double part = std::min((size - stick_.dead_zone) / (stick_.full_at - stick_.dead_zone), 1.0);
        const double bent =
            part >= 1.0 ? 1.0 : detmath::power_of_two(stick_.exponent * detmath::log_two(part));
        forward += stick_y_ / size * bent;
        side += stick_x_ / size * bent;
    }
    builder_.move_to({std::clamp(forward, -1.0, 1.0), std::clamp(side, -1.0, 1.0)}, at);
}

void Controls::turn(double x, double y) {
    if (!focus_ && std::isfinite(x) && std::isfinite(y)) {
        aim(x * look_spec_.sensitivity, y * look_spec_.sensitivity);
    }
}

void Controls::deflect_look(double x, double y) {
    look_x_ = std::isfinite(x) ? std::clamp(x, -1.0, 1.0) : 0.0;
    look_y_ = std::isfinite(y) ? std::clamp(y, -1.0, 1.0) : 0.0;
}

/// Degrees to the right and up. Yaw grows to the left and stays within half a turn; then the look that is
/// shown wraps with it.
void Controls::aim(double right, double up) {
    constexpr double turn = 360.0 * radian;
    const double most = look_spec_.most_pitch * radian;
    wanted_look_.yaw -= right * radian;
    wanted_look_.pitch =
        std::clamp(wanted_look_.pitch + (look_spec_.invert_pitch ? -up : up) * radian, -most, most);
    const double whole = std::floor((wanted_look_.yaw + 0.5 * turn) / turn) * turn;
    wanted_look_.yaw -= whole;
    look_.yaw -= whole;
}

void Controls::next_tick(Seconds dt) {
    if (!focus_ && (look_x_ != 0.0 || look_y_ != 0.0)) {
        aim(look_x_ * look_spec_.turn_rate * dt.value, look_y_ * look_spec_.turn_rate * dt.value);
    }
    const double left =
        look_spec_.smoothing > 0.0 ? detmath::power_of_two(-dt.value / look_spec_.smoothing) : 0.0;
    look_.yaw = wanted_look_.yaw + (look_.yaw - wanted_look_.yaw) * left;
    look_.pitch = wanted_look_.pitch + (look_.pitch - wanted_look_.pitch) * left;
    builder_.next_tick();
    builder_.start_look(look_);
    clock_ += dt.value;
}

void Controls::set_look(Look look) {
    look_ = wanted_look_ = look;
    builder_.start_look(look);
}

void Controls::apply_press_modes(const Chart& chart, Runner& runner) const {
    for (std::uint8_t i = 0; i < chart.action_count(); ++i) {
        set_press_mode(runner, ActionId{i}, chart.press_mode(ActionId{i}));
    }
    for (const Press& press : presses_) {
        set_press_mode(runner, ActionId{press.action}, press.mode);
    }
}

}  // namespace cursimeter
