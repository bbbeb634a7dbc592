#pragma once

#include <cursimeter/tryout/history.hpp>
#include <optional>

namespace cursimeter::panels {

/// The last seconds of a history over time: states, speed against target, meters, keys. A moment is pointed at with the mouse;
/// dragging with the right button chooses a stretch.
class Timeline {
  public:
    struct Choice {
        std::optional<tryout::Moment> moment;  ///< was clicked: go there
        bool stretch_chosen = false;           ///< just now: see `stretch`
    };
    /// `now` is marked. Of the given height in pixels; 0: all that is left of the window.
    Choice show(const tryout::History& history, tryout::Moment now, double height = 0.0);

    struct Stretch {
        tryout::Moment from, until;
    };
    [[nodiscard]] const std::optional<Stretch>& stretch() const { return stretch_; }
    void forget_stretch() { stretch_.reset(); }
    /// s that are shown, 2 to 120.
    void set_seconds(double seconds) { seconds_ = seconds; }
    [[nodiscard]] double seconds() const { return seconds_; }

  private:
    double seconds_ = 30.0;
    std::optional<double> drag_begin_;  ///< s of the history
    std::optional<Stretch> stretch_;
};

}  // namespace cursimeter::panels
