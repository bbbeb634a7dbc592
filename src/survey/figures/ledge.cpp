#include <algorithm>

#include "survey/figures/leaps.hpp"

/// The highest ledge that a leap gets onto: from a stand or a run at its face, or along a wall beside it, from whichever distance gets
/// highest, and every further press likewise. A body comes onto an edge when enough of its foot is over it, so this is more than how high
/// it goes.
namespace cursimeter::survey {
namespace {

constexpr double highest_ledge = 100.0;  // m
constexpr double farthest = 6.0;         // m from its face

/// A floor, and a block upon it that begins at x = 0; and a wall on the right of whoever runs at it, if there is one.
Course block(double rise, std::optional<double> wall_at) {
    CourseSpec spec;
    spec.name = "ledge";
    spec.boxes = {{.from = {-300, -50, -1}, .to = {0, 50, 0}}, {.from = {0, -50, -1}, .to = {300, 50, rise}}};
    if (wall_at) {
        spec.walls = {{.from = {-300, *wall_at - 0.15, 0},
                       .to = {300, *wall_at - 0.15, 0},
                       .height = 2.0 * highest_ledge}};
    }
    return Course(spec);
}

class LedgeFinder {
  public:
    LedgeFinder(const FigureSource& source, Leaps leaps, std::optional<double> wall_at = std::nullopt)
        : source_(source),
          leaps_(std::move(leaps)),
          wall_at_(wall_at),
          run_up_(running_from({}).runner().position().x) {}

    Answer find() {
        const auto highest = [this](double least) {
            return largest_that([this](double rise) { return mounts(rise); }, least, highest_ledge);
        };
        // Along a wall there is much more to try from each distance, so there are fewer.
        const double between = wall_at_ ? 0.5 : 0.25;
        for (double distance = nearest(); distance < farthest; distance += between) {
            if (!wall_at_) {
                starts_.push_back(standing_at(distance));
            }
            starts_.push_back(running_at(distance));
        }
        std::optional<double> found = highest(0.0);
        if (found) {  // again about what got there, in finer steps
            const Start best = starts_.front();
            starts_.clear();
            for (double away = -0.8 * between; away < between; away += 0.2 * between) {
                const double distance = std::max(nearest(), best.distance + away);
                starts_.push_back(best.runs ? running_at(distance) : standing_at(distance));
            }
            leaps_.try_often();
            found = std::max(found, highest(*found));
        }
        std::string how = "simulated at an upright face";
        how += wall_at_ ? " beside a wall" : "";
        how += ", from the distance that gets highest";
        how += leaps_.count() > 1 ? "" : "; to 1 mm";
        return answer_of(found, how);
    }

  private:
    struct Start {
        Runner runner;
        double distance;  ///< m from the face
        bool runs;
    };
    [[nodiscard]] double nearest() const { return source_.data().body.radius + 0.01; }
    [[nodiscard]] Start standing_at(double distance) const {
        return {Probe(source_.chart, nullptr, {{-distance, 0.0, 0.0}, 0.0}).runner(), distance, false};
    }
    [[nodiscard]] Start running_at(double distance) const {
        return {running_from({{-distance - run_up_, 0.0, 0.0}, 0.0}).runner(), distance, true};
    }
    /// At its full speed.
    [[nodiscard]] Probe running_from(const Placement& place) const {
        Probe probe(source_.chart, nullptr, place);
        probe.move = leaps_.move();
        probe.held = leaps_.run_held();
        probe.settle_speed(5.0);
        return probe;
    }

    [[nodiscard]] bool mounts(double rise) {
        const Course course = block(rise, wall_at_);
        const CourseTerrain terrain(course, source_.chart);
        Leaps::Goal goal;
        goal.wanted = [&](const Runner& runner) { return runner.position().z > 0.5 * rise; };
        goal.sinking = rise - 2.0 * source_.data().body.radius;  // no foot comes onto an edge from there
        const auto found = std::find_if(starts_.begin(), starts_.end(), [&](const Start& start) {
            return leaps_.lead(start.runner, terrain, goal);
        });
        if (found == starts_.end()) {
            return false;
        }
        std::rotate(starts_.begin(), found,
                    found + 1);  // which gets onto one ledge mostly gets onto the next
        return true;
    }

    const FigureSource& source_;
    Leaps leaps_;
    std::optional<double> wall_at_;  ///< m
    double run_up_;                  ///< m that it takes to reach full speed
    std::vector<Start> starts_;
};

}  // namespace

void add_ledge_figure(FigureTable& table, const FigureSource& source, std::uint8_t jump) {
    const std::optional<std::uint8_t> run = fastest_run(source);
    if (!run) {
        return;
    }
    table.push_back({source.state(jump).name + ".highest_ledge", "m",
                     "with an upright face: that it gets onto", [&source, run, jump] {
                         return LedgeFinder(source, Leaps(source, *run, {jump_part(source, jump)})).find();
                     }});
}

void add_burst_ledge_figure(FigureTable& table, const FigureSource& source, std::uint8_t burst) {
    const std::optional<std::uint8_t> run = fastest_run(source), jump = first_jump(source);
    if (!run || !goes_up(source, burst)) {
        return;
    }
    table.push_back({source.state(burst).name + ".highest_ledge", "m",
                     "with an upright face: that it gets onto" +
                         (jump ? ", with " + source.state(*jump).name + " before or after it" : ""),
                     [&source, run, jump, burst] {
                         std::vector<LeapPart> parts{burst_part(source, burst)};
                         if (jump) {
                             parts.push_back(jump_part(source, *jump));
                         }
                         return LedgeFinder(source, Leaps(source, *run, parts)).find();
                     }});
}

void add_wall_ledge_figure(FigureTable& table, const FigureSource& source, std::uint8_t wall) {
    const std::optional<std::uint8_t> run = fastest_run(source), jump = first_jump(source);
    if (!run || !jump) {
        return;
    }
    table.push_back({source.state(wall).name + ".highest_ledge", "m",
                     "with an upright face, beside a wall: that it gets onto", [&source, run, jump, wall] {
                         std::vector<LeapPart> parts{jump_part(source, *jump)};
                         for (std::uint8_t i = 0; i < source.data().states.size(); ++i) {
                             if (source.state(i).launch.off_wall) {
                                 parts.push_back(jump_part(source, i));
                             }
                         }
                         const double aside = source.data().body.radius + 0.5 * source.state(wall).wall.reach;
                         const std::uint32_t held = recipe_of(source.data(), wall).held;
                         return LedgeFinder(source, Leaps(source, *run, parts, held), -aside).find();
                     }});
}

}  // namespace cursimeter::survey
