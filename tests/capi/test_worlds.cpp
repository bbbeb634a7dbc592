#include <catch2/catch.hpp>
#include <cmath>
#include <cstring>
#include <cursimeter/numbers/detmath.hpp>
#include <string>

#include "capi/loaded.hpp"

using namespace support;

/// What a program in C asks a terrain itself.

namespace {

const std::string crate = R"(format = 1
name = "crate"
[[box]]
from = [2, -1, 0]
to = [3, 1, 1]
)";

}  // namespace

TEST_CASE("a terrain answers a program in C as it answers a runner", "[capi]") {
    const Loaded bearer("bearer");
    cursimeter_terrain* terrain = nullptr;
    REQUIRE(cursimeter_terrain_parse(crate.data(), crate.size(), "crate", bearer.chart, &terrain,
                                     bearer.error) == CURSIMETER_OK);
    cursimeter_sweep sweep{0.3, 1.8, {0.0, 0.0, 0.0}, {4.0, 0.0, 0.0}, 0.0};
    cursimeter_hit hit{};
    REQUIRE(cursimeter_terrain_sweep(terrain, &sweep, &hit) == CURSIMETER_OK);
    // The face is 2 m ahead, the body's side 0.3 m.
    CHECK(hit.fraction == Approx(1.7 / 4.0).margin(1e-9));
    CHECK(hit.normal[0] == Approx(-1.0));
    CHECK(hit.surface == 1);
    sweep.motion[0] = 1.0;
    CHECK(cursimeter_terrain_sweep(terrain, &sweep, &hit) == CURSIMETER_NO);
    cursimeter_overlap overlap{};
    CHECK(cursimeter_terrain_overlap(terrain, &sweep, &overlap) == CURSIMETER_NO);
    sweep.from[0] = 1.8;
    REQUIRE(cursimeter_terrain_overlap(terrain, &sweep, &overlap) == CURSIMETER_OK);
    CHECK(overlap.depth == Approx(0.1).margin(1e-9));
    CHECK(overlap.normal[0] == Approx(-1.0));

    SECTION("one of C functions passes the question on") {
        cursimeter_world world = CURSIMETER_WORLD_INIT;
        world.user = terrain;
        world.sweep = [](void* inner, const cursimeter_sweep* asked, cursimeter_hit* out) {
            return cursimeter_terrain_sweep(static_cast<cursimeter_terrain*>(inner), asked, out) ==
                           CURSIMETER_OK
                       ? 1
                       : 0;
        };
        world.overlap = [](void* inner, const cursimeter_sweep* body, cursimeter_overlap* out) {
            return cursimeter_terrain_overlap(static_cast<cursimeter_terrain*>(inner), body, out) ==
                           CURSIMETER_OK
                       ? 1
                       : 0;
        };
        cursimeter_terrain* outer = nullptr;
        REQUIRE(cursimeter_terrain_new(&world, &outer, nullptr) == CURSIMETER_OK);
        cursimeter_overlap same{};
        REQUIRE(cursimeter_terrain_overlap(outer, &sweep, &same) == CURSIMETER_OK);
        CHECK(std::memcmp(&same, &overlap, sizeof(same)) == 0);
        cursimeter_terrain_free(outer);
    }
    SECTION("questions that make no sense are refused") {
        const auto refused = [&](const cursimeter_sweep& asked) {
            CHECK(cursimeter_terrain_sweep(terrain, &asked, &hit) == CURSIMETER_BAD_ARGUMENT);
            CHECK(cursimeter_terrain_overlap(terrain, &asked, &overlap) == CURSIMETER_BAD_ARGUMENT);
        };
        for (const double bad : {std::nan(""), HUGE_VAL, -HUGE_VAL}) {
            cursimeter_sweep asked = sweep;
            asked.from[1] = bad;
            refused(asked);
            asked = sweep;
            asked.motion[2] = bad;
            refused(asked);
            asked = sweep;
            asked.at = bad;
            refused(asked);
            asked = sweep;
            asked.radius = bad;
            refused(asked);
            asked = sweep;
            asked.height = bad;
            refused(asked);
        }
        cursimeter_sweep asked = sweep;
        asked.height = 0.5;  // lower than it is wide
        refused(asked);
        asked.height = 1.8;
        asked.radius = 0.0;
        refused(asked);
        CHECK(cursimeter_terrain_sweep(nullptr, &sweep, &hit) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_terrain_sweep(terrain, nullptr, &hit) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_terrain_sweep(terrain, &sweep, nullptr) == CURSIMETER_BAD_ARGUMENT);
        CHECK(cursimeter_terrain_overlap(terrain, &sweep, nullptr) == CURSIMETER_BAD_ARGUMENT);
    }
    cursimeter_terrain_free(terrain);
}

TEST_CASE("a course from text in C is told what is wrong with it", "[capi]") {
    const Loaded bearer("bearer");
    cursimeter_terrain* terrain = nullptr;
    const std::string flat = crate + "[[box]]\nfrom = [0, 0, 0]\nto = [0, 1, 1]\n";
    CHECK(cursimeter_terrain_parse(flat.data(), flat.size(), "quay", bearer.chart, &terrain, bearer.error) ==
          CURSIMETER_BAD_INPUT);
    CHECK(terrain == nullptr);
    CHECK(std::string(cursimeter_error_text(bearer.error)).find("quay:6") != std::string::npos);
    CHECK(cursimeter_terrain_parse(nullptr, 4, nullptr, bearer.chart, &terrain, bearer.error) ==
          CURSIMETER_BAD_ARGUMENT);
    CHECK(std::string(cursimeter_error_text(bearer.error)).find("text") != std::string::npos);
    CHECK(cursimeter_terrain_parse(crate.data(), crate.size(), nullptr, nullptr, &terrain, nullptr) ==
          CURSIMETER_BAD_ARGUMENT);
    CHECK(cursimeter_terrain_parse(crate.data(), crate.size(), nullptr, bearer.chart, nullptr, nullptr) ==
          CURSIMETER_BAD_ARGUMENT);
}

TEST_CASE("angles in C are the library's own, to the bit", "[capi]") {
    for (int i = -40; i <= 40; ++i) {
        const double angle = 0.37 * i;
        double sine = 0.0, cosine = 0.0;
        cursimeter_sine_cosine(angle, &sine, &cosine);
        const cursimeter::detmath::SineCosine own = cursimeter::detmath::sine_cosine(angle);
        CHECK(sine == own.sine);
        CHECK(cosine == own.cosine);
        CHECK(sine == Approx(std::sin(angle)).margin(1e-12));
        CHECK(cursimeter_arc_tangent(sine, cosine) == cursimeter::detmath::arc_tangent(sine, cosine));
        CHECK(cursimeter_arc_tangent(sine, cosine) == Approx(std::atan2(sine, cosine)).margin(1e-12));
    }
    cursimeter_sine_cosine(1.0, nullptr, nullptr);
}
