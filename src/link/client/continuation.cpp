#include "link/client/continuation.hpp"

#include <algorithm>
#include <limits>

namespace cursimeter::link {
namespace {

constexpr double never = std::numeric_limits<double>::infinity();

bool same(const Wishes& a, const Wishes& b) {
    return a.pressed == b.pressed && a.replica.changed == b.replica.changed &&
           a.replica.turned == b.replica.turned && same_wishes(a.replica, b.replica);
}

}  // namespace

void Continuation::begin(const SnapshotInterval& interval, std::uint32_t number, const Replica& replica,
                         const std::optional<Wishes>& wishes) {
    const bool as_before = begun_ && number == number_ && replica == first_ &&
                           wishes.has_value() == wishes_.has_value() && (!wishes || same(*wishes, *wishes_));
    if (as_before) {
        return;
    }
    begun_ = true;
    interval_ = interval;
    number_ = number;
    first_ = replica;
    wishes_ = wishes;
    rewind();
}

void Continuation::rewind() {
    replica_ = first_;
    on_before_ = replica_.on;
    begun_at_ = 0.0;
    presses_ = 0U;
    looked_at_ = acted_at_ = pressed_at_ = never;
    if (wishes_) {
        const auto since = [&](FineTime time) {
            const auto ahead = static_cast<std::int32_t>(time - number_ * interval_.fine());
            return std::max(0.0, ahead / static_cast<double>(fine_per_tick));
        };
        presses_ = wishes_->replica.on & ~replica_.on;
        looked_at_ = since(wishes_->replica.turned);
        acted_at_ = since(wishes_->replica.changed);
        pressed_at_ = wishes_->pressed.value_or(acted_at_);
    }
    start_stretch();
}

void Continuation::start_stretch() {
    if (looked_at_ <= begun_at_) {
        take_look(wishes_->replica, replica_);
        looked_at_ = never;
    }
    if (acted_at_ <= begun_at_) {
        take_acts(wishes_->replica, replica_);
        replica_.on &= ~presses_;
        acted_at_ = never;
    }
    if (pressed_at_ <= begun_at_) {
        replica_.on |= presses_;
        presses_ = 0U;
        pressed_at_ = never;
    }
    ends_at_ = std::min({looked_at_, acted_at_, pressed_at_});
    done_.reset();
}

Carried Continuation::take_to(const Cast& cast, double ticks) {
    if (ticks < begun_at_ + done_.value_or(0.0)) {
        rewind();
    }
    while (ticks > ends_at_) {
        replica_ = predict(cast, replica_, (ends_at_ - begun_at_) * interval_.tick_seconds, on_before_);
        on_before_ = replica_.on;
        begun_at_ = ends_at_;
        start_stretch();
    }
    const double ahead = std::max(0.0, ticks - begun_at_);
    if (!done_) {
        pose(cast, replica_, on_before_, runner_);
        advance_posed(cast, replica_, ahead * interval_.tick_seconds, runner_);
    } else if (ahead > *done_) {
        advance_posed(cast, replica_, (ahead - *done_) * interval_.tick_seconds, runner_);
    }
    done_ = ahead;
    return with_surroundings(replica_, ahead * interval_.tick_seconds, runner_);
}

}  // namespace cursimeter::link
