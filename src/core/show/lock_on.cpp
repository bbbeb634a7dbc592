#include <cursimeter/show/lock_on.hpp>

#include "core/numbers/space.hpp"

namespace cursimeter {

LockOn::Status LockOn::follow(const Runner& runner, const Focus& focus) {
    const glm::dvec2 to = detail::flat(focus.position - runner.position());
    const double distance = detail::length_of(to);
    if (status_ == Status::lost || !(distance <= lost_beyond_)) {
        status_ = Status::lost;  // also where the target is nowhere
    } else if (distance <= reach_ * (status_ == Status::reached ? 1.1 : 1.0)) {
        status_ = Status::reached;
    } else {
        status_ = Status::held;
    }
    return status_;
}

}  // namespace cursimeter
