#pragma once

#include <SDL.h>

#include <array>

namespace cursimeter::tool {

/// What the window's own keys do.
enum class Shortcut {
    help,
    camera,
    pause,
    tick_back,
    tick_on,
    slower,
    faster,
    ghost,
    begin_again,
    keys_to_panels,
    mouse,
    find,
    undo,
    redo,
    save,
    save_drill,
    save_take,
    network,
    close,
};

struct ShortcutKey {
    Shortcut shortcut;
    SDL_Scancode key;
    bool control;  ///< together with a control key that the character does not use
    bool leaves;   ///< left to the character where that uses the key, and to a text that is being written
    const char* name;
    const char* what;
};

/// All of them, as the help lists them.
inline constexpr std::array shortcut_keys{
    ShortcutKey{Shortcut::help, SDL_SCANCODE_F1, false, false, "F1", "this help"},
    ShortcutKey{Shortcut::mouse, SDL_SCANCODE_TAB, false, true, "Tab",
                "mouse to the character and back; or hold the right button over the picture"},
    ShortcutKey{Shortcut::camera, SDL_SCANCODE_F2, false, false, "F2",
                "camera: behind, own eyes, side, above"},
    ShortcutKey{Shortcut::pause, SDL_SCANCODE_F3, false, false, "F3", "pause and go on"},
    ShortcutKey{Shortcut::tick_back, SDL_SCANCODE_F4, false, false, "F4", "one tick back"},
    ShortcutKey{Shortcut::tick_on, SDL_SCANCODE_F5, false, false, "F5", "one tick on"},
    ShortcutKey{Shortcut::slower, SDL_SCANCODE_F6, false, false, "F6", "slower, down to 1/50"},
    ShortcutKey{Shortcut::faster, SDL_SCANCODE_F7, false, false, "F7", "faster"},
    ShortcutKey{Shortcut::ghost, SDL_SCANCODE_F8, false, false, "F8", "ghost of the chart as it is saved"},
    ShortcutKey{Shortcut::begin_again, SDL_SCANCODE_F9, false, false, "F9", "begin again at the start"},
    ShortcutKey{Shortcut::begin_again, SDL_SCANCODE_R, false, true, "R", "the same"},
    ShortcutKey{Shortcut::keys_to_panels, SDL_SCANCODE_F10, false, false, "F10",
                "keyboard to the panels and back: arrows, space, tab, Ctrl Tab"},
    ShortcutKey{Shortcut::find, SDL_SCANCODE_F, true, false, "Ctrl F", "find a number"},
    ShortcutKey{Shortcut::undo, SDL_SCANCODE_Z, true, true, "Ctrl Z", "undo a turn of a number"},
    ShortcutKey{Shortcut::redo, SDL_SCANCODE_Y, true, true, "Ctrl Y", "redo it"},
    ShortcutKey{Shortcut::save, SDL_SCANCODE_S, true, false, "Ctrl S",
                "save the chart's file: comments and layout stay"},
    ShortcutKey{Shortcut::save_drill, SDL_SCANCODE_D, true, false, "Ctrl D",
                "save what was played since the start as a drill"},
    ShortcutKey{Shortcut::save_take, SDL_SCANCODE_T, true, false, "Ctrl T", "save it as a take"},
    ShortcutKey{Shortcut::network, SDL_SCANCODE_N, true, false, "Ctrl N", "over a network, and back"},
    ShortcutKey{Shortcut::close, SDL_SCANCODE_Q, true, false, "Ctrl Q", "close"},
};

}  // namespace cursimeter::tool
