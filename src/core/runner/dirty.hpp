#pragma once

#include <array>
#include <cstddef>
#include <cstdint>

/// What must be found anew at the instant at hand, and what asks for it. Whoever changes something says what it was; what
/// depends on it stands in one table here.
namespace cursimeter::detail {

/// What is found anew.
namespace dirty {
inline constexpr unsigned facts = 1;       ///< whatever conditions read, and with it the choice of a state
inline constexpr unsigned wanted = 2;      ///< the wanted velocity, and with it the leg
inline constexpr unsigned aim = 4;         ///< the wanted velocity turned into the world, and with it the leg
inline constexpr unsigned levels = 8;      ///< the facts about meters
inline constexpr unsigned rates = 16;      ///< of meters
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
};

inline constexpr std::array<unsigned, 10> what_depends{
    dirty::facts,                      // key
    dirty::facts,                      // moving
    dirty::wanted,                     // move
    dirty::aim,                        // look
    dirty::facts | dirty::wanted,      // contact
    dirty::facts | dirty::aim,         // way
    dirty::wanted,                     // control
    dirty::modifiers | dirty::wanted,  // modifier
    dirty::levels,                     // level
    dirty::rates,                      // refill
};
static_assert(what_depends.size() == static_cast<std::size_t>(Changed::refill) + 1);

/// The mask of what must be found anew.
class Dirty {
  public:
    void note(Changed changed) { mask_ |= what_depends[static_cast<std::size_t>(changed)]; }
    void note(Changed changed, bool really) {
        mask_ |= really ? what_depends[static_cast<std::size_t>(changed)] : 0;
    }
    /// Whether any of these must be found anew.
    [[nodiscard]] bool any(unsigned of) const { return (mask_ & of) != 0; }
    void found(unsigned what) { mask_ &= ~what; }

  private:
    unsigned mask_ = 0;
};

}  // namespace cursimeter::detail
