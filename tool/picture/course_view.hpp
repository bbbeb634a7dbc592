#pragma once

#include <cursimeter/course/course.hpp>
#include <string>
#include <vector>

#include "picture/canvas.hpp"

/// A course from the side and from above, in as many rows as give the largest scale: the ground on which paths and places are drawn.
namespace cursimeter::tool {

inline constexpr double page_width = 1280.0, page_height = 800.0;
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
struct View {
    Box box;
    double from = 0.0;   ///< m along, at the left edge
    double low = 0.0;    ///< m, at the lower edge
    double scale = 1.0;  ///< points per metre
    bool from_side = false;
    bool first = false;  ///< of its kind

    [[nodiscard]] Point at(double along, double up) const {
        return {box.x + (along - from) * scale, box.bottom() - (up - low) * scale};
    }
};

class CourseView {
  public:
    /// `course` may be null. The spans are of what is to be seen, m along x, y and z; margins are added.
    CourseView(Canvas& canvas, const Course* course, Span x, Span y, Span z);

    /// The views of all rows, from the top.
    [[nodiscard]] const std::vector<View>& views() const { return views_; }
    /// Whether y is drawn along, since the course is longest that way.
    [[nodiscard]] bool turned() const { return turned_; }
    [[nodiscard]] Point place(const View& view, const glm::dvec3& p) const;
    /// Solids and zones; until `finish`, nothing is drawn outside the view.
    void begin(const View& view);
    /// The frame, scales and the name of the view.
    void finish(const View& view);
    /// Writes a name above a place, higher where other names are in the way.
    void label(const View& view, Point at, const std::string& name, Colour colour);
    /// Places that names have taken.
    [[nodiscard]] std::vector<Box>& labels() { return labels_; }

  private:
    void lay_out();
    void draw_solids(const View& view);
    void draw_zones(const View& view);
    void track(const View& view, const Solid& solid);
    void scales(const View& view);

    Canvas& canvas_;
    const Course* course_;
    Span along_, aside_, z_;
    bool turned_ = false;
    std::vector<View> views_;
    std::vector<Box> labels_;
};

}  // namespace cursimeter::tool
