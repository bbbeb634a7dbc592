#include "window/devices.hpp"

#include <algorithm>
#include <cmath>

#include "window/input_names.hpp"

namespace cursimeter::tool {

Devices::~Devices() {
    if (pad_ != nullptr) {
        SDL_GameControllerClose(pad_);
    }
}

double Devices::time_of(Uint32 timestamp, double now) {
    const Uint32 ago = SDL_GetTicks() - timestamp;
    return now - std::min(static_cast<double>(ago) * 0.001, 0.25);
}

void Devices::hold_mouse(bool hold) {
    holds_mouse_ = hold;
    SDL_SetRelativeMouseMode(hold ? SDL_TRUE : SDL_FALSE);
}

std::optional<std::string> Devices::heard() {
    std::optional<std::string> told = std::move(heard_);
    heard_.reset();
    return told;
}

void Devices::go_down(const std::string& input, double time, bool to_character) {
    if (listening_) {
        listening_ = false;
        heard_ = input;
    } else if (to_character) {
        session_.press(input, time);
    }
}

void Devices::move_axis(const SDL_ControllerAxisEvent& axis, double time) {
    const double value = std::clamp(axis.value / 32767.0, -1.0, 1.0);
    const auto trigger = [&](const char* name) {
        if (value >= 0.5) {
            go_down(name, time, true);
        } else if (value < 0.4) {
            session_.release(name, time);
        }
    };
    switch (axis.axis) {
        case SDL_CONTROLLER_AXIS_LEFTX:
            left_x_ = value;
            session_.deflect(left_x_, left_y_, time);
            break;
        case SDL_CONTROLLER_AXIS_LEFTY:
            left_y_ = -value;
            session_.deflect(left_x_, left_y_, time);
            break;
        case SDL_CONTROLLER_AXIS_RIGHTX:
            right_x_ = std::abs(value) > 0.15 ? value : 0.0;
            session_.deflect_look(right_x_, right_y_);
            break;
        case SDL_CONTROLLER_AXIS_RIGHTY:
            right_y_ = std::abs(value) > 0.15 ? -value : 0.0;
            session_.deflect_look(right_x_, right_y_);
            break;
        case SDL_CONTROLLER_AXIS_TRIGGERLEFT:
            trigger(left_trigger);
            break;
        case SDL_CONTROLLER_AXIS_TRIGGERRIGHT:
            trigger(right_trigger);
            break;
        default:
            break;
    }
}

void Devices::take(const SDL_Event& event, bool keys, bool mouse, double now) {
    const double time = time_of(event.common.timestamp, now);
    switch (event.type) {
        case SDL_KEYDOWN:
            if (event.key.repeat == 0) {
                go_down(name_of_key(event.key.keysym.scancode), time, keys);
            }
            break;
        case SDL_KEYUP:
            session_.release(name_of_key(event.key.keysym.scancode), time);
            break;
        case SDL_MOUSEBUTTONDOWN:
            if (holds_mouse_ || listening_) {
                go_down(name_of_button(event.button.button), time, holds_mouse_);
            } else if (mouse && event.button.button == SDL_BUTTON_RIGHT) {
                drags_ = true;
            }
            break;
        case SDL_MOUSEBUTTONUP:
            drags_ = drags_ && event.button.button != SDL_BUTTON_RIGHT;
            session_.release(name_of_button(event.button.button), time);
            break;
        case SDL_MOUSEMOTION:
            if (holds_mouse_ || drags_) {
                session_.turn(event.motion.xrel, -event.motion.yrel, time);
            }
            break;
        case SDL_CONTROLLERDEVICEADDED:
            if (pad_ == nullptr) {
                pad_ = SDL_GameControllerOpen(event.cdevice.which);
                session_.tell("a gamepad is at hand");
            }
            break;
        case SDL_CONTROLLERDEVICEREMOVED:
            if (pad_ != nullptr &&
                SDL_JoystickInstanceID(SDL_GameControllerGetJoystick(pad_)) == event.cdevice.which) {
                SDL_GameControllerClose(pad_);
                pad_ = nullptr;
                left_x_ = left_y_ = right_x_ = right_y_ = 0.0;
                session_.release_device("pad.");
                session_.tell("the gamepad is gone");
            }
            break;
        case SDL_CONTROLLERBUTTONDOWN:
            go_down(name_of_pad(event.cbutton.button), time, true);
            break;
        case SDL_CONTROLLERBUTTONUP:
            session_.release(name_of_pad(event.cbutton.button), time);
            break;
        case SDL_CONTROLLERAXISMOTION:
            move_axis(event.caxis, time);
            break;
        case SDL_WINDOWEVENT:
            if (event.window.event == SDL_WINDOWEVENT_FOCUS_LOST) {
                drags_ = false;
                hold_mouse(false);
                session_.release_all();
            }
            break;
        default:
            break;
    }
}

}  // namespace cursimeter::tool
