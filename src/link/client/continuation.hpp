#pragma once

#include <optional>

#include "link/replica/replica.hpp"

namespace cursimeter::link {

/// What is wanted from some time between two replicas on.
struct Wishes {
    Replica replica;                ///< that says so, and since when
    std::optional<double> pressed;  ///< ticks after the first from which its presses count, if later
};

/// How the chart takes another runner on from a replica. Frames ask for later and later times, and each goes on from the one before:
/// a frame costs a quiet tick, where a runner posed anew for each would cost one with an instant. Asked for an earlier time, it
/// begins again.
class Continuation {
  public:
    /// Begins at the replica of snapshot `number`. Where that and the wishes are those that it goes on from already, it stays.
    void begin(const SnapshotInterval& interval, std::uint32_t number, const Replica& replica,
               const std::optional<Wishes>& wishes);
    /// Where it is `ticks` after the replica, at least 0.
    [[nodiscard]] Carried take_to(const Cast& cast, double ticks);
    /// The runner as it was taken to last: by the chart alone, which is not quite where it is.
    [[nodiscard]] const Runner& by_chart() const { return runner_; }

  private:
    void rewind();
    void start_stretch();

    bool begun_ = false;
    SnapshotInterval interval_;
    std::uint32_t number_ = 0;
    Replica first_;
    std::optional<Wishes> wishes_;

    // A stretch lasts as long as the same is wanted. Times are in ticks after the first replica; never: infinite.
    Replica replica_;                    ///< from which it goes on
    detail::ActionMask on_before_ = 0U;  ///< before its beginning
    detail::ActionMask presses_ = 0U;    ///< wanted, and not counted yet
    double begun_at_ = 0.0, ends_at_ = 0.0;
    double looked_at_ = 0.0, acted_at_ = 0.0, pressed_at_ = 0.0;
    std::optional<double>
        done_;       ///< ticks since its beginning that the runner has behind it, if there is one
    Runner runner_;  ///< by the chart alone
};

}  // namespace cursimeter::link
