#include "picture/scout.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "picture/course_view.hpp"
#include "picture/marks.hpp"
#include "picture/style.hpp"

namespace cursimeter::tool {
namespace {

constexpr std::size_t bands = 8;
constexpr Colour trap{0.55, 0.57, 0.60, 0.35};

/// From the sea's blue over grey to the lantern's yellow.
Colour band_colour(std::size_t band) {
    const double part = static_cast<double>(band) / (bands - 1);
    const auto mixed = [&](double a, double b) { return a + (b - a) * part; };
    return {mixed(sea.red, lantern.red), mixed(sea.green, lantern.green), mixed(sea.blue, lantern.blue),
            0.55};
}

CourseView ground_of(Canvas& canvas, const ScoutPicture& picture) {
    Span x, y, z;
    const auto take = [&](double px, double py, double pz) {
        x.take(px);
        y.take(py);
        z.take(pz);
    };
    for (const survey::ReachedPlace& place : picture.found.places) {
        if (place.returns) {
            take(place.middle[0], place.middle[1], place.middle[2]);
        }
    }
    if (picture.way != nullptr) {
        for (const survey::Sample& sample : picture.way->samples) {
            take(sample.position.x, sample.position.y, sample.position.z);
        }
    }
    const Point& first = picture.found.places.front().middle;
    take(first[0] - 1.0, first[1] - 1.0, first[2]);
    take(first[0] + 1.0, first[1] + 1.0, first[2]);
    return {canvas, picture.course, x, y, z};
}

class Drawing {
  public:
    Drawing(const ScoutPicture& picture, const std::string& file)
        : picture_(picture), canvas_(file, page_width, page_height), ground_(ground_of(canvas_, picture)) {
        for (const survey::ReachedPlace& place : picture.found.places) {
            if (place.returns) {
                longest_ = std::max(longest_, place.seconds);
            }
        }
        step_ = round_step(std::max(longest_, 0.1), static_cast<double>(bands - 1));
    }

    void draw() {
        canvas_.fill({0, 0, page_width, page_height}, paper);
        draw_heading(canvas_, page_left, picture_.chart.name(), picture_.subject);
        canvas_.text({page_left, 56}, sums(), faint, 12);
        for (const Pane& pane : ground_.panes()) {
            ground_.begin(pane);
            places(pane);
            way(pane);
            ground_.finish(pane);
        }
        legend();
        canvas_.save();
    }

  private:
    [[nodiscard]] std::string sums() const {
        const auto traps = std::count_if(picture_.found.places.begin(), picture_.found.places.end(),
                                         [](const survey::ReachedPlace& place) { return !place.returns; });
        return fmt::format("{} places to stand, in cells of {:g} m; from {} of them no way back was seen",
                           picture_.found.places.size(), picture_.cell, traps);
    }

    [[nodiscard]] std::size_t band_of(double seconds) const {
        return std::min(bands - 1, static_cast<std::size_t>(seconds / step_));
    }

    void places(const Pane& pane) {
        const double size = std::max(1.5, picture_.cell * pane.scale);
        // The late ones first, so that what can be reached early is on top.
        for (auto place = picture_.found.places.rbegin(); place != picture_.found.places.rend(); ++place) {
            const PagePoint at = ground_.place(pane, {place->middle[0], place->middle[1], place->middle[2]});
            const Box box{at.x - size / 2, at.y - size / 2, size, pane.from_side ? 0.6 * size : size};
            if (box.right() > pane.box.x && box.x < pane.box.right() && box.bottom() > pane.box.y &&
                box.y < pane.box.bottom()) {
                canvas_.fill(box, place->returns ? band_colour(band_of(place->seconds)) : trap);
            }
        }
    }

    void way(const Pane& pane) {
        if (picture_.way == nullptr) {
            return;
        }
        std::vector<PagePoint> line;
        for (const survey::Sample& sample : picture_.way->samples) {
            line.push_back(ground_.place(pane, sample.position));
        }
        canvas_.polyline(line, panel, 4.0);
        canvas_.polyline(line, ink, 2.0);
        for (const survey::Visit& visit : picture_.way->visits) {
            const auto sample =
                std::lower_bound(picture_.way->samples.begin(), picture_.way->samples.end(), visit.at,
                                 [](const survey::Sample& s, double at) { return s.at < at; });
            if (sample != picture_.way->samples.end()) {
                canvas_.dot(ground_.place(pane, sample->position), 3.0, colour_of(visit.state), ink);
            }
        }
    }

    void legend() {
        double x = page_left;
        const double y = page_height - 16;
        canvas_.text({x, y}, "reached within", ink, 12);
        x += canvas_.text_width("reached within", 12) + 12;
        for (std::size_t i = 0; i <= band_of(longest_); ++i) {
            const std::string text = fmt::format("{:g} s", step_ * static_cast<double>(i + 1));
            canvas_.fill({x, y - 10, 18, 10}, band_colour(i));
            canvas_.text({x + 23, y}, text, ink, 12);
            x += canvas_.text_width(text, 12) + 38;
        }
        canvas_.fill({x, y - 10, 18, 10}, trap);
        canvas_.text({x + 23, y}, "no way back seen", ink, 12);
        x += canvas_.text_width("no way back seen", 12) + 48;
        if (picture_.way != nullptr) {
            canvas_.line({x, y - 5}, {x + 22, y - 5}, ink, 2.0);
            canvas_.text({x + 28, y}, "the fastest way found, a dot where a state begins", ink, 12);
        }
    }

    const ScoutPicture& picture_;
    Canvas canvas_;
    CourseView ground_;
    double longest_ = 0.0, step_ = 1.0;  ///< s
};

}  // namespace

void draw_scout(const ScoutPicture& picture, const std::string& file) {
    Drawing(picture, file).draw();
}

}  // namespace cursimeter::tool
