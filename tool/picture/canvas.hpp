#pragma once

#include <cairo.h>

#include <cursimeter/tryout/palette.hpp>
#include <memory>
#include <string>
#include <vector>

namespace cursimeter::tool {

using tryout::Colour;

/// Pixels, from the upper left corner.
struct PagePoint {
    double x = 0.0, y = 0.0;
};

struct Box {
    double x = 0.0, y = 0.0, width = 0.0, height = 0.0;
    [[nodiscard]] double right() const { return x + width; }
    [[nodiscard]] double bottom() const { return y + height; }
};

enum class Align { left, centre, right };

/// A page to draw on with cairo, in points from the top left corner; becomes a PNG or an SVG file.
class Canvas {
  public:
    Canvas(const std::string& file, double width, double height);
    Canvas(const Canvas&) = delete;
    Canvas& operator=(const Canvas&) = delete;
    ~Canvas() = default;

    void fill(const Box& box, Colour colour);
    void frame(const Box& box, Colour colour, double line_width = 1.0);
    void line(PagePoint from, PagePoint to, Colour colour, double line_width = 1.0, bool dashed = false);
    void polyline(const std::vector<PagePoint>& points, Colour colour, double line_width,
                  bool dashed = false);
    void polygon(const std::vector<PagePoint>& corners, Colour colour);
    void dot(PagePoint middle, double radius, Colour colour, Colour edge);
    /// Until `unclip`, nothing is drawn outside the box.
    void clip(const Box& box);
    void unclip();
    void triangle(PagePoint tip, double size, bool up, Colour colour);
    /// `at` is on the base line.
    void text(PagePoint at, const std::string& text, Colour colour, double size = 13.0,
              Align align = Align::left, bool bold = false);
    [[nodiscard]] double text_width(const std::string& text, double size, bool bold = false);
    /// The text, or as much of its beginning as fits into the room, and "...".
    [[nodiscard]] std::string fitted(std::string text, double room, double size, bool bold = false);

    /// An upright capsule that fills the box.
    void capsule(const Box& box, Colour colour, Colour edge);

    /// The pixels of a PNG so far, rows from the top: blue, green, red and one more byte each. Drawing may go on.
    [[nodiscard]] const unsigned char* pixels();
    [[nodiscard]] std::size_t stride() const;

    /// Finishes the file, replacing an old one. Throws ChartError if it cannot be written.
    void save();

  private:
    void set(Colour colour, double line_width = 1.0, bool dashed = false);
    void font(double size, bool bold);

    struct SurfaceEnd {
        void operator()(cairo_surface_t* surface) const { cairo_surface_destroy(surface); }
    };
    struct ContextEnd {
        void operator()(cairo_t* context) const { cairo_destroy(context); }
    };
    std::string file_;
    bool png_;
    std::string bytes_;  ///< of the file
    std::unique_ptr<cairo_surface_t, SurfaceEnd> surface_;
    std::unique_ptr<cairo_t, ContextEnd> context_;
};

}  // namespace cursimeter::tool
