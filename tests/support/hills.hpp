#pragma once

#include <algorithm>
#include <cmath>
#include <cursimeter/cursimeter.hpp>
#include <glm/geometric.hpp>
#include <vector>

/// A world of triangles over a square grid, as games make them of height maps.
namespace support {

using namespace cursimeter;

class Hills final : public Terrain {
  public:
    /// `height(x, y)` at the corners of the cells, m, up to 30 m around the middle.
    template <class Height>
    Hills(double cell, Height&& height) : cell_(cell), half_(static_cast<int>(30.0 / cell)) {
        for (int i = -half_; i <= half_; ++i) {
            for (int j = -half_; j <= half_; ++j) {
                heights_.push_back(height(i * cell, j * cell));
            }
        }
    }
    [[nodiscard]] double height(double x, double y) const {
        const int i = static_cast<int>(std::floor(x / cell_)), j = static_cast<int>(std::floor(y / cell_));
        const double u = x / cell_ - i, v = y / cell_ - j;
        const double far = corner(i + 1, j).z, left = corner(i, j + 1).z;
        return u + v <= 1.0 ? corner(i, j).z * (1.0 - u - v) + far * u + left * v
                            : corner(i + 1, j + 1).z * (u + v - 1.0) + left * (1.0 - u) + far * (1.0 - v);
    }

    [[nodiscard]] bool sweep(const Sweep& sweep, Hit& hit) const noexcept override {
        const double radius = sweep.body.radius;
        const glm::dvec3 up(0.0, 0.0, sweep.body.height - 2.0 * radius);
        const glm::dvec3 start = sweep.from + glm::dvec3(0.0, 0.0, radius), end = start + sweep.motion;
        double first = 2.0;
        each_triangle(glm::min(start, end), glm::max(start, end), radius, [&](const Triangle& triangle) {
            // The distance of two convex bodies is a convex function of time: steps by its slope come to the touch from before.
            double at = 0.0;
            for (int step = 0; step < 100 && at <= std::min(first, 1.0); ++step) {
                const Nearest nearest = nearest_of(triangle, start + sweep.motion * at, up);
                const double gap = nearest.distance - radius, slope = glm::dot(sweep.motion, nearest.normal);
                if (slope >= 0.0) {
                    return;
                }
                if (gap < 1e-8) {
                    first = at;
                    hit.normal = nearest.normal;
                    return;
                }
                at += std::max(gap, 1e-9) / -slope;
            }
        });
        if (first > 1.0) {
            return false;
        }
        const glm::dvec3 there = start + sweep.motion * first;
        hit.fraction = first;
        hit.surface = 1;
        hit.face = glm::dvec3(0.0, 0.0, -1.0);
        each_triangle(there, there, radius, [&](const Triangle& triangle) {
            const Nearest nearest = nearest_of(triangle, there, up);
            const bool touches =
                nearest.distance < radius + 1e-6 && glm::dot(nearest.normal, hit.normal) > 1.0 - 1e-7;
            hit.face = touches && triangle.normal.z > hit.face.z ? triangle.normal : hit.face;
        });
        return true;
    }
    [[nodiscard]] bool overlap(const Capsule& body, const glm::dvec3& feet, double,
                               Overlap& overlap) const noexcept override {
        const glm::dvec3 low = feet + glm::dvec3(0.0, 0.0, body.radius);
        overlap.depth = height(low.x, low.y) - low.z + body.radius;
        if (overlap.depth > body.radius) {
            return true;  // its middle is in the hill: upward
        }
        overlap.depth = 1e-6;
        const double least = overlap.depth;
        each_triangle(low, low, body.radius, [&](const Triangle& triangle) {
            const Nearest nearest =
                nearest_of(triangle, low, glm::dvec3(0.0, 0.0, body.height - 2.0 * body.radius));
            if (body.radius - nearest.distance > overlap.depth) {
                overlap = {body.radius - nearest.distance, nearest.normal};
            }
        });
        return overlap.depth > least;
    }

