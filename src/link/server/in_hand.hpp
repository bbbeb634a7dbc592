#pragma once

#include <algorithm>
#include <cstdint>

namespace cursimeter::link {

/// How long the intents of a client had to wait for their ticks since it was last told, at the worst moment. It steers its
/// lead by that (see client/lead.hpp).
class InHand {
  public:
    void start() { *this = {}; }
    /// A packet came, be it of use or too far off: its newest intent is that of `tick`.
    void hear(std::uint32_t tick) {
        newest_ = !heard_ || static_cast<std::int32_t>(tick - newest_) > 0 ? tick : newest_;
        heard_ = true;
    }
    /// An intent came, `ticks` before it is to be played; less than 0: after that.
    void come(double ticks) {
        least_ = any_ ? std::min(least_, ticks) : ticks;
        any_ = true;
    }

    [[nodiscard]] bool heard() const { return heard_ && any_; }
    [[nodiscard]] std::uint32_t newest() const { return newest_; }
    [[nodiscard]] double least() const { return std::clamp(least_, -most, most); }
    /// It was told.
    void told() { heard_ = any_ = false; }

  private:
    static constexpr double most = 2000.0;  ///< ticks
    bool heard_ = false, any_ = false;
    std::uint32_t newest_ = 0;
    double least_ = 0.0;
};

}  // namespace cursimeter::link
