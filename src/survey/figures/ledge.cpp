#include <algorithm>

#include "survey/figures/leaps.hpp"

/// The highest ledge that a jump gets onto, with every further jump of its table: from a stand or a run at its face, from whichever distance
/// gets highest. A body comes onto an edge when enough of its foot is over it, so this is more than how high the jump goes.
namespace cursimeter::survey {
namespace {

constexpr double highest_ledge = 100.0;           // m
constexpr double farthest = 6.0, between = 0.25;  // m from its face; between two distances that are tried

/// A floor, and a block upon it that begins at x = 0.
Course block(double rise) {
    CourseSpec spec;
    spec.name = "ledge";
    spec.boxes = {{.from = {-300, -50, -1}, .to = {0, 50, 0}}, {.from = {0, -50, -1}, .to = {300, 50, rise}}};
    return Course(spec);
}

class LedgeFinder {
  public:
    LedgeFinder(const FigureSource& source, std::uint8_t run, std::uint8_t jump)
        : source_(source), leaps_(source, run, jump) {}

    Answer find() {
        note_starts();
        return largest_that([this](double rise) { return mounts(rise); }, highest_ledge,
                            "simulated at an upright face, from the distance that gets highest; to 1 mm");
    }

  private:
    /// Notes runners that stand, and that run, at all distances.
    void note_starts() {
        const double nearest = source_.data().body.radius + 0.01;
        Probe running(source_.chart);
        running.move = leaps_.move();
        running.held = leaps_.run_held();
        running.settle_speed(5.0);
        const double ran = running.runner().position().x;
        for (double distance = nearest; distance < farthest; distance += between) {
            starts_.push_back(Probe(source_.chart, nullptr, {{-distance, 0.0, 0.0}, 0.0}).runner());
            Probe probe(source_.chart, nullptr, {{-distance - ran, 0.0, 0.0}, 0.0});
            probe.move = running.move;
            probe.held = running.held;
            probe.settle_speed(5.0);
            starts_.push_back(probe.runner());
        }
    }

    [[nodiscard]] bool mounts(double rise) const {
        const Course course = block(rise);
        const CourseTerrain terrain(course, source_.chart);
        const auto on_top = [&](const Runner& runner) { return runner.position().z > 0.5 * rise; };
        return std::any_of(starts_.begin(), starts_.end(),
                           [&](const Runner& start) { return leaps_.lead(start, terrain, -1.0, on_top); });
    }

    const FigureSource& source_;
    Leaps leaps_;
    std::vector<Runner> starts_;
};

}  // namespace

void add_ledge_figure(FigureTable& table, const FigureSource& source, std::uint8_t jump) {
    const std::vector<std::uint8_t> grounds = run_up_states(source);
    if (grounds.empty()) {
        return;
    }
    const std::uint8_t run = grounds.back();
    table.push_back({source.state(jump).name + ".highest_ledge", "m",
                     "with an upright face: that it gets onto",
                     [&source, run, jump] { return LedgeFinder(source, run, jump).find(); }});
}

}  // namespace cursimeter::survey
