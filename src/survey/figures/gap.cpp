#include <algorithm>

#include "survey/figures/figure_table.hpp"
#include "survey/probe.hpp"

/// The widest gap that a jump clears between two level edges: out of the fastest run, pressed near the edge or within the coyote time after
/// it, whichever carries farther, and every further jump of its table likewise. A body stands on an edge as long as some of its foot is
/// over it, so this is more than how far the jump carries.
namespace cursimeter::survey {
namespace {

constexpr double longest_gap = 200.0;      // m
constexpr double gap_width = 1e-3;         // m, to which it is found
constexpr double fine_step = 1.0 / 240.0;  // s
constexpr int press_steps = 12;            // between two times at which a further jump is tried
constexpr double run_out = 0.5;            // m that are left to run when top speed is reached

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
    GapFinder(const FigureSource& source, std::uint8_t jump) : source_(source), jump_(jump) {}

    Answer find() {
        run_to_edge();
        double low = 0.1, high = longest_gap;
        if (brinks_.empty() || !clears(low) || clears(high)) {
            return {no_figure, "a run and a press do not bring it about"};
        }
        while (high - low > gap_width) {
            const double middle = 0.5 * (low + high);
            (clears(middle) ? low : high) = middle;
        }
        return {low, "simulated between two level edges, pressed where it carries farthest; to 1 mm"};
    }

  private:
    /// Notes runners near the edge, up to the end of the coyote time after it.
    void run_to_edge() {
        const std::vector<std::uint8_t> grounds = run_up_states(source_);
        const Recipe run = recipe_of(source_.data(), grounds.back()), jump = recipe_of(source_.data(), jump_);
        Probe start(source_.chart);
        start.move = move_ = run.move;
        start.held = run.held | run.pressed;
        held_ = start.held | jump.held;
        pressed_ = jump.pressed;
        start.settle_speed(5.0);
        edge_ = start.runner().position().x + run_out;
        const Course course = quays(edge_, 2.0 * longest_gap);
        const CourseTerrain terrain(course, source_.chart);
        Probe probe(source_.chart, &terrain);
        probe.runner() = start.runner();
        probe.move = start.move;
        probe.held = start.held;
        const std::size_t stride = source_.state(jump_).launch.count > 1 ? 4 : 1;
        double left = 0.0;  // s since the ground was left
        for (std::size_t step = 0; left <= source_.data().body.coyote && step < 1000; ++step) {
            if (step % stride == 0) {
                brinks_.push_back(probe.runner());
            }
            static_cast<void>(probe.tick(fine_step));
            left = probe.runner().grounded() ? 0.0 : left + fine_step;
        }
    }

    [[nodiscard]] bool clears(double gap) const {
        const Course course = quays(edge_, gap);
        const CourseTerrain terrain(course, source_.chart);
        Probe probe(source_.chart, &terrain);
        probe.move = move_;
        // The later ones carry farther, up to a point.
        return std::any_of(brinks_.rbegin(), brinks_.rend(), [&](const Runner& brink) {
            probe.runner() = brink;
            probe.held = held_ | pressed_;
            return probe.until_event(EventKind::jumped, jump_, 2.0 * fine_step) &&
                   arrives(probe, gap, source_.state(jump_).launch.count - 1U);
        });
    }

    /// Whether a runner that has jumped lands beyond, with so many further jumps at times of its flight.
    [[nodiscard]] bool arrives(Probe& probe, double gap, std::size_t further) const {
        const auto landed = [](const Event& event) { return event.kind == EventKind::landed; };
        for (int step = 1; probe.runner().position().z > -1.0 && probe.now() < 300.0; ++step) {
            if (probe.until(landed, fine_step)) {
                return probe.runner().position().x > edge_ + gap - 1.0;
            }
            if (further > 0 && step % press_steps == 0 && jumps_again(probe, gap, further)) {
                return true;
            }
        }
        return false;
    }
    [[nodiscard]] bool jumps_again(const Probe& flying, double gap, std::size_t further) const {
        Probe probe = flying;
        probe.held = held_;
        static_cast<void>(probe.tick(fine_step));
        probe.held = held_ | pressed_;
        return probe.until_event(EventKind::jumped, jump_, 2.0 * fine_step) &&
               arrives(probe, gap, further - 1);
    }

    const FigureSource& source_;
    std::uint8_t jump_;
    std::vector<Runner> brinks_;
    double edge_ = 0.0;  // m; where the gap begins
    Move move_;
    std::uint32_t held_ = 0, pressed_ = 0;
};

}  // namespace

void add_gap_figure(FigureTable& table, const FigureSource& source, std::uint8_t jump) {
    const std::vector<std::uint8_t> grounds = run_up_states(source);
    if (grounds.empty()) {
        return;
    }
    table.push_back({source.state(jump).name + ".widest_gap", "m",
                     "between level edges, out of " + source.state(grounds.back()).name + ": that it clears",
                     [&source, jump] { return GapFinder(source, jump).find(); }});
}

}  // namespace cursimeter::survey
