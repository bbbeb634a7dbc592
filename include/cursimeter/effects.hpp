#pragma once

#include <array>
#include <cursimeter/report.hpp>
#include <cursimeter/runner.hpp>
#include <optional>

/// What a game does to a runner, apart from moving it: potions, boosts, bans, refunds; and what it reads back.
///
/// All of it happens between two ticks, at the runner's clock, allocates nothing and takes well under a
/// microsecond. The next report tells of it. The runner and the ids must be the chart's own: others
/// throw ChartError, as do values that are out of range, and nothing is changed. Within a tick, where nothing is thrown,
/// `Report::refusal` tells the same.
namespace cursimeter {

/// Takes an amount from a meter if it holds as much. Returns whether it did; on false nothing has changed.
/// The refill waits after it as after any drain.
[[nodiscard]] bool try_spend(const Chart& chart, Runner& runner, MeterId meter, double amount);
/// Adds to a meter, up to its capacity, and returns how much of it fitted in. A latch that this opens is told
/// of by the next report.
double grant(const Chart& chart, Runner& runner, MeterId meter, double amount);

/// Who grants a modifier, and how strongly.
struct Grant {
    /// 0 to 250. Each granter removes only its own; the chart itself grants with higher numbers.
    std::uint8_t source = 0;
    double strength = 1.0;  ///< part of the chart's amounts, 0.01 to 2.55, kept in hundredths
};
/// Puts a modifier to work, or repeats it as its `stacking` says. Returns false if `limits::modifiers` are at work already,
/// or, of `refresh` without seconds, if `limits::holders` others than the first hold such: then nothing has changed. Remove one
/// first, or let sources that mean the same use one number.
/// A modifier that the chart itself wants (`spent.grants`, `then`) and has no place for is reported as `crowded`
/// and left out; one that holds `while` something does begins as soon as there is a place.
bool grant(const Chart& chart, Runner& runner, ModifierId modifier, const Grant& grant = {});
/// How a modifier is taken away.
enum class Removal : std::uint8_t {
    fades,    ///< by its `fade_out`, or its `shed`
    at_once,  ///< at the next tick's start
};
/// Takes away what a source has granted. Returns whether there was any.
bool remove(const Chart& chart, Runner& runner, ModifierId modifier, std::uint8_t source = 0,
            Removal removal = Removal::fades);

struct ModifierReading {
    bool active = false;
    int stacks = 0;               ///< of all sources
    double strength = 0.0;        ///< the strongest now, fades included
    std::optional<Seconds> left;  ///< until its next phase or stack, if it has a time
};
[[nodiscard]] ModifierReading read_modifier(const Chart& chart, const Runner& runner, ModifierId modifier);

/// Uses a charge of a cooldown for something that the game does itself: a throw, a shout. Returns whether one was ready;
/// on false nothing has changed. The wait begins at once.
[[nodiscard]] bool try_use(const Chart& chart, Runner& runner, CooldownId cooldown);

struct CooldownReading {
    bool ready = true;
    int charges = 1;        ///< that can be used now
    Seconds left{0.0};      ///< until the next charge comes back, at the present pace; 0 if none is away
    double fraction = 1.0;  ///< of the wait that is over, 1 if none is away
};
[[nodiscard]] CooldownReading read_cooldown(const Chart& chart, const Runner& runner, CooldownId cooldown);
/// Gives charges back at once. Returns how many were away.
int refund(const Chart& chart, Runner& runner, CooldownId cooldown, int charges = 1);

/// Puts a block into force, once more if it is already. Returns how often it is now, or -1, with nothing changed,
/// if it is 255 times already: a caller that is refused must not lift it.
int block(const Chart& chart, Runner& runner, BlockId block);
/// Lifts a block once. Returns how often it is still in force, or -1 if it was not.
int unblock(const Chart& chart, Runner& runner, BlockId block);
/// How often a block is in force.
[[nodiscard]] int blocked(const Chart& chart, const Runner& runner, BlockId block);

/// Holds an action on, whatever its key says, until it is let go of with `on` false: so a cut-scene starts a sprint and
/// stops it again. Blocks ban it all the same; no press is reported. Takes effect at the next tick.
void hold_action(const Chart& chart, Runner& runner, ActionId action, bool on);

/// Whether a state could be entered now, if its key went down now. If not, `cause` names what keeps it out:
/// the first term that fails, a block, or that it may not follow the present state.
struct Possibility {
    bool possible = false;
    Cause cause{};
};
[[nodiscard]] Possibility could_enter(const Chart& chart, const Runner& runner, StateId state);
/// Enters a state whatever its conditions say, free of cost and charge. It is kept as long as its `stay`
/// holds: one that a held key keeps ends at the next tick, unless `hold_action` holds that action. Returns the events of entering.
Report force_state(const Chart& chart, Runner& runner, StateId state);

/// What modifiers of "turn" make of the game's own rate at which a body turns, in rad/s.
[[nodiscard]] double turn_rate(const Chart& chart, const Runner& runner, double base);

/// What a part of the speed target stands for.
enum class SpeedPartKind : std::uint8_t {
    base,      ///< the state's speed in the direction wanted, at full stick
    stick,     ///< the length of the move
    zone,      ///< the pace of the zones around
    slope,     ///< the ground's incline
    modifier,  ///< one modifier's adds and factor, sources and stacks together
    limit,     ///< what `sets`, `at_least` and `at_most` make of it
};
struct SpeedPart {
    SpeedPartKind kind = SpeedPartKind::base;
    ModifierId modifier;  ///< of kind modifier
    double adds = 0.0;    ///< m/s
    double times = 1.0;
};
/// The speed target as a list: (base + adds) x factors in this order gives `target`.
struct SpeedReading {
    double target = 0.0;  ///< m/s; `Runner::speed_target`
    double base = 0.0;    ///< m/s; the state's at full stick, in the direction wanted, or ahead while none is
    double top = 0.0;     ///< m/s; the same with modifiers, zones and slope: what full stick comes to
    std::size_t count = 0;
    std::array<SpeedPart, 5 + limits::modifiers> parts{};
};
[[nodiscard]] SpeedReading read_speed(const Chart& chart, const Runner& runner);

}  // namespace cursimeter
