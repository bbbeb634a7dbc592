#pragma once

#include <catch2/catch.hpp>
#include <cursimeter/survey/run.hpp>

#include "support/bearer.hpp"

namespace support {

/// Two runs of one drill by other ticks must be one run: the same states and events, each at the same
/// time within 1 us, the same place within 1 um, levels within 1e-6 of the capacity.
inline void check_same_run(const Chart& chart, const survey::Run& a, const survey::Run& b) {
    REQUIRE(a.events.size() == b.events.size());
    for (std::size_t i = 0; i < a.events.size(); ++i) {
        const Event &left = a.events[i].event, &right = b.events[i].event;
        CAPTURE(i, a.events[i].at, b.events[i].at);
        REQUIRE(left.kind == right.kind);
        REQUIRE(left.subject == right.subject);
        REQUIRE(near(a.events[i].at, b.events[i].at, 1e-6));
        if (left.kind == EventKind::entered) {
            REQUIRE(left.cause == right.cause);
        }
    }
    const glm::dvec3 apart = a.runner.position() - b.runner.position();
    CHECK(std::hypot(apart.x, apart.y) <= 1e-6);
    CHECK(near(a.runner.distance(), b.runner.distance(), 1e-6));
    for (std::uint8_t i = 0; i < chart.meter_count(); ++i) {
        const MeterId meter{i};
        CHECK(near(read_meter(chart, a.runner, meter).level, read_meter(chart, b.runner, meter).level,
                   1e-6 * chart.capacity(meter)));
    }
}

}  // namespace support
