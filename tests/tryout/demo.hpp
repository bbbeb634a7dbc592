#pragma once

#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>

namespace support {

using namespace cursimeter;

inline ChartFile demo_chart(const std::string& name) {
    return load_chart(std::string(CURSIMETER_SOURCE_DIR) + "/demo/charts/" + name + ".toml");
}
inline Course demo_course() {
    return load_course(std::string(CURSIMETER_SOURCE_DIR) + "/demo/courses/relay.toml");
}

/// Straight ahead, with these actions held.
inline Intent ahead(const Chart& chart, std::initializer_list<const char*> held = {}, double yaw = 0.0) {
    Intent intent;
    intent.move.forward = 1.0;
    intent.look.yaw = yaw;
    for (const char* action : held) {
        intent.hold(chart.action(action));
    }
    return intent;
}

}  // namespace support
