#pragma once

#include <algorithm>
#include <cmath>
#include <cursimeter/chart.hpp>

#include "picture/style.hpp"

namespace cursimeter::tool {

/// How high the panels of a timeline are. The page grows where the states, keys and meters of a large chart leave the curves no
/// room.
class TimelineLayout {
  public:
    static constexpr double top = 76.0, gap = 20.0, event_height = 56.0;

    TimelineLayout(const Chart& chart, std::size_t modifiers)
        : states_(static_cast<double>(chart.state_count())),
          keys_(static_cast<double>(std::max<std::size_t>(1, chart.action_count()))),
          meters_(static_cast<double>(chart.meter_count())),
          modifiers_(static_cast<double>(modifiers)) {}

    [[nodiscard]] double height() const {
        return std::max(page_height, std::ceil(fixed_height() + least_speed_height * curves()));
    }
    [[nodiscard]] double state_lane() const { return std::clamp(150.0 / states_, 14.0, 26.0); }
    [[nodiscard]] double states_height() const { return state_lane() * states_; }
    [[nodiscard]] double speed_height() const { return (height() - fixed_height()) / curves(); }
    [[nodiscard]] double meter_height() const { return meter_part * speed_height(); }
    /// Of a key or a modifier.
    [[nodiscard]] double key_lane() const { return std::clamp(90.0 / keys_, 11.0, 18.0); }
    [[nodiscard]] double keys_height() const { return key_lane() * keys_; }
    [[nodiscard]] double modifiers_height() const { return key_lane() * modifiers_; }

  private:
    static constexpr double bottom_margin = 46.0, meter_part = 0.85, least_speed_height = 90.0;

    /// How many times as high as the speed's panel those of the speed and of all meters are.
    [[nodiscard]] double curves() const { return 1.0 + meter_part * meters_; }
    /// Of everything but the curves.
    [[nodiscard]] double fixed_height() const {
        const double modifiers = modifiers_ > 0.0 ? modifiers_height() + gap : 0.0;
        return top + bottom_margin + states_height() + keys_height() + event_height + modifiers +
               gap * (3.0 + meters_);
    }

    double states_, keys_, meters_, modifiers_;
};

}  // namespace cursimeter::tool
