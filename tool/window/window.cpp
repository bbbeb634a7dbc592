#include "window/window.hpp"

#include <backends/imgui_impl_sdl.h>
#include <fmt/format.h>
#include <imgui.h>

#include <algorithm>
#include <array>
#include <chrono>
#include <cursimeter/diagnostics.hpp>

#include "files/files.hpp"
#include "window/desk.hpp"
#include "window/devices.hpp"
#include "window/display.hpp"
#include "window/input_names.hpp"
#include "window/session.hpp"
#include "window/shortcuts.hpp"
#include "window/stage.hpp"
#include "window/state_json.hpp"
#include "window/waiting.hpp"

namespace cursimeter::tool {
namespace {

using Clock = std::chrono::steady_clock;

double seconds_since(Clock::time_point begin) {
    return std::chrono::duration<double>(Clock::now() - begin).count();
}

View view_named(const std::string& name) {
    for (int i = 0; i < view_count; ++i) {
        if (name == name_of(static_cast<View>(i))) {
            return static_cast<View>(i);
        }
    }
    throw ChartError(
        {{"--view", fmt::format("'{}' is none", name), "behind, own eyes, side or above", {}, 0, 0}});
}

Display::Options display_options(const TryOptions& options) {
    Display::Options wanted;
    wanted.title = "Cursimeter: " + options.chart;
    const std::size_t cross = options.size.find('x');
    try {
        wanted.width = std::stoi(options.size);
        wanted.height = cross == std::string::npos ? 0 : std::stoi(options.size.substr(cross + 1));
    } catch (const std::exception&) {
        wanted.height = 0;
    }
    if (wanted.width < 480 || wanted.height < 320 || wanted.width > 16384 || wanted.height > 16384) {
        throw ChartError({{"--size",
                           fmt::format("'{}' is no size", options.size),
                           "write WIDTHxHEIGHT in pixels, from 480x320",
                           {},
                           0,
                           0}});
    }
    wanted.scale = options.scale;
    wanted.unseen = options.frames > 0;
    return wanted;
}

/// Times of the last frames.
class Stopwatch {
  public:
    void add(double milliseconds) { times_[count_++ % times_.size()] = milliseconds; }
    [[nodiscard]] double median() const {
        std::array<double, 120> sorted = times_;
        const std::size_t count = std::min(count_, sorted.size());
        std::sort(sorted.begin(), sorted.begin() + static_cast<std::ptrdiff_t>(count));
        return count > 0 ? sorted[count / 2] : 0.0;
    }

  private:
    std::array<double, 120> times_{};
    std::size_t count_ = 0;
};

class Window {
  public:
    Window(const TryOptions& options, Session& session)
        : options_(options),
          view_(view_named(options.view)),
          session_(session),
          display_(display_options(options)),
          desk_(options, display_.scale()),
          devices_(session_),
          stage_(session_) {}

    int run() {
        session_.run_until(0.0);
        while (open_) {
            const Clock::time_point begun = Clock::now();
            const double now = time();
            take_events(now);
            session_.run_until(now);
            look_at_files(now);
            const double played = seconds_since(begun);
            display_.begin_frame();
            const int width = display_.width(), height = display_.height();
            const Desk::Room room = desk_.picture(width, height);
            const Clock::time_point panels_begun = Clock::now();
            desk_.show(session_, devices_, view_, width, height);
            const double shown = seconds_since(panels_begun);
            answer();
            stage_.draw(session_, view_, room.x, room.y, room.width, room.height, height, display_.scale());
            ++figures_.frames;
            const bool last = options_.frames > 0 && figures_.frames >= options_.frames;
            display_.end_frame(last ? options_.shot : std::string());
            work_.add((played + shown) * 1000.0);
            frame_.add(seconds_since(last_frame_) * 1000.0);
            last_frame_ = Clock::now();
            tell_state(now);
            open_ = open_ && !last;
        }
        if (!options_.shot.empty()) {
            fmt::print("wrote {}\n", options_.shot);
        }
        told_at_ = -1.0;
        tell_state(time());
        return 0;
    }

