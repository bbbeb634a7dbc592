#include <bit>
#include <catch2/catch.hpp>
#include <cmath>
#include <cstdint>
#include <cursimeter/numbers/detmath.hpp>
#include <limits>
#include <random>

using namespace cursimeter::detmath;

TEST_CASE("sine and cosine agree with the standard library to 1e-15 over the documented range") {
    std::mt19937_64 random(1);
    for (const double span : {1.0, 10.0, 1000.0, 1e6}) {
        std::uniform_real_distribution<double> angle(-span, span);
        for (int i = 0; i < 20000; ++i) {
            const double x = angle(random);
            const SineCosine own = sine_cosine(x);
            REQUIRE(std::fabs(own.sine - std::sin(x)) <= 1e-15);
            REQUIRE(std::fabs(own.cosine - std::cos(x)) <= 1e-15);
        }
    }
}

TEST_CASE("sine and cosine are exact at zero and odd or even about it") {
    CHECK(sine_cosine(0.0).sine == 0.0);
    CHECK(sine_cosine(0.0).cosine == 1.0);
    for (const double x : {0.1, 0.785, 1.0, 2.0, 3.0, 100.0}) {
        CHECK(sine_cosine(-x).sine == -sine_cosine(x).sine);
        CHECK(sine_cosine(-x).cosine == sine_cosine(x).cosine);
    }
}

TEST_CASE("absurd angles give an answer that is harmless") {
    for (const double x :
         {1e10, -1e300, std::numeric_limits<double>::infinity(), std::numeric_limits<double>::quiet_NaN()}) {
        CHECK(sine_cosine(x).sine == 0.0);
        CHECK(sine_cosine(x).cosine == 1.0);
    }
    const SineCosine large = sine_cosine(9e8);
    CHECK(large.sine * large.sine + large.cosine * large.cosine == Approx(1.0).epsilon(1e-14));
}

TEST_CASE("powers of two are exact for whole numbers and close to 1e-15 otherwise") {
    for (int i = -1022; i < 1024; ++i) {
        REQUIRE(power_of_two(i) == std::ldexp(1.0, i));
    }
    std::mt19937_64 random(2);
    std::uniform_real_distribution<double> exponent(-1000.0, 1000.0);
    for (int i = 0; i < 20000; ++i) {
        const double x = exponent(random);
        REQUIRE(std::fabs(power_of_two(x) / std::exp2(x) - 1.0) <= 1e-15);
    }
    CHECK(power_of_two(1024.0) == std::numeric_limits<double>::infinity());
    CHECK(power_of_two(-1023.0) == 0.0);
    CHECK(power_of_two(1023.9) == Approx(std::exp2(1023.9)).epsilon(1e-14));
}

TEST_CASE("logarithms agree with the standard library, subnormals included") {
    std::mt19937_64 random(3);
    std::uniform_real_distribution<double> exponent(-1073.0, 1023.0);
    for (int i = 0; i < 20000; ++i) {
        const double x = std::exp2(exponent(random));
        REQUIRE(std::fabs(log_natural(x) - std::log(x)) <= 1e-15 * (1.0 + std::fabs(std::log(x))));
        REQUIRE(std::fabs(log_two(x) - std::log2(x)) <= 1e-15 * (1.0 + std::fabs(std::log2(x))));
    }
    CHECK(log_natural(1.0) == 0.0);
    CHECK(log_natural(std::numeric_limits<double>::denorm_min()) ==
          Approx(-744.4400719213812).epsilon(1e-15));
}

TEST_CASE("the bits are pinned") {
    const auto bits = [](double value) { return std::bit_cast<std::uint64_t>(value); };
    CHECK(bits(sine_cosine(1.0).sine) == bits(0x1.aed548f090ceep-1));
    CHECK(bits(sine_cosine(1.0).cosine) == bits(0x1.14a280fb5068bp-1));
    CHECK(bits(power_of_two(0.5)) == bits(0x1.6a09e667f3bccp+0));
    CHECK(bits(log_natural(10.0)) == bits(0x1.26bb1bbb55515p+1));
}
