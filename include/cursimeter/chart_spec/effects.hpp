#pragma once

#include <cursimeter/chart_spec/condition.hpp>
#include <optional>
#include <string>
#include <vector>

/// Cooldowns, modifiers and blocks.
namespace cursimeter {

/// How charges of a cooldown come back.
enum class Recharge : unsigned char { one, all };

/// When a cooldown begins: as the state that uses it is entered, or left.
enum class Begins : unsigned char { entry, end };

/// A wait before something may be used again.
struct CooldownSpec {
    std::string name{};
    double seconds = 0.0;               ///< for each charge, or for all together
    int charges = 1;                    ///< uses before it must be waited for
    Recharge recharge = Recharge::one;  ///< one charge after the other, or all at once
    Begins begins = Begins::entry;
    std::optional<std::string> also{};  ///< another cooldown that begins with this one: a common lock-out
    std::optional<std::string> was{};   ///< its name in the version before; see carry_over
    friend bool operator==(const CooldownSpec&, const CooldownSpec&) = default;
};

/// What a further grant of a modifier does that is at work already.
enum class Stacking : unsigned char {
    refresh,    ///< its time starts again
    extend,     ///< its seconds are added to what is left
    count,      ///< one stack more, up to `most`, and the time starts again
    strongest,  ///< the stronger of the two stays
    separate,   ///< both are at work, each with its own time
};

/// One quantity that a modifier changes: "speed", "gain", "jump", "gravity", "steer", "burst",
/// "turn", "drain.<meter>", "refill.<meter>", "cooldown.<cooldown>".
struct AffectSpec {
    std::string what{};
    std::optional<double> adds{};      ///< in the unit of the quantity
    std::optional<double> times{};     ///< factor
    std::optional<double> sets{};      ///< this value instead
    std::optional<double> at_least{};  ///< no less than this
    std::optional<double> at_most{};   ///< no more than this
    friend bool operator==(const AffectSpec&, const AffectSpec&) = default;
};

/// A timed, stackable change to named quantities.
struct ModifierSpec {
    std::string name{};
    std::optional<double> seconds{};       ///< until it fades out; until removed, if not said
    double fade_in = 0.0, fade_out = 0.0;  ///< s
    Stacking stacking = Stacking::refresh;
    int most = 1;                            ///< stacks, for count
    std::optional<Condition> while_holds{};  ///< at work by itself while this holds
    std::optional<double> build{}, shed{};   ///< s per stack, gained while it holds and lost afterwards
    double first = 0.0;                      ///< s until the first stack of `build`
    std::optional<std::string> then{};       ///< modifier that follows when it ends
    std::vector<AffectSpec> affects{};
    std::optional<std::string> was{};  ///< its name in the version before; see carry_over
    friend bool operator==(const ModifierSpec&, const ModifierSpec&) = default;
};

/// How an action that is held at the end of a ban goes on: at once, or after another press.
enum class Resume : unsigned char { held, press };

/// A ban that the game puts into force and lifts: conversation, cut-scene, stun, menu.
struct BlockSpec {
    std::string name{};
    std::vector<std::string> bans{};  ///< actions, states, "movement"
    Resume resume = Resume::press;
    std::optional<std::string> was{};  ///< its name in the version before; see carry_over
    friend bool operator==(const BlockSpec&, const BlockSpec&) = default;
};

}  // namespace cursimeter
