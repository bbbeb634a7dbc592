#include <cmath>
#include <cursimeter/convention.hpp>
#include <cursimeter/numbers/detmath.hpp>

#include "capi/boundary.hpp"

using namespace cursimeter;

namespace cursimeter::capi {
namespace {

/// Runs `work(converter)`, unless the convention is none.
template <class Work>
cursimeter_status with(const cursimeter_convention* convention, Work&& work) {
    cursimeter_convention said = CURSIMETER_CONVENTION_INIT;
    if (!take_in(convention, said) || said.forward < -3 || said.forward > 3 || said.up < -3 || said.up > 3) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    return guarded(nullptr, [&] {
        work(Converter({static_cast<Axis>(said.forward), static_cast<Axis>(said.up), said.left_handed != 0,
                        said.clockwise_yaw != 0, said.metres, said.yaw_at_forward, said.radians}));
        return CURSIMETER_OK;
    });
}

template <class In, class Out>
cursimeter_status convert(const cursimeter_convention* convention, int quantity, const In* in, Out* out,
                          bool to_game) {
    if (in == nullptr || out == nullptr ||
        (quantity != CURSIMETER_LENGTH && quantity != CURSIMETER_DIRECTION)) {
        return CURSIMETER_BAD_ARGUMENT;
    }
    return with(convention, [&](const Converter& converter) {
        const glm::dvec3 given(in[0], in[1], in[2]);
        const bool turned_only = quantity == CURSIMETER_DIRECTION;
        const glm::dvec3 made =
            to_game       ? turned_only ? converter.direction_to_game(given) : converter.to_game(given)
                  : turned_only ? converter.direction_from_game(given)
                          : converter.from_game(given);
        for (int i = 0; i < 3; ++i) {
            out[i] = static_cast<Out>(made[i]);
        }
    });
}

}  // namespace
}  // namespace cursimeter::capi

extern "C" {

cursimeter_status cursimeter_from_game(const cursimeter_convention* convention, int quantity,
                                       const double in[3], double out[3]) {
    return capi::convert(convention, quantity, in, out, false);
}
cursimeter_status cursimeter_to_game(const cursimeter_convention* convention, int quantity,
                                     const double in[3], double out[3]) {
    return capi::convert(convention, quantity, in, out, true);
}
cursimeter_status cursimeter_from_game_f(const cursimeter_convention* convention, int quantity,
                                         const float in[3], double out[3]) {
    return capi::convert(convention, quantity, in, out, false);
}
cursimeter_status cursimeter_to_game_f(const cursimeter_convention* convention, int quantity,
                                       const double in[3], float out[3]) {
    return capi::convert(convention, quantity, in, out, true);
}

double cursimeter_yaw_from_game(const cursimeter_convention* convention, double yaw) {
    double turned = std::nan("");
    static_cast<void>(
        capi::with(convention, [&](const Converter& converter) { turned = converter.yaw_from_game(yaw); }));
    return turned;
}
double cursimeter_yaw_to_game(const cursimeter_convention* convention, double yaw) {
    double turned = std::nan("");
    static_cast<void>(
        capi::with(convention, [&](const Converter& converter) { turned = converter.yaw_to_game(yaw); }));
    return turned;
}

double cursimeter_arc_tangent(double y, double x) {
    return detmath::arc_tangent(y, x);
}
void cursimeter_sine_cosine(double angle, double* sine, double* cosine) {
    const detmath::SineCosine turned = detmath::sine_cosine(angle);
    if (sine != nullptr) {
        *sine = turned.sine;
    }
    if (cosine != nullptr) {
        *cosine = turned.cosine;
    }
}

}  // extern "C"
