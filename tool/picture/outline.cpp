#include "picture/outline.hpp"

#include <algorithm>

#include "picture/style.hpp"

namespace cursimeter::tool {
namespace {

/// The hull of points in a plane, counter-clockwise (the monotone chain).
std::vector<PagePoint> hull(std::vector<PagePoint> points) {
    std::sort(points.begin(), points.end(),
              [](PagePoint a, PagePoint b) { return a.x < b.x || (a.x == b.x && a.y < b.y); });
    std::vector<PagePoint> chain;
    const auto turns_left = [&](PagePoint p) {
        const PagePoint& a = chain[chain.size() - 2];
        const PagePoint& b = chain.back();
        return (b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x) > 1e-9;
    };
    for (int pass = 0; pass < 2; ++pass) {
        const std::size_t begin = chain.size() + 1;
        for (const PagePoint& point : points) {
            while (chain.size() > begin && !turns_left(point)) {
                chain.pop_back();
            }
            chain.push_back(point);
        }
        chain.pop_back();
        std::reverse(points.begin(), points.end());
    }
    return chain;
}

}  // namespace

std::array<glm::dvec3, 8> corners_of(const Solid& solid) {
    std::array<glm::dvec3, 8> corners;
    for (std::size_t corner = 0; corner < 8; ++corner) {
        corners[corner] = solid.middle;
        for (std::size_t axis = 0; axis < 3; ++axis) {
            const double half = solid.half[static_cast<glm::length_t>(axis)];
            corners[corner] += solid.axes[axis] * ((corner >> axis & 1U) != 0 ? half : -half);
        }
    }
    return corners;
}

void draw_solid(Canvas& canvas, std::vector<PagePoint> corners, bool moves, double strength) {
    constexpr Colour edge{0.42, 0.42, 0.40};
    std::vector<PagePoint> outline = hull(std::move(corners));
    canvas.polygon(outline, moves ? lantern.faded(0.55) : stone.faded(strength));
    outline.push_back(outline.front());
    canvas.polyline(outline, moves ? lantern : edge, 1.0);
}

}  // namespace cursimeter::tool
