#include "picture/canvas.hpp"

#include <cairo-svg.h>

#include <algorithm>
#include <array>

#include "files/call_files.hpp"
#include "files/files.hpp"
#include "files/png.hpp"

namespace cursimeter::tool {

Canvas::Canvas(const std::string& file, double width, double height)
    : file_(file),
      png_(picture_kind(file) == FileKind::png),
      surface_(png_ ? cairo_image_surface_create(CAIRO_FORMAT_RGB24, static_cast<int>(width),
                                                 static_cast<int>(height))
                    : cairo_svg_surface_create_for_stream(append_to_string, &bytes_, width, height)),
      context_(cairo_create(surface_.get())) {}

void Canvas::set(Colour colour, double line_width, bool dashed) {
    cairo_set_source_rgba(context_.get(), colour.red, colour.green, colour.blue, colour.alpha);
    cairo_set_line_width(context_.get(), line_width);
    const std::array<double, 2> dashes{5.0, 3.0};
    cairo_set_dash(context_.get(), dashes.data(), dashed ? 2 : 0, 0.0);
    cairo_set_line_join(context_.get(), CAIRO_LINE_JOIN_ROUND);
    cairo_new_path(context_.get());
}

void Canvas::fill(const Box& box, Colour colour) {
    set(colour);
    cairo_rectangle(context_.get(), box.x, box.y, box.width, box.height);
    cairo_fill(context_.get());
}

void Canvas::frame(const Box& box, Colour colour, double line_width) {
    set(colour, line_width);
    cairo_rectangle(context_.get(), box.x, box.y, box.width, box.height);
    cairo_stroke(context_.get());
}

void Canvas::line(PagePoint from, PagePoint to, Colour colour, double line_width, bool dashed) {
    polyline({from, to}, colour, line_width, dashed);
}

void Canvas::polyline(const std::vector<PagePoint>& points, Colour colour, double line_width, bool dashed) {
    set(colour, line_width, dashed);
    for (const PagePoint& point : points) {
        cairo_line_to(context_.get(), point.x, point.y);
    }
    cairo_stroke(context_.get());
}

void Canvas::polygon(const std::vector<PagePoint>& corners, Colour colour) {
    set(colour);
    for (const PagePoint& corner : corners) {
        cairo_line_to(context_.get(), corner.x, corner.y);
    }
    cairo_close_path(context_.get());
    cairo_fill(context_.get());
}

void Canvas::dot(PagePoint middle, double radius, Colour colour, Colour edge) {
    set(edge, 1.0);
    cairo_arc(context_.get(), middle.x, middle.y, radius, 0.0, 6.283185307179586);
    cairo_stroke_preserve(context_.get());
    cairo_set_source_rgba(context_.get(), colour.red, colour.green, colour.blue, colour.alpha);
    cairo_fill(context_.get());
}

void Canvas::capsule(const Box& box, Colour colour, Colour edge) {
    const double radius = std::min(box.width, box.height) / 2.0, x = box.x + box.width / 2.0;
    constexpr double pi = 3.141592653589793;
    set(edge, 1.5);
    cairo_arc(context_.get(), x, box.y + radius, radius, pi, 2.0 * pi);
    cairo_arc(context_.get(), x, box.bottom() - radius, radius, 0.0, pi);
    cairo_close_path(context_.get());
    cairo_stroke_preserve(context_.get());
    cairo_set_source_rgba(context_.get(), colour.red, colour.green, colour.blue, colour.alpha);
    cairo_fill(context_.get());
}

const unsigned char* Canvas::pixels() {
    cairo_surface_flush(surface_.get());
    return cairo_image_surface_get_data(surface_.get());
}
std::size_t Canvas::stride() const {
    return static_cast<std::size_t>(cairo_image_surface_get_stride(surface_.get()));
}

void Canvas::clip(const Box& box) {
    cairo_save(context_.get());
    cairo_new_path(context_.get());
    cairo_rectangle(context_.get(), box.x, box.y, box.width, box.height);
    cairo_clip(context_.get());
}

void Canvas::unclip() {
    cairo_restore(context_.get());
}

void Canvas::triangle(PagePoint tip, double size, bool up, Colour colour) {
    set(colour);
    const double base = tip.y + (up ? size : -size);
    cairo_move_to(context_.get(), tip.x, tip.y);
    cairo_line_to(context_.get(), tip.x - size * 0.6, base);
    cairo_line_to(context_.get(), tip.x + size * 0.6, base);
    cairo_close_path(context_.get());
    cairo_fill(context_.get());
}

void Canvas::font(double size, bool bold) {
    cairo_select_font_face(context_.get(), "DejaVu Sans", CAIRO_FONT_SLANT_NORMAL,
                           bold ? CAIRO_FONT_WEIGHT_BOLD : CAIRO_FONT_WEIGHT_NORMAL);
    cairo_set_font_size(context_.get(), size);
}

double Canvas::text_width(const std::string& text, double size, bool bold) {
    font(size, bold);
    cairo_text_extents_t extents;
    cairo_text_extents(context_.get(), text.c_str(), &extents);
    return extents.x_advance;
}

std::string Canvas::fitted(std::string text, double room, double size, bool bold) {
    if (text_width(text, size, bold) <= room) {
        return text;
    }
    const auto is_inside_letter = [](char byte) {
        return (static_cast<unsigned char>(byte) & 0xC0U) == 0x80U;
    };
    while (!text.empty() && text_width(text + "...", size, bold) > room) {
        while (is_inside_letter(text.back())) {  // cairo draws nothing more after half a letter of UTF-8
            text.pop_back();
        }
        text.pop_back();
    }
    return text + "...";
}

void Canvas::text(PagePoint at, const std::string& text, Colour colour, double size, Align align, bool bold) {
    const double width = text_width(text, size, bold);
    const double shift = align == Align::left ? 0.0 : align == Align::right ? width : width / 2.0;
    set(colour);
    cairo_move_to(context_.get(), at.x - shift, at.y);
    cairo_show_text(context_.get(), text.c_str());
}

void Canvas::save() {
    if (png_) {
        bytes_ = png_of(surface_.get(), file_);
    } else {
        cairo_surface_finish(surface_.get());
        check_drawn(cairo_surface_status(surface_.get()), file_);
    }
    write_text(file_, bytes_);
}

}  // namespace cursimeter::tool
