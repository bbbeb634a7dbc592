// The game's own collision: propose says where the runner wants to be, the game moves it, settle hears what
// really happened. Here the world is a floor with a wall at x = 5 m.
#include <cstdio>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/cursimeter.hpp>

using namespace cursimeter;

namespace {

/// All of this game's physics: nothing gets past the wall.
glm::dvec3 move_in_game(const Plan& plan, const glm::dvec3& from, Contacts& contacts) {
    glm::dvec3 moved = plan.displacement;
    const double room = 5.0 - plan.body.radius - from.x;
    contacts = {};
    if (moved.x > room) {
        moved.x = room;
        contacts.barriers[0] = {-1.0, 0.0, 0.0};
        contacts.barrier_count = 1;
    }
    return moved;
}

}  // namespace

int main() {
    const Chart chart = load_chart("demo/charts/bearer.toml").chart;
    Runner runner = spawn(chart);
    Contacts contacts;
    Intent intent;
    intent.move = {.forward = 1.0, .side = 0.0};
    for (int tick = 0; tick < 180; ++tick) {
        const Plan plan = propose(chart, runner, intent, contacts, Seconds{1.0 / 60.0});
        const glm::dvec3 moved = move_in_game(plan, runner.position(), contacts);
        const Report report = settle(chart, runner, plan, moved, contacts);
        for (const Event& event : report.events()) {
            std::printf("%.3f s: %s, %.2f m/s\n", (tick + 1) / 60.0, to_string(event.kind).data(),
                        event.value);
        }
    }
    std::printf("stands at %.2f m, %.2f m/s\n", runner.position().x, runner.speed());
}
// expected output:
// 2.050 s: bumped, 2.40 m/s
// stands at 4.65 m, 0.00 m/s
