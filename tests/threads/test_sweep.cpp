#include <catch2/catch.hpp>
#include <cursimeter/survey/sweep.hpp>

#include "support/bearer.hpp"

using namespace support;

TEST_CASE("a sweep's rows are in order whatever the number of threads, and known ones are not found again") {
    const ChartSpec spec = bearer(ramp(12.0, 16.0, 10.0));
    survey::SweepPlan plan;
    plan.axes = {survey::read_axis("states.sprint.speed.forward=5:6:0.5", spec),
                 survey::read_axis("states.sprint.drain.stamina=10:12:2", spec)};
    plan.figures = {"sprint.top_forward", "sprint.seconds"};
    plan.threads = 1;
    const std::vector<survey::SweepRow> alone = survey::sweep(spec, plan);
    REQUIRE(alone.size() == 6);
    CHECK(alone[0].at == std::vector<double>{5.0, 10.0});
    CHECK(alone[1].at == std::vector<double>{5.0, 12.0});
    CHECK(alone[5].at == std::vector<double>{6.0, 12.0});
    CHECK(alone[4].values[0] == 6.0);
    plan.threads = 4;
    const std::vector<survey::SweepRow> together = survey::sweep(spec, plan);
    for (std::size_t i = 0; i < alone.size(); ++i) {
        CHECK(together[i].at == alone[i].at);
        CHECK(together[i].values == alone[i].values);
    }
    plan.known = {alone[0], alone[3]};
    plan.known[1].values[1] = -7.0;  // taken as it is
    std::size_t found = 0, last = 0;
    plan.progress = [&](std::size_t done, std::size_t all, const survey::SweepRow&) {
        ++found;
        last = done;
        CHECK(all == 6);
    };
    const std::vector<survey::SweepRow> resumed = survey::sweep(spec, plan);
    CHECK(found == 4);
    CHECK(last == 6);
    CHECK(resumed[3].values[1] == -7.0);
    CHECK(resumed[5].values == alone[5].values);
}
