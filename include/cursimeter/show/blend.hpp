#pragma once

#include <cursimeter/id_map.hpp>
#include <cursimeter/report.hpp>
#include <cursimeter/units.hpp>

namespace cursimeter {

/// Which of the last two states an animation shows, and how much.
class Blend {
  public:
    /// seconds: from one state to the next, above 0.
    explicit Blend(StateId start, Seconds seconds = Seconds{0.2})
        : from_(start), to_(start), seconds_(seconds) {}
    /// After each tick.
    void follow(const Report& report);
    /// Goes on with another version of the chart; `now` is the runner's state, shown in place of states that are gone.
    void carry_over(const IdMap& ids, StateId now);
    [[nodiscard]] StateId from() const { return from_; }
    [[nodiscard]] StateId to() const { return to_; }
    /// Weight of `to`, 0 to 1.
    [[nodiscard]] double weight() const;

  private:
    StateId from_, to_;
    Seconds seconds_;
    double since_ = 1e9;  ///< s
};

}  // namespace cursimeter
