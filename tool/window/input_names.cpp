#include "window/input_names.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <cursimeter/diagnostics.hpp>

namespace cursimeter::tool {
namespace {

std::string in_small_letters(std::string name) {
    for (char& letter : name) {
        letter = letter == ' ' ? '_' : static_cast<char>(std::tolower(static_cast<unsigned char>(letter)));
    }
    return name;
}

std::vector<std::string> all_inputs() {
    std::vector<std::string> names{left_trigger, right_trigger};
    for (int code = 0; code < SDL_NUM_SCANCODES; ++code) {
        const auto key = static_cast<SDL_Scancode>(code);
        if (*SDL_GetScancodeName(key) != '\0') {
            names.push_back(name_of_key(key));
        }
    }
    for (Uint8 button = 1; button < 32; ++button) {
        names.push_back(name_of_button(button));
    }
    for (Uint8 button = 0; button < SDL_CONTROLLER_BUTTON_MAX; ++button) {
        names.push_back(name_of_pad(button));
    }
    return names;
}

/// What an unknown name stands for: one that lacks its device, or the nearest.
std::string meant_by(const std::string& name, const std::vector<std::string>& known) {
    for (const char* device : {"", "key.", "mouse.", "pad."}) {
        const std::string_view near = nearest_name(device + in_small_letters(name), known);
        if (!near.empty()) {
            return fmt::format("did you mean '{}'?", near);
        }
    }
    return "names are as in key.space, mouse.left or pad.south; the window's keys tab writes them";
}

}  // namespace

std::string name_of_key(SDL_Scancode key) {
    return "key." + in_small_letters(SDL_GetScancodeName(key));
}

std::string name_of_button(Uint8 button) {
    switch (button) {
        case SDL_BUTTON_LEFT:
            return "mouse.left";
        case SDL_BUTTON_MIDDLE:
            return "mouse.middle";
        case SDL_BUTTON_RIGHT:
            return "mouse.right";
        default:
            return fmt::format("mouse.{}", button);
    }
}

std::string name_of_pad(Uint8 button) {
    switch (button) {
        case SDL_CONTROLLER_BUTTON_A:
            return "pad.south";
        case SDL_CONTROLLER_BUTTON_B:
            return "pad.east";
        case SDL_CONTROLLER_BUTTON_X:
            return "pad.west";
        case SDL_CONTROLLER_BUTTON_Y:
            return "pad.north";
        case SDL_CONTROLLER_BUTTON_BACK:
            return "pad.back";
        case SDL_CONTROLLER_BUTTON_START:
            return "pad.start";
        case SDL_CONTROLLER_BUTTON_LEFTSTICK:
            return "pad.left_stick";
        case SDL_CONTROLLER_BUTTON_RIGHTSTICK:
            return "pad.right_stick";
        case SDL_CONTROLLER_BUTTON_LEFTSHOULDER:
            return "pad.left_shoulder";
        case SDL_CONTROLLER_BUTTON_RIGHTSHOULDER:
            return "pad.right_shoulder";
        case SDL_CONTROLLER_BUTTON_DPAD_UP:
            return "pad.up";
        case SDL_CONTROLLER_BUTTON_DPAD_DOWN:
            return "pad.down";
        case SDL_CONTROLLER_BUTTON_DPAD_LEFT:
            return "pad.left";
        case SDL_CONTROLLER_BUTTON_DPAD_RIGHT:
            return "pad.right";
        default:
            return "pad.other";
    }
}

std::vector<std::string> cautions_of(const ControlsSpec& controls) {
    const std::vector<std::string> known = all_inputs();
    std::vector<std::string> cautions;
    for (std::size_t i = 0; i < controls.bindings.size(); ++i) {
        for (const std::string& input : controls.bindings[i].inputs) {
            if (std::find(known.begin(), known.end(), input) == known.end()) {
                cautions.push_back(fmt::format("bind[{}].inputs: the window knows no input '{}'; {}", i + 1,
                                               input, meant_by(input, known)));
            }
        }
    }
    return cautions;
}

}  // namespace cursimeter::tool
