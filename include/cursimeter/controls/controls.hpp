#pragma once

#include <array>
#include <cursimeter/chart.hpp>
#include <cursimeter/intent.hpp>
#include <cursimeter/runner.hpp>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

/// A player's own settings: which keys, buttons, touch controls and sticks mean which action.
///
/// The game gives its inputs names of its own ("key.w", "pad.south", "touch.jump"); this library only compares
/// them. What the game's own interface has used already is handed in as consumed: it presses nothing. Releases
/// always count, so no key is ever stuck.
namespace cursimeter {

/// One way to press something. Several for one action are alternatives.
struct BindingSpec {
    /// An action of the chart, or "move_forward", "move_back", "move_left", "move_right".
    std::string action;
    /// All of them must be down: a chord. Empty: the action is on nothing, whatever the game's own settings say.
    std::vector<std::string> inputs;
    /// s: the last input counts only if it went down twice within this time; 0: once is enough.
    double double_tap = 0.0;
    friend bool operator==(const BindingSpec&, const BindingSpec&) = default;
};

/// The player's choice how an action is pressed, in place of the chart's.
struct PressChoice {
    std::string name;  ///< action
    PressMode press = PressMode::hold;
    friend bool operator==(const PressChoice&, const PressChoice&) = default;
};

/// How a stick's deflection becomes a move.
struct StickSpec {
    double dead_zone = 0.15;  ///< deflections below this are none
    double full_at = 0.95;    ///< deflections from this on are full
    double exponent = 1.0;    ///< of what lies between; above 1 is finer near the centre
    friend bool operator==(const StickSpec&, const StickSpec&) = default;
};

/// How a mouse or a stick turns the look.
struct LookControlSpec {
    double sensitivity = 0.15;  ///< degrees per unit of a mouse
    double turn_rate = 180.0;   ///< degrees per second of a stick at full deflection
    bool invert_pitch = false;
    double most_pitch = 85.0;  ///< degrees up and down
    double smoothing = 0.0;    ///< s in which half of what is still to turn is turned
    friend bool operator==(const LookControlSpec&, const LookControlSpec&) = default;
};

struct ControlsSpec {
    std::string name;
    std::vector<BindingSpec> bindings;
    std::vector<PressChoice> presses;
    StickSpec stick;
    LookControlSpec look;
    friend bool operator==(const ControlsSpec&, const ControlsSpec&) = default;
};

/// The player's settings over the game's: actions, presses and the name are the player's where said; bindings of
/// actions that the player has none for are the game's. Stick and look are the player's.
[[nodiscard]] ControlsSpec over_defaults(const ControlsSpec& defaults, const ControlsSpec& own);

/// The inverse: of `all`, what differs from the game's settings, to be saved as the player's own. So what the game changes in its own later
/// reaches players who have not chosen otherwise. An action that is on nothing has one binding without inputs. A press mode
/// that the game says cannot be taken back, only chosen otherwise.
[[nodiscard]] ControlsSpec without_defaults(const ControlsSpec& defaults, const ControlsSpec& all);

/// "'sprint' and 'dash' are both on key.shift": chords that mean two things. Not mistakes: a player may want it.
[[nodiscard]] std::vector<std::string> conflicts(const ControlsSpec& spec);

/// An input of the game, by name; see `Controls::input`.
using InputId = Id<struct InputTag>;

/// Whether the game's own interface (a menu, a chat line) has used an input already.
enum class Consumed : std::uint8_t { no, yes };

/// Turns inputs into intents. After the constructor nothing is allocated; copying one is cheap enough for a
/// save game. All times are s after the present tick's start.
class Controls {
  public:
    static constexpr std::size_t most_inputs = 64, most_bindings = 64;

    /// Throws ChartError with every mistake: an unknown action, too many inputs or bindings.
    Controls(const Chart& chart, const ControlsSpec& spec);

    /// The id of an input; one that nothing is bound to may be pressed and released without effect.
    [[nodiscard]] InputId input(std::string_view name) const;

