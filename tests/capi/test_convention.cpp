#include <cursimeter/cursimeter.h>

#include <catch2/catch.hpp>
#include <cmath>
#include <cstdlib>
#include <cursimeter/convention.hpp>
#include <random>

TEST_CASE("a game with other axes: y up, centimetres, left-handed, degrees") {
    // x right, y up, z ahead, in centimetres; yaw in degrees, clockwise, 0 along z.
    cursimeter_convention game = CURSIMETER_CONVENTION_INIT;
    game.forward = 3;
    game.up = 2;
    game.left_handed = 1;
    game.clockwise_yaw = 1;
    game.metres = 0.01;
    game.radians = 3.14159265358979323846 / 180.0;
    const float ahead[3]{0.0F, 200.0F, 300.0F}, right[3]{100.0F, 0.0F, 0.0F};
    double out[3];
    REQUIRE(cursimeter_from_game_f(&game, CURSIMETER_LENGTH, ahead, out) == CURSIMETER_OK);
    CHECK(out[0] == Approx(3.0));
    CHECK(out[1] == Approx(0.0));
    CHECK(out[2] == Approx(2.0));
    REQUIRE(cursimeter_from_game_f(&game, CURSIMETER_LENGTH, right, out) == CURSIMETER_OK);
    CHECK(out[1] == Approx(-1.0));  // the library's left is +y
    float back[3];
    REQUIRE(cursimeter_to_game_f(&game, CURSIMETER_LENGTH, out, back) == CURSIMETER_OK);
    CHECK(back[0] == 100.0F);
    CHECK(cursimeter_yaw_from_game(&game, 90.0) == Approx(-1.5707963267948966));  // to the right
    CHECK(cursimeter_yaw_to_game(&game, -1.5707963267948966) == Approx(90.0));
    game.up = 3;
    CHECK(cursimeter_from_game_f(&game, CURSIMETER_LENGTH, ahead, out) == CURSIMETER_BAD_INPUT);
    game.up = 7;
    CHECK(cursimeter_from_game_f(&game, CURSIMETER_LENGTH, ahead, out) == CURSIMETER_BAD_ARGUMENT);
}

TEST_CASE("every convention turns there and back, keeps lengths, and agrees with its own yaw") {
    std::mt19937 random(3);
    const auto part = [&] { return static_cast<double>(random() % 20001) / 10.0 - 1000.0; };
    int tried = 0;
    for (const int forward : {-3, -2, -1, 1, 2, 3}) {
        for (const int up : {-3, -2, -1, 1, 2, 3}) {
            for (const bool left_handed : {false, true}) {
                for (const bool clockwise : {false, true}) {
                    if (std::abs(forward) == std::abs(up)) {
                        continue;
                    }
                    const cursimeter::Converter converter(
                        {static_cast<cursimeter::Axis>(forward), static_cast<cursimeter::Axis>(up),
                         left_handed, clockwise, 0.01, 30.0, 3.14159265358979323846 / 180.0});
                    const glm::dvec3 place(part(), part(), part());
                    const glm::dvec3 own = converter.from_game(place), again = converter.to_game(own);
                    for (int i = 0; i < 3; ++i) {
                        CHECK(again[i] == Approx(place[i]).epsilon(1e-15));
                    }
                    const double square = place.x * place.x + place.y * place.y + place.z * place.z;
                    CHECK(own.x * own.x + own.y * own.y + own.z * own.z == Approx(square * 1e-4));
                    CHECK(converter.yaw_from_game(30.0) == Approx(0.0).margin(1e-15));
                    const double yaw = part() / 100.0;
                    CHECK(converter.yaw_from_game(converter.yaw_to_game(yaw)) == Approx(yaw));
                    // Turned a quarter to the left of ahead, a direction is what `up x forward` says in right-handed axes.
                    const glm::dvec3 left = converter.direction_to_game({0.0, 1.0, 0.0}),
                                     f = converter.direction_to_game({1.0, 0.0, 0.0}),
                                     u = converter.direction_to_game({0.0, 0.0, 1.0});
                    const double volume = f.x * (left.y * u.z - left.z * u.y) -
                                          f.y * (left.x * u.z - left.z * u.x) +
                                          f.z * (left.x * u.y - left.y * u.x);
                    CHECK(volume == (left_handed ? -1.0 : 1.0));
                    ++tried;
                }
            }
        }
    }
    CHECK(tried == 96);
}
