#include <catch2/catch.hpp>
#include <cursimeter/survey/run.hpp>
#include <cursimeter/survey/trace.hpp>
#include <sstream>

#include "support/bearer.hpp"

using namespace support;

namespace {

Drill sprint_for(const Chart& chart, double seconds) {
    DrillSpec spec;
    spec.name = "sprint";
    spec.seconds = seconds;
    StepSpec go;
    go.hold = {"sprint"};
    go.move = Move{1.0, 0.0};
    spec.steps = {go};
    return {spec, chart};
}

}  // namespace

TEST_CASE("even ticks end where they should, at any rate and length") {
    CHECK(survey::even_ticks(10.0, Seconds{0.25}) == std::vector<double>{0.1, 0.2, 0.25});
    CHECK(survey::even_ticks(60.0, Seconds{60.0}).size() == 3600);
    CHECK(survey::even_ticks(144.0, Seconds{60.0}).back() == 60.0);
    CHECK(survey::even_ticks(33.3, Seconds{1.0}).back() == 1.0);
    CHECK(complaint([] { static_cast<void>(survey::even_ticks(9.9, Seconds{1.0})); }) ==
          "rate: 9.9 ticks a second is out of range; 10 <= rate <= 100000");
    CHECK(complaint([] { static_cast<void>(survey::even_ticks(60.0, Seconds{0.0})); }) ==
          "seconds: 0 s is out of range; 0 < seconds <= 86400");
}

TEST_CASE("visits tell when, how long, how far and why") {
    const Chart chart = compile(bearer());
    const survey::Run run =
        survey::run(chart, sprint_for(chart, 9.0), survey::even_ticks(60.0, Seconds{9.0}));
    REQUIRE(run.visits.size() == 3);
    const double empty = 100.0 / 12.0;
    CHECK(chart.name(run.visits[1].state) == "sprint");
    CHECK(near(run.visits[1].seconds, empty, 1e-11));
    CHECK(near(run.visits[1].distance, empty * 6.5, 1e-10));
    CHECK(near(run.visits[2].distance, (9.0 - empty) * 2.4, 1e-10));
    CHECK(chart.describe(run.visits[2].cause) == "stay failed: stamina > 0");
    double distance = 0.0, seconds = 0.0;
    for (const survey::Visit& visit : run.visits) {
        distance += visit.distance;
        seconds += visit.seconds;
    }
    CHECK(near(distance, run.runner.distance(), 1e-10));
    CHECK(near(seconds, 9.0, 1e-12));
    CHECK(run.lowest[0] == 0.0);
    CHECK(run.samples.size() == 541);
}

TEST_CASE("the lowest level is exact even between ticks") {
    const Chart chart = compile(bearer());
    DrillSpec spec;
    spec.name = "short";
    spec.seconds = 3.0;
    StepSpec go, stop;
    go.hold = {"sprint"};
    go.move = Move{1.0, 0.0};
    stop.at = 1.2345;
    stop.release = {"sprint"};
    spec.steps = {go, stop};
    const survey::Run run = survey::run(chart, Drill(spec, chart), survey::even_ticks(10.0, Seconds{3.0}));
    CHECK(near(run.lowest[0], 100.0 - 12.0 * 1.2345, 1e-10));
}

TEST_CASE("a trace has a documented header, one line per tick, and numbers that read back exactly") {
    const Chart chart = compile(bearer(ramp(12.0, 16.0, 10.0)));
    const survey::Run run =
        survey::run(chart, sprint_for(chart, 1.0), survey::even_ticks(20.0, Seconds{1.0}));
    std::istringstream csv(survey::trace_csv(chart, run));
    std::string line;
    std::getline(csv, line);
    CHECK(line ==
          "time_s,state,x_m,y_m,z_m,vx_mps,vy_mps,vz_mps,speed_mps,speed_target_mps,distance_m,meter_stamina,"
          "on_sprint");
    std::size_t lines = 0;
    while (std::getline(csv, line)) {
        const survey::Sample& sample = run.samples.at(lines++);
        std::vector<std::string> cells;
        std::istringstream row(line);
        for (std::string cell; std::getline(row, cell, ',');) {
            cells.push_back(cell);
        }
        REQUIRE(cells.size() == 13);
        CHECK(std::stod(cells[0]) == sample.at);
        CHECK(cells[1] == chart.name(sample.state));
        CHECK(std::stod(cells[2]) == sample.position.x);
        CHECK(std::stod(cells[8]) == sample.speed);
        CHECK(std::stod(cells[11]) == sample.levels[0]);
        CHECK(cells[12] == (sample.at > 0.0 ? "1" : "0"));
    }
    CHECK(lines == 21);
}
