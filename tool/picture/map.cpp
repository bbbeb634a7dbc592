#include "picture/map.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "picture/outline.hpp"
#include "picture/style.hpp"

namespace cursimeter::tool {
namespace {

constexpr double page_width = 1280.0, page_height = 800.0;
constexpr double left = 56.0, right_margin = 20.0, top = 84.0, bottom_margin = 64.0;
constexpr double view_gap = 22.0, row_gap = 36.0;

/// A window on the world: metres along the course to the right, height or width upward.
struct View {
    Box box;
    double from = 0.0;   ///< m along, at the left edge
    double low = 0.0;    ///< m, at the lower edge
    double scale = 1.0;  ///< points per metre

    [[nodiscard]] Point at(double along, double up) const {
        return {box.x + (along - from) * scale, box.bottom() - (up - low) * scale};
    }
};

struct Span {
    double low = 1e300, high = -1e300;
    void take(double value) {
        low = std::min(low, value);
        high = std::max(high, value);
    }
    [[nodiscard]] double size() const { return high - low; }
};

class MapPicture {
  public:
    MapPicture(const RunResult& result, const std::string& file)
        : chart_(result.chart), run_(result.run), result_(result), canvas_(file, page_width, page_height) {
        for (const survey::Sample& sample : run_.samples) {
            x_.take(sample.position.x);
            y_.take(sample.position.y);
            z_.take(sample.position.z);
        }
        turned_ = y_.size() > x_.size();
        along_ = turned_ ? y_ : x_;
        aside_ = turned_ ? x_ : y_;
        along_ = {along_.low - 2.0, along_.high + 2.0};
        aside_ = {aside_.low - 2.0, aside_.high + 2.0};
        z_ = {z_.low - 1.2, z_.high + 2.6};
    }

    void draw() {
        canvas_.fill({0, 0, page_width, page_height}, paper);
        heading();
        choose_rows();
        const double length = along_.size() / rows_;
        const double side_height = z_.size() * scale_, plan_height = aside_.size() * scale_;
        double y = top;
        for (int row = 0; row < rows_; ++row) {
            const double from = along_.low + length * row;
            const double width = length * scale_;
            View side{{left, y, width, side_height}, from, z_.low, scale_};
            View plan{{left, y + side_height + view_gap, width, plan_height}, from, aside_.low, scale_};
            draw_view(side, true, row == 0);
            draw_view(plan, false, row == 0);
            y = plan.box.bottom() + row_gap;
        }
        legend();
        canvas_.save();
    }

  private:
    /// As many rows as make the drawing largest.
    void choose_rows() {
        const double width = page_width - left - right_margin;
        for (int rows = 1; rows <= 5; ++rows) {
            const double by_width = width * rows / along_.size();
            const double free = page_height - top - bottom_margin - rows * (view_gap + row_gap);
            const double by_height = free / (rows * (z_.size() + aside_.size()));
            const double scale = std::min(by_width, by_height);
            if (scale > scale_) {
                scale_ = scale;
                rows_ = rows;
            }
        }
    }

    void heading() {
        canvas_.text({left, 34}, chart_.name(), ink, 22, Align::left, true);
        const double after = left + canvas_.text_width(chart_.name(), 22, true) + 12;
        canvas_.text({after, 34},
                     fmt::format("{} over \"{}\", {:g} s at {:g} ticks a second", result_.drill,
                                 result_.course ? result_.course->spec().name : "open ground", run_.seconds,
                                 result_.rate),
                     ink, 15);
        std::string legs;
        for (const survey::LegTime& leg : run_.legs) {
            const double seconds = leg.ended - leg.begun;
            legs += fmt::format("{}{} {}", legs.empty() ? "" : "   ", leg.name,
                                std::isnan(seconds) ? "not finished" : fmt::format("{:.2f} s", seconds));
        }
        canvas_.text({left, 56}, legs, faint, 12);
    }

