#pragma once

#include <algorithm>
#include <array>
#include <cstddef>

namespace cursimeter::link {

/// The shortest of the last ways there and back: what is longer has waited somewhere.
class RoundTrips {
  public:
    void add(double seconds) { last_[count_++ % last_.size()] = seconds; }
    /// s; 0 while nothing is known.
    [[nodiscard]] double shortest() const {
        const std::size_t count = std::min(count_, last_.size());
        return count == 0
                   ? 0.0
                   : *std::min_element(last_.begin(), last_.begin() + static_cast<std::ptrdiff_t>(count));
    }

  private:
    std::array<double, 32> last_{};
    std::size_t count_ = 0;
};

}  // namespace cursimeter::link
