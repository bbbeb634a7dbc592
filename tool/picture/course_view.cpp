#include "picture/course_view.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "picture/outline.hpp"
#include "picture/style.hpp"

namespace cursimeter::tool {
namespace {

constexpr double right_margin = 20.0, top = 84.0, bottom_margin = 64.0;
constexpr double view_gap = 22.0, row_gap = 36.0;

}  // namespace

CourseView::CourseView(Canvas& canvas, const Course* course, Span x, Span y, Span z)
    : canvas_(canvas), course_(course) {
    turned_ = y.size() > x.size();
    along_ = turned_ ? y : x;
    aside_ = turned_ ? x : y;
    along_ = {along_.low - 2.0, along_.high + 2.0};
    aside_ = {aside_.low - 2.0, aside_.high + 2.0};
    z_ = {z.low - 1.2, z.high + 2.6};
    lay_out();
}

/// As many rows as make the drawing largest.
void CourseView::lay_out() {
    const double width = page_width - page_left - right_margin;
    int best_rows = 1;
    double best = 0.0;
    for (int rows = 1; rows <= 5; ++rows) {
        const double by_width = width * rows / along_.size();
        const double free = page_height - top - bottom_margin - rows * (view_gap + row_gap);
        const double by_height = free / (rows * (z_.size() + aside_.size()));
        const double scale = std::min(by_width, by_height);
        if (scale > best) {
            best = scale;
            best_rows = rows;
        }
    }
    const double length = along_.size() / best_rows;
    double y = top;
    for (int row = 0; row < best_rows; ++row) {
        const double from = along_.low + length * row;
        const Box side{page_left, y, length * best, z_.size() * best};
        const Box plan{page_left, side.bottom() + view_gap, length * best, aside_.size() * best};
        panes_.push_back({side, from, z_.low, best, true, row == 0});
        panes_.push_back({plan, from, aside_.low, best, false, row == 0});
        y = plan.bottom() + row_gap;
    }
}

PagePoint CourseView::place(const Pane& pane, const glm::dvec3& p) const {
    // From above, what lies to the left of the way is drawn above it.
    const double up = pane.from_side ? p.z : turned_ ? -p.x + aside_.low + aside_.high : p.y;
    return pane.at(turned_ ? p.y : p.x, up);
}

void CourseView::begin(const Pane& pane) {
    canvas_.fill(pane.box, panel);
    canvas_.clip(pane.box);
    draw_zones(pane);
    draw_solids(pane);
}

void CourseView::finish(const Pane& pane) {
    canvas_.unclip();
    canvas_.frame(pane.box, faint);
    scales(pane);
    if (pane.first) {
        canvas_.text({pane.box.x + 6, pane.box.y - 6}, pane.from_side ? "from the side" : "from above", ink,
                     12, Align::left, true);
    }
}

void CourseView::draw_solids(const Pane& pane) {
    if (course_ == nullptr) {
        return;
    }
    for (const Solid& solid : course_->solids()) {
        std::vector<PagePoint> corners;
        double highest = -1e300;
        for (const glm::dvec3& at : corners_of(solid)) {
            corners.push_back(place(pane, at));
            highest = std::max(highest, at.z);
        }
        if (!pane.from_side && highest < z_.low) {
            continue;  // the sea bed would cover everything
        }
        const bool moves = solid.platform >= 0;
        draw_solid(canvas_, std::move(corners), moves, pane.from_side ? 0.6 : 0.28);
        if (moves) {
            track(pane, solid);
        }
    }
}

void CourseView::track(const Pane& pane, const Solid& solid) {
    std::vector<PagePoint> points;
    for (const Point& point : course_->spec().platforms[static_cast<std::size_t>(solid.platform)].path) {
        points.push_back(place(pane, {point[0], point[1], point[2]}));
    }
    canvas_.polyline(points, lantern, 1.2, true);
}

void CourseView::draw_zones(const Pane& pane) {
    if (course_ == nullptr) {
        return;
    }
    for (const ZoneSpec& zone : course_->spec().zones) {
        const PagePoint a = place(pane, {zone.from[0], zone.from[1], zone.from[2]});
        const PagePoint b = place(pane, {zone.to[0], zone.to[1], zone.to[2]});
        const Box box{std::min(a.x, b.x), std::min(a.y, b.y), std::fabs(b.x - a.x), std::fabs(b.y - a.y)};
        canvas_.fill(box, sea.faded(0.10));
        canvas_.frame(box, sea.faded(0.35));
        const double middle = box.x + box.width / 2;
        if (pane.from_side && middle > pane.box.x && middle < pane.box.right()) {
            label(pane, {middle, std::max(box.y, pane.box.y + 30)}, zone.kind, sea);
        }
    }
}

void CourseView::label(const Pane& pane, PagePoint at, const std::string& name, Colour colour) {
    const double width = canvas_.text_width(name, 11);
    // A name that is wider than the pane begins at its left edge.
    const double leftmost = pane.box.x + width / 2 + 3;
    const double x = std::clamp(at.x, leftmost, std::max(leftmost, pane.box.right() - width / 2 - 3));
    for (int line = 0; line < 8; ++line) {
        const Box box{x - width / 2 - 2, at.y - 24.0 - 13.0 * line, width + 4, 13.0};
        const bool taken =
            box.y < pane.box.y || std::any_of(labels_.begin(), labels_.end(), [&](const Box& other) {
                return box.x < other.right() && other.x < box.right() && box.y < other.bottom() &&
                       other.y < box.bottom();
            });
        if (!taken) {
            canvas_.line({at.x, box.bottom() + 1}, {at.x, at.y - 4}, faint.faded(0.6), 0.8);
            canvas_.text({x, box.bottom() - 3}, name, colour, 11, Align::centre);
            labels_.push_back(box);
            return;
        }
    }
}

void CourseView::scales(const Pane& pane) {
    const double length = pane.box.width / pane.scale;
    const double step = round_step(length, 12.0);
    for (double at = std::ceil(pane.from / step) * step; at <= pane.from + length; at += step) {
        const double x = pane.at(at, 0.0).x;
        canvas_.line({x, pane.box.bottom()}, {x, pane.box.bottom() + 4}, faint);
        if (!pane.from_side) {
            canvas_.text({x, pane.box.bottom() + 15}, fmt::format("{:g} m", at + 0.0), faint, 10,
                         Align::centre);
        }
    }
    const double height = pane.box.height / pane.scale;
    const double rung = round_step(height, 3.0);
    for (double at = std::ceil(pane.low / rung) * rung; at <= pane.low + height; at += rung) {
        const double y = pane.at(0.0, at).y;
        canvas_.line({pane.box.x - 4, y}, {pane.box.x, y}, faint);
        canvas_.text({pane.box.x - 7, y + 4}, fmt::format("{:g}", at + 0.0), faint, 10, Align::right);
    }
}

}  // namespace cursimeter::tool
