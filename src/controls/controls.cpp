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

std::string chord_of(std::vector<std::string> inputs) {
    std::sort(inputs.begin(), inputs.end());
    return fmt::format("{}", fmt::join(inputs, " + "));
}

}  // namespace

ControlsSpec over_defaults(const ControlsSpec& defaults, const ControlsSpec& own) {
    ControlsSpec merged = own;
    merged.name = own.name.empty() ? defaults.name : own.name;
    for (const BindingSpec& binding : defaults.bindings) {
        const bool said = std::any_of(own.bindings.begin(), own.bindings.end(),
                                      [&](const BindingSpec& mine) { return mine.action == binding.action; });
        if (!said) {
            merged.bindings.push_back(binding);
        }
    }
    for (const PressChoice& press : defaults.presses) {
        const bool said = std::any_of(own.presses.begin(), own.presses.end(),
                                      [&](const PressChoice& mine) { return mine.name == press.name; });
        if (!said) {
            merged.presses.push_back(press);
        }
    }
    return merged;
}

std::vector<std::string> conflicts(const ControlsSpec& spec) {
    std::vector<std::string> found;
    for (std::size_t i = 0; i < spec.bindings.size(); ++i) {
        for (std::size_t k = i + 1; k < spec.bindings.size(); ++k) {
            const BindingSpec &a = spec.bindings[i], &b = spec.bindings[k];
            const bool alike =
                chord_of(a.inputs) == chord_of(b.inputs) && (a.double_tap > 0.0) == (b.double_tap > 0.0);
            if (alike && a.action != b.action) {
                found.push_back(
                    fmt::format("'{}' and '{}' are both on {}", a.action, b.action, chord_of(a.inputs)));
            }
        }
    }
    return found;
}

Controls::Controls(const Chart& chart, const ControlsSpec& spec)
    : spec_(spec), naming_(chart.naming()), stick_(spec.stick), look_spec_(spec.look) {
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
        if (said.inputs.empty()) {
            findings.add(path + ".inputs", "is empty",
                         "name one input, or several that must be down together");
        }
        for (const std::string& name : said.inputs) {
            auto known = std::find(inputs_.begin(), inputs_.end(), name);
            if (known == inputs_.end() && inputs_.size() < most_inputs) {
                inputs_.push_back(name);
                known = inputs_.end() - 1;
            }
            if (known == inputs_.end()) {
                findings.add(path + ".inputs", fmt::format("'{}' is one input too many", name),
                             fmt::format("use up to {} different ones", most_inputs));
                break;
            }
            binding.chord |= std::uint64_t{1} << (known - inputs_.begin());
        }
        bindings_.push_back(binding);
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
        findings.add(
            "stick.full_at",
            fmt::format("{} is not above the dead zone, {}", spec.stick.full_at, spec.stick.dead_zone),
            "let the deflections between them be some");
    }
    if (!findings.empty()) {
        throw ChartError(findings.take());
    }
    pressed_at_.fill(long_ago);
}

void Controls::carry_over(const Chart& to) {
    Controls next(to, spec_);  // the same inputs in the same order, so that what the game keeps of them stays
    next.down_ = down_;
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
    if (std::isfinite(x) && std::isfinite(y)) {
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
    if (look_x_ != 0.0 || look_y_ != 0.0) {
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