    void draw_view(const View& view, bool from_side, bool name_it) {
        canvas_.fill(view.box, panel);
        canvas_.clip(view.box);
        draw_zones(view, from_side);
        draw_solids(view, from_side);
        gates(view, from_side);
        path(view, from_side);
        canvas_.unclip();
        canvas_.frame(view.box, faint);
        scales(view, from_side);
        if (name_it) {
            canvas_.text({view.box.x + 6, view.box.y - 6}, from_side ? "from the side" : "from above", ink,
                         12, Align::left, true);
        }
    }

    [[nodiscard]] double along_of(const glm::dvec3& p) const { return turned_ ? p.y : p.x; }
    /// From above, what lies to the left of the way is drawn above it.
    [[nodiscard]] double up_of(const glm::dvec3& p, bool from_side) const {
        return from_side ? p.z : turned_ ? -p.x + aside_.low + aside_.high : p.y;
    }
    [[nodiscard]] Point place(const View& view, const glm::dvec3& p, bool from_side) const {
        return view.at(along_of(p), up_of(p, from_side));
    }

    void draw_solids(const View& view, bool from_side) {
        if (!result_.course) {
            return;
        }
        for (const Solid& solid : result_.course->solids()) {
            std::vector<Point> corners;
            double highest = -1e300;
            for (const glm::dvec3& at : corners_of(solid)) {
                corners.push_back(place(view, at, from_side));
                highest = std::max(highest, at.z);
            }
            if (!from_side && highest < z_.low) {
                continue;  // the sea bed would cover everything
            }
            const bool moves = solid.platform >= 0;
            draw_solid(canvas_, std::move(corners), moves, from_side ? 0.6 : 0.28);
            if (moves) {
                track(view, solid, from_side);
            }
        }
    }

    void track(const View& view, const Solid& solid, bool from_side) {
        std::vector<Point> points;
        for (const cursimeter::Point& point :
             result_.course->spec().platforms[static_cast<std::size_t>(solid.platform)].path) {
            points.push_back(place(view, {point[0], point[1], point[2]}, from_side));
        }
        canvas_.polyline(points, lantern, 1.2, true);
    }

    void draw_zones(const View& view, bool from_side) {
        if (!result_.course) {
            return;
        }
        for (const ZoneSpec& zone : result_.course->spec().zones) {
            const Point a = place(view, {zone.from[0], zone.from[1], zone.from[2]}, from_side);
            const Point b = place(view, {zone.to[0], zone.to[1], zone.to[2]}, from_side);
            const Box box{std::min(a.x, b.x), std::min(a.y, b.y), std::fabs(b.x - a.x), std::fabs(b.y - a.y)};
            canvas_.fill(box, sea.faded(0.10));
            canvas_.frame(box, sea.faded(0.35));
            const double middle = box.x + box.width / 2;
            if (from_side && middle > view.box.x && middle < view.box.right()) {
                label(view, {middle, std::max(box.y, view.box.y + 30)}, zone.kind, sea);
            }
        }
    }

    /// Where legs end, with their names. A leg that others make up is not named again.
    void gates(const View& view, bool from_side) {
        for (const survey::LegTime& leg : run_.legs) {
            const auto found =
                std::find_if(result_.course->spec().legs.begin(), result_.course->spec().legs.end(),
                             [&](const LegSpec& spec) { return spec.name == leg.name; });
            const cursimeter::Point& foot = found->finish.from;
            const double x = view.at(turned_ ? foot[1] : foot[0], 0.0).x;
            canvas_.line({x, view.box.y}, {x, view.box.bottom()}, faint.faded(0.6), 1.0, true);
            const double width = canvas_.text_width(leg.name, 11);
            const Box box{x - width - 6, view.box.y + 3, width + 4, 13.0};
            const bool named = !labels_.empty() && labels_.back().x <= box.right() &&
                               labels_.back().right() >= box.x && labels_.back().y == box.y;
            if (from_side && x > view.box.x && x < view.box.right() && !named) {
                const bool fits = box.x > view.box.x;
                canvas_.text({fits ? x - 4 : x + 4, view.box.y + 14}, leg.name, faint, 11,
                             fits ? Align::right : Align::left);
                labels_.push_back(box);
            }
        }
    }

