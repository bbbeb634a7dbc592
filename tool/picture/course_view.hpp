#pragma once

#include <cursimeter/course/course.hpp>
#include <string>
#include <vector>

#include "picture/style.hpp"

/// A course from the side and from above, in as many rows as give the largest scale: the ground on which paths and places are drawn.
namespace cursimeter::tool {

inline constexpr double page_left = 56.0;

/// A stretch of numbers.
struct Span {
    double low = 1e300, high = -1e300;
    void take(double value) {
        low = low < value ? low : value;
        high = high > value ? high : value;
    }
    [[nodiscard]] double size() const { return high - low; }
};

/// A window on the world: metres along the course to the right, height or width upward.
struct Pane {
    Box box;
    double from = 0.0;   ///< m along, at the left edge
    double low = 0.0;    ///< m, at the lower edge
    double scale = 1.0;  ///< points per metre
    bool from_side = false;
    bool first = false;  ///< of its kind

    [[nodiscard]] PagePoint at(double along, double up) const {
        return {box.x + (along - from) * scale, box.bottom() - (up - low) * scale};
    }
};

class CourseView {
  public:
    /// `course` may be null. The spans are of what is to be seen, m along x, y and z; margins are added.
    CourseView(Canvas& canvas, const Course* course, Span x, Span y, Span z);

    /// The views of all rows, from the top.
    [[nodiscard]] const std::vector<Pane>& panes() const { return panes_; }
    /// Whether y is drawn along, since the course is longest that way.
    [[nodiscard]] bool turned() const { return turned_; }
    [[nodiscard]] PagePoint place(const Pane& pane, const glm::dvec3& p) const;
    /// Solids and zones; until `finish`, nothing is drawn outside the pane.
    void begin(const Pane& pane);
    /// The frame, scales and the name of the pane.
    void finish(const Pane& pane);
    /// Writes a name above a place, higher where other names are in the way.
    void label(const Pane& pane, PagePoint at, const std::string& name, Colour colour);
    /// Places that names have taken.
    [[nodiscard]] std::vector<Box>& labels() { return labels_; }

  private:
    void lay_out();
    void draw_solids(const Pane& pane);
    void draw_zones(const Pane& pane);
    void track(const Pane& pane, const Solid& solid);
    void scales(const Pane& pane);

    Canvas& canvas_;
    const Course* course_;
    Span along_, aside_, z_;
    bool turned_ = false;
    std::vector<Pane> panes_;
    std::vector<Box> labels_;
};

}  // namespace cursimeter::tool
