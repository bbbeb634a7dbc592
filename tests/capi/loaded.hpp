#pragma once

#include <cursimeter/cursimeter.h>

#include <catch2/catch.hpp>
#include <string>

namespace support {

inline const std::string demo = std::string(CURSIMETER_SOURCE_DIR) + "/demo/";

/// A chart of the demo, loaded through the C interface.
struct Loaded {
    cursimeter_error* error = cursimeter_error_new();
    cursimeter_chart* chart = nullptr;
    explicit Loaded(const std::string& name) {
        REQUIRE(cursimeter_chart_load((demo + "charts/" + name + ".toml").c_str(), &chart, error) ==
                CURSIMETER_OK);
    }
    Loaded(const Loaded&) = delete;
    Loaded& operator=(const Loaded&) = delete;
    ~Loaded() {
        cursimeter_chart_free(chart);
        cursimeter_error_free(error);
    }
};

}  // namespace support