    void path(const View& view, bool from_side) {
        std::vector<Point> line;
        for (std::size_t i = 0; i < run_.samples.size(); ++i) {
            line.push_back(place(view, run_.samples[i].position, from_side));
            const bool last = i + 1 == run_.samples.size();
            if (last || run_.samples[i + 1].state != run_.samples[i].state) {
                if (!last) {
                    line.push_back(place(view, run_.samples[i + 1].position, from_side));
                }
                canvas_.polyline(line, colour_of(run_.samples[i].state), 3.0);
                line.clear();
                if (!last) {
                    line.push_back(place(view, run_.samples[i + 1].position, from_side));
                }
            }
        }
        marks(view, from_side);
    }

    /// A dot where a state begins; from the side also its name, where there is room for it.
    void marks(const View& view, bool from_side) {
        for (const survey::Visit& visit : run_.visits) {
            const auto sample =
                std::lower_bound(run_.samples.begin(), run_.samples.end(), visit.at,
                                 [](const survey::Sample& s, double at) { return s.at < at; });
            if (sample == run_.samples.end()) {
                continue;
            }
            const Point at = place(view, sample->position, from_side);
            canvas_.dot(at, 3.5, colour_of(visit.state), ink);
            if (from_side && at.x >= view.box.x - 1 && at.x <= view.box.right() + 1) {
                label(view, at, chart_.name(visit.state), ink);
            }
        }
    }

    /// Writes a name above a place, higher where other names are in the way.
    void label(const View& view, Point at, const std::string& name, Colour colour) {
        const double width = canvas_.text_width(name, 11);
        const double x = std::clamp(at.x, view.box.x + width / 2 + 3, view.box.right() - width / 2 - 3);
        for (int line = 0; line < 8; ++line) {
            const Box box{x - width / 2 - 2, at.y - 24.0 - 13.0 * line, width + 4, 13.0};
            const bool taken =
                box.y < view.box.y || std::any_of(labels_.begin(), labels_.end(), [&](const Box& other) {
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

    void scales(const View& view, bool from_side) {
        const double length = view.box.width / view.scale;
        const double step = round_step(length, 12.0);
        for (double at = std::ceil(view.from / step) * step; at <= view.from + length; at += step) {
            const double x = view.at(at, 0.0).x;
            canvas_.line({x, view.box.bottom()}, {x, view.box.bottom() + 4}, faint);
            if (!from_side) {
                canvas_.text({x, view.box.bottom() + 15}, fmt::format("{:g} m", at + 0.0), faint, 10,
                             Align::centre);
            }
        }
        const double height = view.box.height / view.scale;
        const double rung = round_step(height, 3.0);
        for (double at = std::ceil(view.low / rung) * rung; at <= view.low + height; at += rung) {
            const double y = view.at(0.0, at).y;
            canvas_.line({view.box.x - 4, y}, {view.box.x, y}, faint);
            canvas_.text({view.box.x - 7, y + 4}, fmt::format("{:g}", at + 0.0), faint, 10, Align::right);
        }
    }

    void legend() {
        double x = left;
        const double y = page_height - 16;
        for (std::uint8_t i = 0; i < chart_.state_count(); ++i) {
            const std::string& name = chart_.name(StateId{i});
            canvas_.fill({x, y - 10, 18, 10}, colour_of(StateId{i}));
            canvas_.text({x + 23, y}, name, ink, 12);
            x += canvas_.text_width(name, 12) + 42;
        }
    }

    const Chart& chart_;
    const survey::Run& run_;
    const RunResult& result_;
    Canvas canvas_;
    Span x_, y_, z_, along_, aside_;
    bool turned_ = false;
    int rows_ = 1;
    double scale_ = 0.0;
    std::vector<Box> labels_;  ///< places that names have taken
};

}  // namespace

void draw_map(const RunResult& result, const std::string& file) {
    MapPicture(result, file).draw();
}

}  // namespace cursimeter::tool
