#pragma once

#include <cursimeter/panels/panels.hpp>
#include <cursimeter/rehearsal/simulated_link.hpp>
#include <string>

#include "window/camera.hpp"
#include "window/devices.hpp"
#include "window/session.hpp"

namespace cursimeter::tool {

/// The panels around the picture: where they are, and what their buttons do.
class Desk {
  public:
    Desk(const TryOptions& options, double scale);

    struct Room {  ///< pixels, y from above
        int x = 0, y = 0, width = 0, height = 0;
    };
    /// What is left for the picture in a window of this size.
    [[nodiscard]] Room picture(int width, int height) const;
    void show(Session& session, Devices& devices, View view, int width, int height);

    void toggle_help() { help_ = !help_; }
    [[nodiscard]] bool help() const { return help_; }
    void search();
    /// Whether the question about unsaved changes is open.
    void ask_to_close() { asking_ = true; }
    enum class Answer { none, stay, save, leave };
    /// The answer to it, once.
    [[nodiscard]] Answer answer();
    /// Whether panels have the keyboard.
    bool keys_to_panels = false;

  private:
    [[nodiscard]] bool is_narrow(int width) const;
    void runner_panels(Session& session);
    void time_panels(Session& session);
    void tabs(Session& session, Devices& devices, bool with_runner);
    void show_hints(Session& session, const Devices& devices, View view, int width, int height);
    void show_help(const Session& session, int width, int height);
    void show_question(Session& session);
    void show_bindings(Session& session, Devices& devices);
    void show_record(Session& session);
    void show_net(Session& session);
    void set_faults(Session& session) const;
    void place(float x, float y, float width, float height) const;

    double scale_;
    panels::Timeline timeline_;
    panels::TuningPanel tuning_;
    std::string open_tab_;  ///< to be opened once
    bool help_ = false, asking_ = false;
    Answer answer_ = Answer::none;
    std::ptrdiff_t listening_for_ = -1;                                  ///< binding
    float delay_ = 75.0F, jitter_ = 10.0F, loss_ = 5.0F, burst_ = 0.0F;  ///< ms and %
};

}  // namespace cursimeter::tool