    void press(InputId input, double at = 0.0, Consumed consumed = Consumed::no);
    void release(InputId input, double at = 0.0);
    /// An axis that is bound like a key, such as a trigger: down from 0.5 on, up below 0.4.
    void axis(InputId input, double value, double at = 0.0, Consumed consumed = Consumed::no);
    /// A stick's deflection, each -1 to 1, y ahead. Keys and stick are added up.
    void deflect(double x, double y, double at = 0.0);
    /// A mouse's way: x to the right, y up.
    void turn(double x, double y);
    /// A look stick's deflection, each -1 to 1, until the next call.
    void deflect_look(double x, double y);
    /// What the character turns to from now on: where it looks, as at first, or where it goes.
    void face(Facing facing) { facing_ = facing; }
    /// Keeps the look on a point, from now on and until `let_go`: tell it before each tick if it moves. Mouse and look stick
    /// turn nothing meanwhile.
    void lock_on(const Focus& focus) { focus_ = focus; }
    /// Turns freely again, from where the runner looks.
    void let_go(const Runner& runner) {
        focus_.reset();
        set_look({runner.yaw(), runner.pitch()});
    }
    [[nodiscard]] Facing facing() const { return facing_; }
    [[nodiscard]] const std::optional<Focus>& focus() const { return focus_; }
    /// The window is in front no more: everything goes up, the sticks to rest.
    void release_all(double at = 0.0);
    /// Loss of a device: every input whose name begins so goes up ("pad.").
    void release_device(std::string_view prefix, double at = 0.0);

    /// Goes on with another version of the chart: bindings are found by name, or by the name that the new chart says an
    /// action had; what is down stays down. Throws ChartError, with nothing changed, if an action is gone: then make
    /// controls for the new chart without it. Allocates.
    void carry_over(const Chart& to);

    /// Takes other settings for the same chart, as from the player's menu. The look, the sticks and what is down stay: a key goes on doing
    /// what it does by both settings, what it no longer does is released at `at`, and what it newly does waits for its next press.
    /// Ids of inputs stay; once 64 names have been seen, those that nothing is bound to and that are up are given away. Throws
    /// ChartError, with nothing changed, for mistakes and for another chart. Press modes go to the runner by `apply_press_modes`. Allocates.
    void rebind(const Chart& chart, const ControlsSpec& spec, double at = 0.0);
    /// The settings at work.
    [[nodiscard]] const ControlsSpec& spec() const { return spec_; }

    /// What has been gathered for the present tick; valid until this object changes. It names its chart
    /// (`Intent::naming`).
    [[nodiscard]] Intent intent() const {
        Intent intent = builder_.intent();
        intent.naming = naming_;
        intent.facing = facing_;
        intent.focus = focus_ ? &*focus_ : nullptr;
        return intent;
    }
    /// Ends the tick of this length: the look turns on, what is held stays.
    void next_tick(Seconds dt);
    [[nodiscard]] Look look() const { return look_; }
    /// At once, as after a teleport; smoothing begins again there.
    void set_look(Look look);

    /// Gives the player's press modes to a runner; the chart's own where the player has said nothing.
    void apply_press_modes(const Chart& chart, Runner& runner) const;

  private:
    struct Binding {
        std::uint64_t chord = 0;
        std::uint8_t target = 0;  ///< action, or a move from first_move on
        double double_tap = 0.0;
        bool down = false;
        [[nodiscard]] bool means_the_same(const Binding& other) const {
            return chord == other.chord && target == other.target && double_tap == other.double_tap;
        }
    };
    static constexpr std::uint8_t first_move = 32;
    struct Press {
        std::uint8_t action = 0;
        PressMode mode = PressMode::hold;
    };

    /// With names that have ids already, and those of them that are down.
    Controls(const Chart& chart, const ControlsSpec& spec, std::vector<std::string> inputs,
             std::uint64_t down);
    /// The place of a name among the inputs, which it gets if it has none; none if there is no room.
    std::optional<std::size_t> place_of(const std::string& name);
    void set_target(std::uint8_t target, int change, double at);
    void move(double at);
    void aim(double yaw, double pitch);

    ControlsSpec spec_;
    std::uint32_t naming_ = 0;
    std::vector<std::string> inputs_;
    std::vector<Binding> bindings_;
    std::vector<Press> presses_;
    StickSpec stick_;
    LookControlSpec look_spec_;
    IntentBuilder builder_;
    std::uint64_t down_ = 0;
    std::array<double, most_inputs> pressed_at_{};
    std::array<std::uint8_t, first_move + 4> held_{};  ///< bindings that are down, by target
    double clock_ = 0.0;
    double stick_x_ = 0.0, stick_y_ = 0.0, look_x_ = 0.0, look_y_ = 0.0;
    Look look_, wanted_look_;
    Facing facing_ = Facing::look;
    std::optional<Focus> focus_;
};

}  // namespace cursimeter
