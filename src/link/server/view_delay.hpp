#pragma once

#include <algorithm>
#include <array>
#include <cstddef>
#include <cstdint>
#include <limits>

namespace cursimeter::link {

/// How far in the past a client can be showing the others. It shows them by the worst of its last news (see
/// client/lead.hpp) and acknowledges what came, so the server knows that worst by its own clock, whatever the client says
/// of its. Whoever wants to have seen an older time must have acknowledged as late all the while: as over a bad
/// connection, which nobody can tell from a feigned one.
class ViewDelay {
  public:
    void start() { *this = {}; }
    /// A packet of the client came in the server's tick `now`: of the snapshots sent to it that of `snapshot` (its tick)
    /// is the newest that it has.
    void hear(std::uint32_t now, std::uint32_t snapshot) {
        if (!heard_ || static_cast<std::int32_t>(snapshot - newest_) > 0) {
            before_ = heard_ ? newest_ : snapshot;
            newest_ = snapshot;
            heard_ = true;
            if (++taken_ % news_each == 0) {
                worst_[taken_ / news_each % worst_.size()] = 0;
            }
        }
        // News plan for what comes after them, so the ones before count.
        const auto late = static_cast<std::int32_t>(now - before_);
        std::int32_t& worst = worst_[taken_ / news_each % worst_.size()];
        worst = std::max(worst, late);
    }
    /// Ticks before the coming of a packet that its client can have been showing when it sent it; without limit until
    /// something was heard.
    [[nodiscard]] double most() const {
        return heard_ ? *std::max_element(worst_.begin(), worst_.end()) + allowance
                      : std::numeric_limits<double>::infinity();
    }

  private:
    /// Ticks: by which the shown time may be later than planned, since it is steered, and this packet later on its way than
    /// those that told of the worst.
    static constexpr double allowance = 3.0;
    /// 192 snapshots together: the client looks at 64, and takes as many as 107 to catch up after they were the worst.
    static constexpr std::uint32_t news_each = 24;
    std::array<std::int32_t, 8> worst_{};  ///< of each stretch of news, ticks
    std::uint32_t taken_ = 0, newest_ = 0, before_ = 0;
    bool heard_ = false;
};

}  // namespace cursimeter::link
