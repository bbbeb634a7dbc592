#pragma once

#include <cstdint>

namespace cursimeter::link {

/// Which part of its last snapshots a client could not use, and so how far back a snapshot may lie by which the next is
/// told before it is acknowledged. The nearer, the fewer bits; but if it is lost, whatever is told by it is lost as well. Told
/// by the one before the last there are two rows that do not need one another, so a loss leaves every other snapshot.
class LossMeter {
  public:
    void start() { *this = {}; }
    /// A later snapshot has come. Of one before it: whether it had come by then; if not, it is lost or was overtaken.
    void note_order(bool came) { disorder_ += ((came ? 0.0 : 1.0) - disorder_) * gain; }
    /// One has come, or has had time enough to.
    void decide(bool came) { lost_ += ((came ? 0.0 : 1.0) - lost_) * gain; }
    [[nodiscard]] double part() const { return lost_; }
    /// Snapshots from a baseline that has not been acknowledged to what is told by it; 0: none is to be taken.
    [[nodiscard]] std::uint32_t distance() const { return disorder_ < hardly ? 2U : 0U; }

  private:
    /// 64 snapshots, about three seconds.
    static constexpr double gain = 1.0 / 64.0;
    /// A loss takes those with it that are told by it, until the server hears of it: three in a round trip of 150 ms, one row
    /// of the two; a burst breaks both. So none must have been lost or overtaken in
    /// some 200.
    static constexpr double hardly = 0.0005;
    double lost_ = 0.0;
    double disorder_ = 0.01;  ///< until it is known
};

}  // namespace cursimeter::link