  private:
    struct Triangle {
        glm::dvec3 corners[3];
        glm::dvec3 normal;
    };
    struct Nearest {
        double distance;
        glm::dvec3 normal;  ///< from the triangle to the body's middle line
    };
    [[nodiscard]] glm::dvec3 corner(int i, int j) const {
        const int side = 2 * half_ + 1;
        const int a = std::clamp(i + half_, 0, side - 1), b = std::clamp(j + half_, 0, side - 1);
        return {i * cell_, j * cell_, heights_[static_cast<std::size_t>(a * side + b)]};
    }
    [[nodiscard]] static Triangle triangle_of(const glm::dvec3& a, const glm::dvec3& b, const glm::dvec3& c) {
        const glm::dvec3 normal = glm::normalize(glm::cross(b - a, c - a));
        return {{a, b, c}, normal.z > 0.0 ? normal : -normal};
    }
    template <class Work>
    void each_triangle(const glm::dvec3& low, const glm::dvec3& high, double reach, Work&& work) const {
        const auto cell_of = [&](double x) { return static_cast<int>(std::floor(x / cell_)); };
        for (int i = cell_of(low.x - reach); i <= cell_of(high.x + reach); ++i) {
            for (int j = cell_of(low.y - reach); j <= cell_of(high.y + reach); ++j) {
                work(triangle_of(corner(i, j), corner(i + 1, j), corner(i, j + 1)));
                work(triangle_of(corner(i + 1, j + 1), corner(i, j + 1), corner(i + 1, j)));
            }
        }
    }
    /// Nearest points of a triangle and a point.
    [[nodiscard]] static glm::dvec3 nearest_on(const Triangle& triangle, const glm::dvec3& point) {
        const glm::dvec3 inside =
            point - triangle.normal * glm::dot(point - triangle.corners[0], triangle.normal);
        bool is_inside = true;
        glm::dvec3 best(0.0);
        double least = 1e300;
        for (int i = 0; i < 3; ++i) {
            const glm::dvec3 &a = triangle.corners[i], &b = triangle.corners[(i + 1) % 3],
                             &c = triangle.corners[(i + 2) % 3];
            const glm::dvec3 outward = glm::cross(b - a, triangle.normal);
            is_inside = is_inside && glm::dot(inside - a, outward) * glm::dot(c - a, outward) >= 0.0;
            const glm::dvec3 on_edge =
                a + (b - a) * std::clamp(glm::dot(point - a, b - a) / glm::dot(b - a, b - a), 0.0, 1.0);
            if (glm::distance(point, on_edge) < least) {
                least = glm::distance(point, on_edge);
                best = on_edge;
            }
        }
        return is_inside ? inside : best;
    }
    /// Of the upright line of a body and a triangle that does not cross it. Ground has no cliffs over a body, so it is the line's lower end
    /// that is nearest to a face; an edge may be nearest to a point between.
    [[nodiscard]] static Nearest nearest_of(const Triangle& triangle, const glm::dvec3& low,
                                            const glm::dvec3& up) {
        glm::dvec3 apart = low - nearest_on(triangle, low);
        for (int i = 0; i < 3; ++i) {
            const glm::dvec3 &a = triangle.corners[i], side = triangle.corners[(i + 1) % 3] - a;
            const glm::dvec2 flat(side);
            const double along = std::clamp(
                glm::dot(glm::dvec2(low - a), flat) / std::max(glm::dot(flat, flat), 1e-12), 0.0, 1.0);
            const glm::dvec3 on_edge = a + side * along;
            const glm::dvec3 on_line = low + up * std::clamp((on_edge.z - low.z) / up.z, 0.0, 1.0);
            if (glm::distance(on_line, on_edge) < glm::length(apart)) {
                apart = on_line - on_edge;
            }
        }
        const double distance = glm::length(apart);
        const double side = glm::dot(low - triangle.corners[0], triangle.normal);
        return distance > 1e-12 && side >= 0.0 ? Nearest{distance, apart / distance}
                                               : Nearest{side < 0.0 ? -distance : distance, triangle.normal};
    }

    double cell_;
    int half_;
    std::vector<double> heights_;
};

}  // namespace support