  private:
    /// s; without a person each frame is a 60th.
    [[nodiscard]] double time() const {
        return options_.frames > 0 ? static_cast<double>(figures_.frames) / 60.0 : seconds_since(begun_);
    }

    void take_events(double now) {
        // Dear ImGui looks at keys once a frame: one that came and went within a frame stays down for it until the next.
        for (const SDL_Event& late : late_releases_) {
            ImGui_ImplSDL2_ProcessEvent(&late);
        }
        late_releases_.clear();
        std::vector<SDL_Scancode> pressed;
        SDL_Event event;
        while (SDL_PollEvent(&event) != 0) {
            if (event.type == SDL_KEYDOWN) {
                pressed.push_back(event.key.keysym.scancode);
            }
            const bool is_late =
                event.type == SDL_KEYUP &&
                std::find(pressed.begin(), pressed.end(), event.key.keysym.scancode) != pressed.end();
            if (is_late) {
                late_releases_.push_back(event);
            } else {
                ImGui_ImplSDL2_ProcessEvent(&event);
            }
            if (event.type == SDL_KEYDOWN) {  // as it was for this key, not as it is by now
                ImGui::GetIO().KeyCtrl = (event.key.keysym.mod & KMOD_CTRL) != 0;
                ImGui::GetIO().KeyShift = (event.key.keysym.mod & KMOD_SHIFT) != 0;
            }
            const ImGuiIO& io = ImGui::GetIO();
            const bool keys = !io.WantTextInput && !desk_.keys_to_panels;
            if (event.type == SDL_QUIT) {
                close();
            }
            const bool taken =
                event.type == SDL_KEYDOWN && event.key.repeat == 0 && window_key(event.key, keys);
            if (!taken) {
                devices_.take(event, keys, !io.WantCaptureMouse, now);
            }
        }
    }

    /// Whether a control key is down that is the window's: one that makes the character crouch is not.
    [[nodiscard]] bool controls(const SDL_KeyboardEvent& event, bool keys) const {
        const auto is_ours = [&](int mod, const char* name) {
            return (event.keysym.mod & mod) != 0 && !(keys && is_bound(name));
        };
        return is_ours(KMOD_LCTRL, "key.left_ctrl") || is_ours(KMOD_RCTRL, "key.right_ctrl");
    }

    /// Keys of the window's own. `keys`: whether they go to the character otherwise.
    bool window_key(const SDL_KeyboardEvent& event, bool keys) {
        const bool control = controls(event, keys);
        for (const ShortcutKey& one : shortcut_keys) {
            const bool left = one.leaves && (!keys || is_bound(name_of_key(one.key)));
            if (one.key == event.keysym.scancode && one.control == control && !left) {
                do_shortcut(one.shortcut);
                return true;
            }
        }
        if (event.keysym.scancode ==
            SDL_SCANCODE_ESCAPE) {  // everything back as it was, for whoever wants it
            devices_.hold_mouse(false);
            keys_to_panels(false);
        }
        return false;
    }

