#pragma once

#include <SDL.h>

#include <cursimeter/controls/controls.hpp>
#include <string>
#include <vector>

/// What keys and buttons are called in the window, and so in controls that are played there.
namespace cursimeter::tool {

/// "key.left_shift".
[[nodiscard]] std::string name_of_key(SDL_Scancode key);
[[nodiscard]] std::string name_of_button(Uint8 button);
[[nodiscard]] std::string name_of_pad(Uint8 button);
inline constexpr const char* left_trigger = "pad.left_trigger";
inline constexpr const char* right_trigger = "pad.right_trigger";

/// What is allowed in controls, since inputs are named by a game, and hardly meant: inputs that the window never gives.
[[nodiscard]] std::vector<std::string> cautions_of(const ControlsSpec& controls);

}  // namespace cursimeter::tool
