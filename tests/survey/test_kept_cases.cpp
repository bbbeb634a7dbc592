#include <catch2/catch.hpp>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/survey/run.hpp>
#include <filesystem>

#include "support/same_run.hpp"

using namespace cursimeter;
using namespace support;

/// Random charts that once ran in another way at another rate, made smaller. Each is named after what was wrong.
TEST_CASE("charts that once differed with the tick rate run as one") {
    std::size_t count = 0;
    for (const auto& entry : std::filesystem::directory_iterator(KEPT_CASES)) {
        const std::string file = entry.path().string();
        const std::size_t ending = file.rfind(".chart.toml");
        if (ending == std::string::npos) {
            continue;
        }
        const std::string name = file.substr(0, ending);
        CAPTURE(name);
        const Chart chart = load_chart(file).chart;
        const DrillFile drill = load_drill(name + ".drill.toml", chart);
        const Seconds length{drill.spec.seconds};
        const survey::Run base = survey::run(chart, drill.drill, survey::even_ticks(60.0, length), false);
        REQUIRE_FALSE(base.events.empty());
        for (const double rate : {10.0, 20.0, 37.0, 240.0, 1000.0}) {
            CAPTURE(rate);
            const survey::Run other =
                survey::run(chart, drill.drill, survey::even_ticks(rate, length), false);
            check_same_run(chart, base, other);
            // The time that was given, also where the last ticks' ends were left to the next.
            CHECK(near(other.runner.clock().value, length.value, 2e-11));
        }
        ++count;
    }
    CHECK(count >= 5);
}
