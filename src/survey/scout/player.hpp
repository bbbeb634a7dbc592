#pragma once

#include <cursimeter/advance.hpp>
#include <cursimeter/course/course.hpp>
#include <optional>

#include "survey/scout/errand.hpp"

/// Playing ticks of a search, and seeing whether they lead where they should.
namespace cursimeter::survey {

/// Plays ticks, for one thread.
class Player {
  public:
    explicit Player(const Errand& errand);

    enum class Outcome : std::uint8_t { on, arrived, barred };
    /// One tick with such hands from its start on. Barred: a place that is to be avoided, or below everything.
    Outcome tick(Situation& now, const Hands& hands);
    Outcome tick(Situation& now, const Intent& intent);
    /// From a situation along the rest of a way, to its end, the goal or a bar.
    Outcome follow(Situation& now, const Way& way);
    /// What the last tick told.
    [[nodiscard]] const Report& report() const { return report_; }
    [[nodiscard]] const Errand& errand() const { return errand_; }
    [[nodiscard]] std::uint64_t ticks() const { return ticks_; }

  private:
    void look_for_goal(Situation& now, const glm::dvec3& from) const;
    void pass_gates(Situation& now, const glm::dvec3& from, const glm::dvec3& velocity) const;
    [[nodiscard]] bool is_barred(const Runner& runner, const glm::dvec3& middle_before) const;

    const Errand& errand_;
    std::optional<CourseTerrain> terrain_;
    Report report_;
    std::vector<Change> changes_;
    std::uint64_t ticks_ = 0;
};

}  // namespace cursimeter::survey