    void do_shortcut(Shortcut shortcut) {
        switch (shortcut) {
            case Shortcut::help:
                desk_.toggle_help();
                break;
            case Shortcut::camera:
                view_ = static_cast<View>((static_cast<int>(view_) + 1) % view_count);
                break;
            case Shortcut::pause:
                session_.clock.pause(!session_.clock.paused());
                break;
            case Shortcut::tick_back:
                session_.clock.pause(true);
                session_.play.step_back();
                break;
            case Shortcut::tick_on:
                session_.clock.pause(true);
                session_.play.step_on();
                break;
            case Shortcut::slower:
                session_.clock.go_slower();
                break;
            case Shortcut::faster:
                session_.clock.go_faster();
                break;
            case Shortcut::ghost:
                session_.ghost(!session_.play.ghost());
                break;
            case Shortcut::begin_again:
                session_.respawn();
                break;
            case Shortcut::keys_to_panels:
                keys_to_panels(!desk_.keys_to_panels);
                break;
            case Shortcut::mouse:
                devices_.hold_mouse(!devices_.holds_mouse());
                break;
            case Shortcut::find:
                desk_.search();
                devices_.hold_mouse(false);
                session_.release_all();
                break;
            case Shortcut::undo:
                if (session_.tuning.undo()) {
                    session_.use_tuned_chart();
                }
                break;
            case Shortcut::redo:
                if (session_.tuning.redo()) {
                    session_.use_tuned_chart();
                }
                break;
            case Shortcut::save:
                session_.save();
                break;
            case Shortcut::save_drill:
                session_.save_drill(session_.play.begun());
                break;
            case Shortcut::save_take:
                session_.save_take(session_.play.begun());
                break;
            case Shortcut::network:
                session_.network(!session_.is_on_network());
                break;
            case Shortcut::close:
                close();
                break;
        }
    }

    void keys_to_panels(bool on) {
        desk_.keys_to_panels = on;
        ImGuiIO& io = ImGui::GetIO();
        if (on) {
            session_.release_all();
            devices_.hold_mouse(false);
            io.ConfigFlags |= ImGuiConfigFlags_NavEnableKeyboard;
            ImGui::SetWindowFocus("desk");
        } else {
            io.ConfigFlags &= ~ImGuiConfigFlags_NavEnableKeyboard;
        }
    }
    [[nodiscard]] bool is_bound(const std::string& input) const {
        const std::vector<BindingSpec>& bindings = session_.controls_spec().bindings;
        return std::any_of(bindings.begin(), bindings.end(), [&](const BindingSpec& binding) {
            return std::find(binding.inputs.begin(), binding.inputs.end(), input) != binding.inputs.end();
        });
    }

    void close() {
        if (session_.tuning.changed().empty()) {
            open_ = false;
        } else {
            devices_.hold_mouse(false);
            session_.release_all();
            desk_.ask_to_close();
        }
    }
    void answer() {
        switch (desk_.answer()) {
            case Desk::Answer::none:
            case Desk::Answer::stay:
                break;
            case Desk::Answer::save:
                open_ = !session_.save();
                break;
            case Desk::Answer::leave:
                open_ = false;
                break;
        }
    }

    void look_at_files(double now) {
        constexpr double every = 0.2;  // s
        if (now - looked_at_ >= every) {
            looked_at_ = now;
            session_.look_at_files();
        }
    }
    void tell_state(double now) {
        constexpr double every = 0.1;  // s
        if (options_.state_json.empty() || now - told_at_ < every) {
            return;
        }
        told_at_ = now;
        figures_.frame_ms = frame_.median();
        figures_.work_ms = work_.median();
        try {
            write_text(options_.state_json,
                       state_json(session_, figures_, name_of(view_), devices_.holds_mouse()));
        } catch (const ChartError& error) {  // a full disk must not end what is played
            session_.tell(error.what(), true);
        }
    }

    TryOptions options_;
    View view_;
    Session& session_;
    Display display_;
    Desk desk_;
    Devices devices_;
    Stage stage_;
    Clock::time_point begun_ = Clock::now(), last_frame_ = begun_;
    LoopFigures figures_;
    std::vector<SDL_Event> late_releases_;
    Stopwatch work_, frame_;
    double looked_at_ = 0.0, told_at_ = -1.0;
    bool open_ = true;
};

}  // namespace

int open_window(const TryOptions& options) {
    static_cast<void>(
        view_named(options.view));  // calls that cannot be meant are refused before any file is read
    static_cast<void>(display_options(options));
    const std::unique_ptr<Session> session = begin_session(options);
    if (session != nullptr) {
        for (const std::string& caution : session->cautions()) {
            fmt::print(stderr, "{}\n", caution);
        }
    }
    return session != nullptr ? Window(options, *session).run() : 0;
}

}  // namespace cursimeter::tool
