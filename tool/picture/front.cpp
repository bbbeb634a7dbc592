#include "picture/front.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "picture/canvas.hpp"
#include "picture/style.hpp"

namespace cursimeter::tool {
namespace {

/// The values of one figure, and where they lie along an edge of the picture.
class Scale {
  public:
    Scale(const SweepPicture& sweep, std::size_t figure, double from, double to) : from_(from), to_(to) {
        double least = sweep.figures[figure].value, most = least;
        for (const survey::SweepRow& row : sweep.rows) {
            const double value = row.values[figure];
            if (std::isfinite(value)) {
                least = std::isfinite(least) ? std::min(least, value) : value;
                most = std::isfinite(most) ? std::max(most, value) : value;
            }
        }
        const double margin = most > least ? 0.05 * (most - least) : 0.1 * std::max(1.0, std::fabs(most));
        least_ = least - margin;
        most_ = most + margin;
    }
    [[nodiscard]] double at(double value) const {
        return from_ + (to_ - from_) * (value - least_) / (most_ - least_);
    }
    [[nodiscard]] std::vector<double> marks() const {
        std::vector<double> values;
        const double step = round_step(most_ - least_, 7.0);
        for (double value = std::ceil(least_ / step) * step; value <= most_; value += step) {
            values.push_back(std::fabs(value) < 1e-9 * step ? 0.0 : value);
        }
        return values;
    }

  private:
    double from_, to_;
    double least_ = 0.0, most_ = 1.0;
};

std::string axis_text(const survey::Figure& figure, const survey::Preference& preference) {
    return fmt::format("{}{}: {} is better", figure.name, figure.unit.empty() ? "" : " (" + figure.unit + ")",
                       preference.more ? "more" : "less");
}

}  // namespace

void draw_front(const SweepPicture& sweep, const survey::Preference& across, const survey::Preference& up,
                const std::string& file) {
    Canvas canvas(file, page_width, page_height);
    canvas.fill({0, 0, page_width, page_height}, paper);
    const std::vector<std::size_t> best = survey::best_rows(sweep.rows, across, up);
    canvas.text({40, 36}, sweep.chart, ink, 22, Align::left, true);
    canvas.text({40 + canvas.text_width(sweep.chart, 22, true) + 12, 36},
                fmt::format("{} rows; no other beats the {} on the line in both figures", sweep.rows.size(),
                            best.size()),
                ink, 15);
    const Box box{100, 84, page_width - 150, page_height - 84 - 76};
    canvas.fill(box, panel);
    const Scale x(sweep, across.figure, box.x, box.right()), y(sweep, up.figure, box.bottom(), box.y);
    for (const double value : x.marks()) {
        canvas.line({x.at(value), box.y}, {x.at(value), box.bottom()}, grid);
        canvas.text({x.at(value), box.bottom() + 18}, fmt::format("{:g}", value), faint, 12, Align::centre);
    }
    for (const double value : y.marks()) {
        canvas.line({box.x, y.at(value)}, {box.right(), y.at(value)}, grid);
        canvas.text({box.x - 8, y.at(value) + 4}, fmt::format("{:g}", value), faint, 12, Align::right);
    }
    canvas.frame(box, faint);
    canvas.text({box.x, box.y - 12}, axis_text(sweep.figures[up.figure], up), ink, 14, Align::left, true);
    canvas.text({box.right(), box.bottom() + 44}, axis_text(sweep.figures[across.figure], across), ink, 14,
                Align::right, true);
    const auto place = [&](const std::vector<double>& values) {
        return PagePoint{x.at(values[across.figure]), y.at(values[up.figure])};
    };
    for (const survey::SweepRow& row : sweep.rows) {
        if (std::isfinite(row.values[across.figure]) && std::isfinite(row.values[up.figure])) {
            canvas.dot(place(row.values), 2.5, faint, faint);
        }
    }
    std::vector<PagePoint> front;
    for (const std::size_t row : best) {
        front.push_back(place(sweep.rows[row].values));
    }
    canvas.polyline(front, lantern, 2.0);
    for (const PagePoint& point : front) {
        canvas.dot(point, 4.5, lantern, ink);
    }
    const double now_x = sweep.figures[across.figure].value, now_y = sweep.figures[up.figure].value;
    if (std::isfinite(now_x) && std::isfinite(now_y)) {
        const PagePoint now{x.at(now_x), y.at(now_y)};
        canvas.dot(now, 6.0, sea, ink);
        const std::string label = "the chart as it is";
        const double width = canvas.text_width(label, 13, true);
        const bool at_right = now.x > box.right() - width - 24;
        const double left = at_right ? now.x - 12 - width : now.x + 12;
        canvas.fill({left - 3, now.y - 9, width + 6, 18}, panel);
        canvas.text({left, now.y + 5}, label, sea, 13, Align::left, true);
    }
    canvas.save();
}

}  // namespace cursimeter::tool
