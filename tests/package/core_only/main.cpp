#include <cstdio>
#include <cursimeter/cursimeter.hpp>

int main() {
    cursimeter::ChartSpec spec;
    spec.name = "post";
    cursimeter::StateSpec walk;
    walk.name = "walk";
    walk.kind = cursimeter::StateKind::ground;
    walk.speed.forward = 2.0;
    spec.states.push_back(walk);
    spec.rank = {"walk"};
    const cursimeter::Chart chart = cursimeter::compile(spec);
    cursimeter::Runner runner = cursimeter::spawn(chart);
    cursimeter::Intent intent;
    intent.move.forward = 1.0;
    for (int tick = 0; tick < 60; ++tick) {
        static_cast<void>(cursimeter::advance(chart, runner, intent, cursimeter::Seconds{1.0 / 60.0}));
    }
    std::printf("%.2f m\n", runner.position().x);
}
