#pragma once

#include <SDL.h>

#include <optional>
#include <string>

#include "window/session.hpp"

namespace cursimeter::tool {

/// Keyboard, mouse and gamepads, for a session.
class Devices {
  public:
    explicit Devices(Session& session) : session_(session) {}
    ~Devices();
    Devices(const Devices&) = delete;
    Devices& operator=(const Devices&) = delete;

    /// Hands an event on. `keys` and `mouse`: whether the panels leave them to the character. `now` is the session's clock, s.
    void take(const SDL_Event& event, bool keys, bool mouse, double now);

    /// Whether the mouse belongs to the character: it turns the look and is not to be seen.
    [[nodiscard]] bool holds_mouse() const { return holds_mouse_; }
    void hold_mouse(bool hold);
    /// The next key or button that goes down is told instead of played.
    void listen(bool on) { listening_ = on; }
    [[nodiscard]] std::optional<std::string> heard();

    [[nodiscard]] bool has_pad() const { return pad_ != nullptr; }

  private:
    /// s of the session's clock at which SDL saw it.
    [[nodiscard]] static double time_of(Uint32 timestamp, double now);
    void go_down(const std::string& input, double time, bool to_character);
    void move_axis(const SDL_ControllerAxisEvent& axis, double time);

    Session& session_;
    SDL_GameController* pad_ = nullptr;
    bool holds_mouse_ = false, listening_ = false;
    bool drags_ = false;  ///< the look, by the right mouse button
    std::optional<std::string> heard_;
    double left_x_ = 0.0, left_y_ = 0.0, right_x_ = 0.0, right_y_ = 0.0;
};

}  // namespace cursimeter::tool
