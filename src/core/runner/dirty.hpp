#pragma once

#include <cstdint>

/// What must be found anew at the instant at hand, and what asks for it. Whoever changes something says what it was; what
/// depends on it stands in one table here.
namespace cursimeter::detail {

/// What is found anew.
namespace dirty {
inline constexpr unsigned facts = 1;   ///< whatever conditions read, and with it the choice of a state
inline constexpr unsigned wanted = 2;  ///< the wanted velocity, and with it the segment
inline constexpr unsigned aim = 4;     ///< the wanted velocity turned into the world, and with it the segment
inline constexpr unsigned levels = 8;  ///< the facts about meters
inline constexpr unsigned rates = 16;  ///< of meters
inline constexpr unsigned modifiers = 32;  ///< what reads modified numbers once an instant: rates, waits
}  // namespace dirty

/// What has changed.
enum class Changed : std::uint8_t {
    key,      ///< an action went on or off
    moving,   ///< one of the facts about the move
    move,     ///< the stick
    look,     ///< the look, or what else turns the way: a key of a flier, a jump cut short, a landing's pause
    contact,  ///< the ground was left or reached
    way,      ///< something in the way came or went
    control,  ///< a push began or ended, zones, the state
    modifier,  ///< one came, went or changed its strength
    level,     ///< a meter's level made a jump
    refill,    ///< the wait before a refill is over
    woken,     ///< the game did something between two ticks
};

/// The table of what depends on what.
[[nodiscard]] constexpr unsigned what_depends_on(Changed changed) {
    switch (changed) {
        case Changed::key:
        case Changed::moving:
            return dirty::facts;
        case Changed::move:
        case Changed::control:
            return dirty::wanted;
        case Changed::look:
            return dirty::aim;
        case Changed::contact:
            return dirty::facts | dirty::wanted;
        case Changed::way:
            return dirty::facts | dirty::aim;
        case Changed::modifier:
            return dirty::modifiers | dirty::wanted;
        case Changed::level:
            return dirty::levels;
        case Changed::refill:
            return dirty::rates;
        case Changed::woken:
            return dirty::facts | dirty::wanted | dirty::levels;
    }
    return 0;
}

/// The mask of what must be found anew.
class Dirty {
  public:
    void note(Changed changed) { mask_ |= what_depends_on(changed); }
    void note(Changed changed, bool really) { mask_ |= really ? what_depends_on(changed) : 0; }
    /// Whether any of these must be found anew.
    [[nodiscard]] bool any(unsigned of) const { return (mask_ & of) != 0; }
    void found(unsigned what) { mask_ &= ~what; }

  private:
    unsigned mask_ = 0;
};

}  // namespace cursimeter::detail
