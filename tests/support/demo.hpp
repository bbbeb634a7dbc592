#pragma once

#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <string>

/// What lies in demo/.
namespace support {

using namespace cursimeter;

inline const std::string demo_folder = std::string(CURSIMETER_SOURCE_DIR) + "/demo/";

inline ChartFile demo_chart(const std::string& name) {
    return load_chart(demo_folder + "charts/" + name + ".toml");
}
inline Course demo_course() {
    return load_course(demo_folder + "courses/relay.toml");
}

}  // namespace support
