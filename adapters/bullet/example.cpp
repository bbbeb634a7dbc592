// The relay twice: on the course's own exact geometry and in a Bullet collision world. Run it from the
// project's folder: build/release/adapters/relay_on_bullet
#include <cmath>
#include <cstdio>
#include <cursimeter/adapters/bullet_course.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/survey/run.hpp>

using namespace cursimeter;

namespace {

struct Entry {
    double at;
    StateId state;
};

std::vector<Entry> entries_in(const Terrain& terrain, const Chart& chart, const Drill& drill) {
    Runner runner = drill.spawn(chart);
    DrillPlayer player(drill, runner);
    std::vector<Entry> entries;
    double begin = 0.0;
    for (const double end : survey::even_ticks(60.0, drill)) {
        const Report report =
            advance(chart, runner, player.intent(begin, end), terrain, Seconds{end - begin});
        for (const Event& event : report.events()) {
            if (event.kind == EventKind::entered) {
                entries.push_back({begin + event.at, StateId{event.subject}});
            }
        }
        begin = end;
    }
    return entries;
}

}  // namespace

int main() {
    const Course course = load_course("demo/courses/relay.toml");
    const Chart chart = load_chart("demo/charts/gannet.toml").chart;
    const Drill drill = load_drill("demo/drills/relay_gannet.toml", chart).drill;

    const CourseTerrain exact(course, chart);
    BulletCourse laid_out(course);           // a game has its own world already ...
    BulletTerrain bullet(laid_out.world());  // ... and needs this line only
    bullet.zone_reader = [&](const glm::dvec3& point) { return exact.zones(point, 0.0); };

    const std::vector<Entry> a = entries_in(exact, chart, drill), b = entries_in(bullet, chart, drill);
    double apart = 0.0;
    bool same = a.size() == b.size();
    for (std::size_t i = 0; same && i < a.size(); ++i) {
        same = a[i].state == b[i].state;
        apart = std::fmax(apart, std::fabs(a[i].at - b[i].at));
    }
    std::printf("%zu state changes, %s on both; times differ by %.1f ms at most\n", a.size(),
                same ? "the same" : "NOT the same", 1000.0 * apart);
    return same ? 0 : 1;
}
