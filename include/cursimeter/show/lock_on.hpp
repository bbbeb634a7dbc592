#pragma once

#include <cstdint>
#include <cursimeter/intent.hpp>
#include <cursimeter/runner.hpp>

namespace cursimeter {

/// Watches the target of a lock-on: when it is reached, and when it is too far away to be kept.
class LockOn {
  public:
    enum class Status : std::uint8_t { held, reached, lost };
    /// m, along the ground; `lost_beyond` above `reach`. A target that was reached counts as held again only
    /// a tenth further off, so that it does not flicker.
    LockOn(double reach, double lost_beyond) : reach_(reach), lost_beyond_(lost_beyond) {}
    /// After each tick. Once lost it stays lost until `renew`.
    Status follow(const Runner& runner, const Focus& focus);
    [[nodiscard]] Status status() const { return status_; }
    void renew() { status_ = Status::held; }

  private:
    double reach_, lost_beyond_;
    Status status_ = Status::held;
};

}  // namespace cursimeter
