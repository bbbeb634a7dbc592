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

}  // namespace support
