#include <cmath>
#include <cursimeter/drill/sayable.hpp>

namespace cursimeter::sayable {
namespace {

constexpr double moves = 1e4, degrees = 1e4;  // steps of one

double rounded(double value, double steps) {
    return std::isfinite(value) ? std::round(value * steps) / steps : 0.0;
}

}  // namespace

Degrees angle(double radians) {
    return Degrees(rounded(radians * (180.0 / 3.141592653589793), degrees));
}
Move move(const Move& wanted) {
    return {rounded(wanted.forward, moves), rounded(wanted.side, moves)};
}
Look look(const Look& wanted) {
    return {angle(wanted.yaw).radians(), angle(wanted.pitch).radians()};
}
double time(double seconds) {
    return rounded(seconds, microseconds);
}
double since(double begin, double time) {
    return time - begin;
}
double later(double begin, double passed) {
    constexpr double hair = 1e-9;  // s; rounding is far below, a microsecond far above
    const double sum = begin + passed, whole = time(sum);
    return std::fabs(sum - whole) < hair ? whole : sum;
}

}  // namespace cursimeter::sayable
