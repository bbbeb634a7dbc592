#pragma once

/// Elementary functions with the same bits on every machine: only + - * / and comparisons, in
/// compiled sources with contraction off. Accurate to about 1e-15 relative (absolute for sine and
/// cosine) over the documented ranges.
namespace cursimeter::detmath {

struct SineCosine {
    double sine = 0.0;
    double cosine = 1.0;
};

/// Sine and cosine of an angle in radians. Accurate for |angle| <= 1e6; from there to 1e9 accuracy is lost
/// in proportion, and beyond, or for an undefined angle, the answer is that for 0.
[[nodiscard]] SineCosine sine_cosine(double angle);

/// The angle of the vector (x, y) from the x axis, -pi to pi; 0 for the zero vector.
[[nodiscard]] double arc_tangent(double y, double x);

/// 2^x; 0 below -1022 and infinity from 1024 on.
[[nodiscard]] double power_of_two(double x);

/// log2(x) for a finite x > 0 (subnormals included).
[[nodiscard]] double log_two(double x);

/// ln(x) for a finite x > 0.
[[nodiscard]] double log_natural(double x);

}  // namespace cursimeter::detmath
