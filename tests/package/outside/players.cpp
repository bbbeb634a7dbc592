#include <cstdio>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/rehearsal/rehearsal.hpp>

int main(int, char** argv) {
    using namespace cursimeter;
    const Chart chart = load_chart(argv[1]).chart;
    rehearsal::Random random(1);
    const Drill drill(rehearsal::random_hands(chart, Seconds{5.0}, random), chart);
    rehearsal::Plan plan;
    plan.clients = 2;
    plan.seconds = 5.0;
    const rehearsal::Result result = rehearsal::rehearse({chart, {drill}, std::nullopt}, plan);
    std::printf("two players, %d corrections\n",
                static_cast<int>(result.clients[0].corrections + result.clients[1].corrections));
}
