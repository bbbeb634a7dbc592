#pragma once

#include <cursimeter/cursimeter.h>

#include <catch2/catch.hpp>
#include <cursimeter/terrain.hpp>
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

/// A world in C++, asked as a program in C asks one.
inline int swept(const cursimeter::Terrain& world, const cursimeter_sweep& asked, cursimeter_hit& out) {
    cursimeter::Hit hit;
    const bool met = world.sweep({{asked.radius, asked.height},
                                  {asked.from[0], asked.from[1], asked.from[2]},
                                  {asked.motion[0], asked.motion[1], asked.motion[2]},
                                  asked.at},
                                 hit);
    out = {hit.fraction,
           {hit.normal.x, hit.normal.y, hit.normal.z},
           {hit.face.x, hit.face.y, hit.face.z},
           hit.surface};
    return met ? 1 : 0;
}

}  // namespace support
