#pragma once

#include <array>
#include <span>
#include <vector>

#include "survey/dice.hpp"
#include "survey/scout/player.hpp"

/// Stretches of input that are worth trying.
namespace cursimeter::survey {

/// What the second half of a stint waits for.
enum class Cue : std::uint8_t {
    none,   ///< there is no second half
    ticks,  ///< so many ticks
    event,  ///< the first event of weight: a landing, a state entered, something ready, a meter full ...
    apex,   ///< the rise is over
    brink,  ///< the last moment at which it may still jump, having left the ground
    level,  ///< it has fallen back to where it left the ground
};

/// Hands so, and from a cue on otherwise.
struct Stint {
    Hands first, second;
    Cue cue = Cue::none;
    std::uint16_t cue_ticks = 0;
    std::uint16_t ticks = 0;  ///< in all
};

/// The changes of hands that a stint came to, once it has been played.
struct Played {
    std::array<HandsAt, 2> changes{};
    std::uint8_t count = 0;
    Player::Outcome outcome = Player::Outcome::on;
};

/// Draws stints for a chart: the keys that its states ask for, headings, and times that matter.
class StintMaker {
  public:
    explicit StintMaker(const Errand& errand);
    /// `ahead` is where it seems good to go from here, if that is known.
    [[nodiscard]] Stint make(const Situation& now, const std::optional<glm::dvec3>& ahead, Dice& dice) const;
    /// Other keys than those that are held, or the same.
    [[nodiscard]] std::uint32_t some_keys(std::uint32_t held, Dice& dice) const;

  private:
    [[nodiscard]] Cue some_cue(const Situation& now, Dice& dice) const;
    [[nodiscard]] std::int16_t some_yaw(const Situation& now, const std::optional<glm::dvec3>& ahead,
                                        Dice& dice) const;

    const Errand& errand_;
    std::vector<std::uint32_t> key_sets_;  ///< that some condition asks for
    std::vector<std::int16_t> pitches_;    ///< degrees; none where no state goes by the look's pitch
};

/// Whether something happened at which hands do something.
[[nodiscard]] bool has_weight(const Report& report);

/// Sees when what a stint waits for is there, tick by tick.
class CueWatch {
  public:
    explicit CueWatch(Cue cue) : cue_(cue) {}
    [[nodiscard]] bool due(const Errand& errand, const Situation& now, const Report& report);

  private:
    Cue cue_;
    bool was_ =
        false;  ///< before the last tick: it rose; it was well within its time, or above where it had stood
};

/// Plays a stint; `each` is called after every tick.
template <class Each>
Played play(Player& player, Situation& now, const Stint& stint, Each&& each) {
    Played played;
    const auto change_to = [&](const Hands& hands) {
        if (hands != now.hands) {
            played.changes[played.count++] = {now.tick, hands};
        }
        return hands;
    };
    const std::uint32_t end = now.tick + stint.ticks;
    Hands hands = change_to(stint.first);
    bool waits = stint.cue != Cue::none;
    const std::uint32_t begin = now.tick;
    CueWatch watch(stint.cue);
    while (now.tick < end && played.outcome == Player::Outcome::on) {
        played.outcome = player.tick(now, hands);
        each(now);
        if (!waits) {
            continue;
        }
        const bool due = stint.cue == Cue::ticks ? now.tick - begin >= stint.cue_ticks
                                                 : watch.due(player.errand(), now, player.report());
        if (due && now.tick < end) {
            hands = change_to(stint.second);
            waits = false;
        }
    }
    return played;
}

}  // namespace cursimeter::survey
