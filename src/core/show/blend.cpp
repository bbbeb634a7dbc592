#include <algorithm>
#include <cursimeter/show/blend.hpp>

namespace cursimeter {

void Blend::follow(const Report& report) {
    since_ += report.seconds;
    for (const Event& event : report.events()) {
        if (event.kind == EventKind::entered) {
            // Turned round on the way it goes back from where it is; on to a third state it goes from the heavier one.
            const double since = report.seconds - event.at;
            const double then = std::clamp((since_ - since) / seconds_.value, 0.0, 1.0);
            const StateId entered{event.subject};
            since_ = since;
            if (entered == from_) {
                from_ = to_;
                since_ += (1.0 - then) * seconds_.value;
            } else if (then >= 0.5) {
                from_ = to_;
            }
            to_ = entered;
        }
    }
}

void Blend::carry_over(const IdMap& ids, StateId now) {
    from_ = ids(from_).value_or(now);
    to_ = ids(to_).value_or(now);
}

double Blend::weight() const {
    return std::clamp(since_ / seconds_.value, 0.0, 1.0);
}

}  // namespace cursimeter
