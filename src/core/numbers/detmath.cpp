#include <bit>
#include <cfloat>
#include <cmath>
#include <cstdint>
#include <cursimeter/numbers/detmath.hpp>
#include <limits>

#include "core/numbers/sine_cosine.hpp"

#ifdef __FAST_MATH__
#error "cursimeter's numeric core must not be built with -ffast-math: its runs would differ by build"
#endif
static_assert(FLT_EVAL_METHOD == 0, "doubles must be computed as doubles (use SSE2 on i686)");

namespace cursimeter::detmath {
namespace {

constexpr double ln_two = 0.6931471805599453;
constexpr double half_pi = 1.5707963267948966;
/// By conversion: the standard's floor is a library call where a processor's instruction for it may not
/// be relied on.
std::int64_t nearest_whole(double x) {
    return static_cast<std::int64_t>(x < 0.0 ? x - 0.5 : x + 0.5);
}

double with_exponent(std::int64_t exponent) {
    return std::bit_cast<double>(static_cast<std::uint64_t>(exponent + 1023) << 52U);
}

}  // namespace

SineCosine sine_cosine(double angle) {
    return sine_cosine_inline(angle);
}

double arc_tangent(double y, double x) {
    const double ax = std::fabs(x), ay = std::fabs(y);
    const double larger = ax > ay ? ax : ay, smaller = ax > ay ? ay : ax;
    if (!(larger > 0.0)) {
        return 0.0;
    }
    // atan t for 0 <= t <= 1: halved twice by atan t = 2 atan(t / (1 + sqrt(1 + t^2))), which leaves
    // t <= tan(pi/16) = 0.199; the first term left out of the series is then below 1e-16.
    double t = smaller / larger;
    t = t / (1.0 + std::sqrt(1.0 + t * t));
    t = t / (1.0 + std::sqrt(1.0 + t * t));
    const double z = t * t;
    double sum = 0.0;
    for (int k = 21; k >= 3; k -= 2) {
        sum = z * ((k % 4 == 3 ? -1.0 : 1.0) / k + sum);
    }
    double angle = 4.0 * (t + t * sum);
    angle = ay > ax ? half_pi - angle : angle;
    angle = x < 0.0 ? 2.0 * half_pi - angle : angle;
    return y < 0.0 ? -angle : angle;
}

double power_of_two(double x) {
    if (x >= 1024.0) {
        return std::numeric_limits<double>::infinity();
    }
    if (!(x >= -1022.0)) {
        return 0.0;
    }
    const std::int64_t exponent = nearest_whole(x);
    const double y = (x - static_cast<double>(exponent)) * ln_two;  // |y| <= 0.35
    double sum = 1.0 / 6227020800.0;
    sum = sum * y + 1.0 / 479001600.0;
    sum = sum * y + 1.0 / 39916800.0;
    sum = sum * y + 1.0 / 3628800.0;
    sum = sum * y + 1.0 / 362880.0;
    sum = sum * y + 1.0 / 40320.0;
    sum = sum * y + 1.0 / 5040.0;
    sum = sum * y + 1.0 / 720.0;
    sum = sum * y + 1.0 / 120.0;
    sum = sum * y + 1.0 / 24.0;
    sum = sum * y + 1.0 / 6.0;
    sum = sum * y + 0.5;
    const double value = 1.0 + (y + y * (y * sum));
    // 2^1024 is no double, though value * 2^1024 may be: scale in two steps there.
    return exponent > 1023 ? value * with_exponent(1023) * 2.0 : value * with_exponent(exponent);
}

double log_natural(double x) {
    int exponent = 0;
    if (x < std::numeric_limits<double>::min()) {
        x *= 0x1p54;
        exponent = -54;
    }
    const auto bits = std::bit_cast<std::uint64_t>(x);
    exponent += static_cast<int>(bits >> 52U & 0x7ffU) - 1023;
    double m = std::bit_cast<double>((bits & 0x000f'ffff'ffff'ffffULL) | 0x3ff0'0000'0000'0000ULL);
    if (m > 1.4142135623730951) {
        m *= 0.5;
        exponent += 1;
    }
    // ln m = 2 artanh(s); s is at most 0.172, the first term left out is below 1e-19. Even and odd powers
    // of z are summed apart, so that a processor can work on both at once.
    const double s = (m - 1.0) / (m + 1.0);
    const double z = s * s;
    const double y = z * z;
    double even = 1.0 / 23.0;
    even = even * y + 1.0 / 19.0;
    even = even * y + 1.0 / 15.0;
    even = even * y + 1.0 / 11.0;
    even = even * y + 1.0 / 7.0;
    even = even * y + 1.0 / 3.0;
    double odd = 1.0 / 21.0;
    odd = odd * y + 1.0 / 17.0;
    odd = odd * y + 1.0 / 13.0;
    odd = odd * y + 1.0 / 9.0;
    odd = odd * y + 1.0 / 5.0;
    return exponent * ln_two + 2.0 * (s + s * (z * (even + z * odd)));
}

double log_two(double x) {
    return log_natural(x) / ln_two;
}

}  // namespace cursimeter::detmath
