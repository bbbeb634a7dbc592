#include <algorithm>

#include "survey/figures/leaps.hpp"

/// The widest gap that a leap clears between two level edges: out of the fastest run, pressed near the edge or within the coyote time after
/// it, whichever carries farther, and every further press likewise. A body stands on an edge as long as some of its foot is over it, so
/// this is more than how far the jump carries.
namespace cursimeter::survey {
namespace {

constexpr double longest_gap = 200.0;  // m
constexpr double run_out = 0.5;        // m that are left to run when top speed is reached

/// Two quays with a gap between them.
Course quays(double edge, double gap) {
    CourseSpec spec;
    spec.name = "gap";
    spec.boxes = {{.from = {edge - 200, -50, -1}, .to = {edge, 50, 0}},
                  {.from = {edge + gap, -50, -1}, .to = {edge + gap + 200, 50, 0}}};
    return Course(spec);
}

class GapFinder {
  public:
    GapFinder(const FigureSource& source, std::uint8_t run, std::vector<LeapPart> parts)
        : source_(source), leaps_(source, run, std::move(parts)) {}

    Answer find() {
        run_to_edge();
        return answer_of(
            largest_that([this](double gap) { return clears(gap); }, 0.0, longest_gap),
            leaps_.count() > 1
                ? "simulated between two level edges, pressed where it carries farthest, then every 50 ms"
                : "simulated between two level edges, pressed where it carries farthest; to 1 mm");
    }

  private:
    /// Notes runners near the edge, up to the end of the coyote time after it.
    void run_to_edge() {
        Probe start(source_.chart);
        start.move = leaps_.move();
        start.held = leaps_.run_held();
        start.settle_speed(5.0);
        edge_ = start.runner().position().x + run_out;
        const Course course = quays(edge_, 2.0 * longest_gap);
        const CourseTerrain terrain(course, source_.chart);
        Probe probe(source_.chart, &terrain);
        probe.runner() = start.runner();
        probe.move = start.move;
        probe.held = start.held;
        const std::size_t stride = leaps_.count() > 1 ? 4 : 1;
        double left = 0.0;  // s since the ground was left
        for (std::size_t step = 0; left <= source_.data().body.coyote && step < 1000; ++step) {
            if (step % stride == 0) {
                brinks_.push_back(probe.runner());
            }
            static_cast<void>(probe.tick(Leaps::fine_step));
            left = probe.runner().grounded() ? 0.0 : left + Leaps::fine_step;
        }
    }

    [[nodiscard]] bool clears(double gap) const {
        const Course course = quays(edge_, gap);
        const CourseTerrain terrain(course, source_.chart);
        Leaps::Goal goal;
        goal.wanted = [&](const Runner& runner) { return runner.position().x > edge_ + gap - 1.0; };
        // The later ones carry farther, up to a point.
        return std::any_of(brinks_.rbegin(), brinks_.rend(),
                           [&](const Runner& brink) { return leaps_.lead(brink, terrain, goal); });
    }

    const FigureSource& source_;
    Leaps leaps_;
    std::vector<Runner> brinks_;
    double edge_ = 0.0;  // m; where the gap begins
};

}  // namespace

void add_gap_figure(FigureTable& table, const FigureSource& source, std::uint8_t jump) {
    const std::optional<std::uint8_t> run = fastest_run(source);
    if (!run) {
        return;
    }
    table.push_back(
        {source.state(jump).name + ".widest_gap", "m",
         "between level edges, out of " + source.state(*run).name + ": that it clears",
         [&source, run, jump] { return GapFinder(source, *run, {jump_part(source, jump)}).find(); }});
}

void add_burst_gap_figure(FigureTable& table, const FigureSource& source, std::uint8_t burst) {
    const std::optional<std::uint8_t> run = fastest_run(source), jump = first_jump(source);
    if (!run || !jump) {
        return;
    }
    table.push_back({source.state(burst).name + ".widest_gap", "m",
                     "between level edges, out of " + source.state(*run).name + ", with " +
                         source.state(*jump).name + " and it in one flight: that it clears",
                     [&source, run, jump, burst] {
                         LeapPart level = burst_part(source, burst);
                         level.pitches = {0.0};
                         return GapFinder(source, *run, {jump_part(source, *jump), level}).find();
                     }});
}

}  // namespace cursimeter::survey
