#include <imgui.h>

#include <algorithm>
#include <cursimeter/panels/sketch.hpp>
#include <cursimeter/panels/style.hpp>
#include <vector>

namespace cursimeter::panels {
namespace {

// Up the screen for a metre northward and for a metre upward: an angle of 60 degrees from above.
constexpr double north = 0.5, up = 0.87;

ImVec2 pixel(const glm::dvec2& place) {
    return {static_cast<float>(place.x), static_cast<float>(place.y)};
}

/// Upper sides are lighter than those that face the viewer.
tryout::Colour tone(double upward) {
    const double light = 0.66 + 0.2 * upward;
    return {light, light - 0.015, light - 0.08};
}

}  // namespace

glm::dvec2 Sketch::place(const glm::dvec3& point) const {
    const ImVec2 screen = ImGui::GetIO().DisplaySize;
    const glm::dvec3 from = (point - centre_) * metre_;
    return {0.5 * static_cast<double>(screen.x) + from.x,
            0.6 * static_cast<double>(screen.y) - north * from.y - up * from.z};
}

void Sketch::draw_box(const Solid& box, const glm::dvec3& moved) const {
    ImDrawList* list = ImGui::GetBackgroundDrawList();
    for (int axis = 0; axis < 3; ++axis) {
        for (const double side : {-1.0, 1.0}) {
            const auto n = static_cast<std::size_t>(axis);
            const glm::dvec3 normal = box.axes[n] * side;
            if (up * normal.z - north * normal.y <= 1e-6) {
                continue;  // it faces away
            }
            const glm::dvec3 u = box.axes[(n + 1) % 3] * box.half[(axis + 1) % 3];
            const glm::dvec3 v = box.axes[(n + 2) % 3] * box.half[(axis + 2) % 3];
            const glm::dvec3 middle = box.middle + moved + normal * box.half[axis];
            list->AddQuadFilled(pixel(place(middle - u - v)), pixel(place(middle + u - v)),
                                pixel(place(middle + u + v)), pixel(place(middle - u + v)),
                                packed(tone(normal.z)));
            // A line every metre, so that one sees how fast it goes.
            for (double metre = 1.0; axis == 2 && metre < 2.0 * box.half.x; metre += 1.0) {
                const glm::dvec3 along = u * (metre / box.half.x - 1.0);
                list->AddLine(pixel(place(middle + along - v)), pixel(place(middle + along + v)),
                              packed(tryout::ink.faded(0.16)));
            }
        }
    }
}

void Sketch::draw(const Course& course, double time) const {
    std::vector<const Solid*> boxes;
    for (const Solid& box : course.solids()) {
        boxes.push_back(&box);
    }
    std::stable_sort(boxes.begin(), boxes.end(),
                     [](const Solid* a, const Solid* b) { return a->middle.y > b->middle.y; });
    for (const Solid* box : boxes) {
        const auto platform = static_cast<std::size_t>(std::max(box->platform, 0));
        draw_box(*box, box->platform < 0 ? glm::dvec3(0.0) : course.platform_offset(platform, time));
    }
}

void Sketch::draw(const glm::dvec3& feet, const Capsule& body, const tryout::Colour& colour) const {
    ImDrawList* list = ImGui::GetBackgroundDrawList();
    const auto radius = static_cast<float>(body.radius * metre_);
    const ImVec2 low = pixel(place(feet + glm::dvec3(0.0, 0.0, body.radius)));
    const ImVec2 high = pixel(place(feet + glm::dvec3(0.0, 0.0, body.height - body.radius)));
    list->AddLine(low, high, packed(colour), 2.0F * radius);
    list->AddCircleFilled(low, radius, packed(colour));
    list->AddCircleFilled(high, radius, packed(colour));
}

}  // namespace cursimeter::panels
