#include <algorithm>
#include <array>
#include <cursimeter/tryout/default_controls.hpp>
#include <string_view>

namespace cursimeter::tryout {
namespace {

struct Usual {
    std::string_view part;  ///< of an action's name
    std::string_view key, pad;
};

/// The first that fits counts.
constexpr std::array usual{
    Usual{"jump", "key.space", "pad.south"},
    Usual{"leap", "key.space", "pad.south"},
    Usual{"hop", "key.space", "pad.south"},
    Usual{"sprint", "key.left_shift", "pad.left_stick"},
    Usual{"run", "key.left_shift", "pad.left_stick"},
    Usual{"crouch", "key.c", "pad.east"},
    Usual{"slide", "key.c", "pad.east"},
    Usual{"duck", "key.c", "pad.east"},
    Usual{"dash", "key.q", "pad.right_shoulder"},
    Usual{"dodge", "key.q", "pad.right_shoulder"},
    Usual{"tread", "key.x", "pad.left_shoulder"},
    Usual{"sneak", "key.x", "pad.left_shoulder"},
    Usual{"fly", "key.f", "pad.north"},
    Usual{"glide", "key.f", "pad.north"},
    Usual{"rise", "key.e", "pad.north"},
    Usual{"ascend", "key.e", "pad.north"},
    Usual{"sink", "key.z", "pad.west"},
    Usual{"descend", "key.z", "pad.west"},
};
constexpr std::array<std::string_view, 16> other_keys{"key.e", "key.f", "key.g", "key.v", "key.x", "key.z",
                                                      "key.c", "key.t", "key.1", "key.2", "key.3", "key.4",
                                                      "key.5", "key.6", "key.7", "key.8"};
constexpr std::array<std::string_view, 8> other_pads{
    "pad.west",        "pad.north", "pad.left_trigger", "pad.right_trigger",
    "pad.right_stick", "pad.up",    "pad.down",         "pad.left"};

class Keyboard {
  public:
    /// The wanted input if it is free, else the next of the others that is; empty if none is.
    template <class Others>
    std::string take(std::string_view wanted, const Others& others) {
        const auto is_free = [&](std::string_view name) {
            return !name.empty() && std::find(taken_.begin(), taken_.end(), name) == taken_.end();
        };
        const auto other = std::find_if(others.begin(), others.end(), is_free);
        const std::string_view name = is_free(wanted)         ? wanted
                                      : other != others.end() ? *other
                                                              : std::string_view();
        taken_.emplace_back(name);
        return std::string(name);
    }

  private:
    std::vector<std::string> taken_;
};

}  // namespace

ControlsSpec default_controls(const Chart& chart) {
    ControlsSpec spec;
    spec.name = "keys for " + chart.name();
    const std::pair<const char*, const char*> moves[] = {
        {"move_forward", "key.w"}, {"move_back", "key.s"}, {"move_left", "key.a"}, {"move_right", "key.d"}};
    for (const auto& [move, key] : moves) {
        spec.bindings.push_back({move, {key}});
    }
    Keyboard keys;
    for (std::uint8_t i = 0; i < chart.action_count(); ++i) {
        const std::string& action = chart.name(ActionId{i});
        const auto known = std::find_if(usual.begin(), usual.end(), [&](const Usual& one) {
            return action.find(one.part) != std::string::npos;
        });
        const bool is_known = known != usual.end();
        for (const std::string& input : {keys.take(is_known ? known->key : std::string_view(), other_keys),
                                         keys.take(is_known ? known->pad : std::string_view(), other_pads)}) {
            if (!input.empty()) {
                spec.bindings.push_back({action, {input}});
            }
        }
    }
    return spec;
}

}  // namespace cursimeter::tryout
