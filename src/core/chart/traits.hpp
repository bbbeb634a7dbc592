#pragma once

#include <cursimeter/chart_spec.hpp>
#include <limits>
#include <optional>

namespace cursimeter::detail {

/// What a state's kind makes of it, for the rules that ask: filled in by the kind's file (kinds/). No rule asks for the
/// kind itself.
struct Traits {
    bool steered = true;          ///< the look and the stick are heeded once it is under way
    bool steered_in_air = false;  ///< they are in the air, whatever the former says
    bool aims_in_space = false;   ///< the target may point off the ground, which it then leaves by itself
    bool follows_wall = false;    ///< it goes along the wall at hand, and needs one
    bool thrown = false;          ///< in the air it flies as what is thrown, with some steering
    bool stands = false;          ///< its ways over ground are those of standing and walking
    bool pays_for_steps = false;  ///< what lifts it over a step or an edge is taken from its speed
    bool keeps_level = false;  ///< in the air it comes over ground at its own height, and is let down on it
    double lasts = std::numeric_limits<double>::infinity();  ///< s; it is not kept for longer
    std::optional<After> after{};  ///< what becomes of the speed when it is left; nothing is done if not said
    friend bool operator==(const Traits&, const Traits&) = default;
};

}  // namespace cursimeter::detail
