#include "picture/sweep.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

#include "picture/canvas.hpp"
#include "picture/style.hpp"

namespace cursimeter::tool {
namespace {

struct Range {
    double least = std::numeric_limits<double>::infinity(), most = -least;
    void add(double value) {
        if (std::isfinite(value)) {
            least = std::min(least, value);
            most = std::max(most, value);
        }
    }
    [[nodiscard]] bool empty() const { return !(most >= least); }
    [[nodiscard]] double part(double value) const {
        return most > least ? (value - least) / (most - least) : 0.5;
    }
};

/// From dark to light, of even steps in lightness, so that it reads in grey and to colour-blind readers.
Colour scale(double part) {
    constexpr std::array<Colour, 5> steps{
        {{0.05, 0.12, 0.25}, {0.0, 0.33, 0.53}, {0.13, 0.57, 0.55}, {0.62, 0.76, 0.42}, {0.98, 0.90, 0.50}}};
    const double at = std::clamp(part, 0.0, 1.0) * 4.0;
    const auto low = std::min<std::size_t>(static_cast<std::size_t>(at), 3);
    const double between = at - static_cast<double>(low);
    const auto mix = [&](double a, double b) { return a + (b - a) * between; };
    return {mix(steps[low].red, steps[low + 1].red), mix(steps[low].green, steps[low + 1].green),
            mix(steps[low].blue, steps[low + 1].blue)};
}

class SweepDrawing {
  public:
    SweepDrawing(const SweepPicture& sweep, const std::string& file)
        : sweep_(sweep), canvas_(file, page_width, page_height) {}

    void draw() {
        canvas_.fill({0, 0, page_width, page_height}, paper);
        canvas_.text({40, 36}, sweep_.chart, ink, 22, Align::left, true);
        const double after = 40 + canvas_.text_width(sweep_.chart, 22, true) + 12;
        std::string over = sweep_.axes[0].path;
        over += sweep_.axes.size() > 1 ? " and " + sweep_.axes[1].path : "";
        canvas_.text({after, 36}, "over " + over, ink, 15);
        const std::size_t count = std::min<std::size_t>(sweep_.figures.size(), 6);
        const std::size_t columns = count <= 1 ? 1 : count <= 4 ? 2 : 3;
        const std::size_t rows = (count + columns - 1) / columns;
        const double width = (page_width - 40.0) / static_cast<double>(columns);
        const double height = (page_height - 70.0) / static_cast<double>(rows);
        for (std::size_t i = 0; i < count; ++i) {
            const Box cell{20.0 + width * static_cast<double>(i % columns),
                           55.0 + height * static_cast<double>(i / columns), width, height};
            const Box box{cell.x + 70, cell.y + 36, cell.width - 70 - (sweep_.axes.size() > 1 ? 105 : 30),
                          cell.height - 90};
            const survey::Figure& figure = sweep_.figures[i];
            canvas_.text({box.x, box.y - 12}, figure.name, ink, 15, Align::left, true);
            canvas_.text({box.x + canvas_.text_width(figure.name, 15, true) + 8, box.y - 12}, figure.unit,
                         faint, 12);
            sweep_.axes.size() > 1 ? heat(box, i) : line(box, i);
        }
        canvas_.save();
    }

  private:
    [[nodiscard]] Range range_of(std::size_t figure) const {
        Range range;
        for (const survey::SweepRow& row : sweep_.rows) {
            range.add(row.values[figure]);
        }
        return range;
    }

    std::string axis_name(std::size_t axis) const {
        return sweep_.axes[axis].path + (sweep_.units[axis].empty() ? "" : " (" + sweep_.units[axis] + ")");
    }

    void line(const Box& box, std::size_t figure) {
        Range range = range_of(figure);
        canvas_.fill(box, panel);
        if (range.empty()) {
            canvas_.text({box.x + box.width / 2, box.y + box.height / 2}, "no value anywhere", faint, 13,
                         Align::centre);
            canvas_.frame(box, faint);
            return;
        }
        const double margin = range.most > range.least ? 0.06 * (range.most - range.least)
                                                       : std::max(1.0, std::fabs(range.most)) * 0.1;
        range.least = range.least >= 0.0 && range.least < margin * 4 ? 0.0 : range.least - margin;
        range.most += margin;
        const survey::SweepAxis& axis = sweep_.axes[0];
        const double last = axis.at(axis.count() - 1);
        const auto x_of = [&](double value) {
            return box.x + box.width * (last > axis.from ? (value - axis.from) / (last - axis.from) : 0.5);
        };
        const auto y_of = [&](double value) { return box.bottom() - box.height * range.part(value); };
        const double y_step = round_step(range.most - range.least, 5.0);
        for (double value = std::ceil(range.least / y_step) * y_step; value <= range.most; value += y_step) {
            canvas_.line({box.x, y_of(value)}, {box.right(), y_of(value)}, grid);
            canvas_.text({box.x - 8, y_of(value) + 4},
                         fmt::format("{:g}", std::fabs(value) < 1e-9 ? 0.0 : value), faint, 11, Align::right);
        }
        const double x_step = round_step(std::max(last - axis.from, 1e-9), 8.0);
        for (double value = std::ceil(axis.from / x_step - 1e-9) * x_step; value <= last * (1 + 1e-9);
             value += x_step) {
            canvas_.line({x_of(value), box.y}, {x_of(value), box.bottom()}, grid);
            canvas_.text({x_of(value), box.bottom() + 17}, fmt::format("{:g}", value), faint, 11,
                         Align::centre);
        }
        canvas_.text({box.x + box.width / 2, box.bottom() + 36}, axis_name(0), ink, 12, Align::centre);
        if (sweep_.own[0] && *sweep_.own[0] >= axis.from && *sweep_.own[0] <= last) {
            const double x = x_of(*sweep_.own[0]);
            canvas_.line({x, box.y}, {x, box.bottom()}, lantern, 1.5, true);
            canvas_.text({x + 5, box.y + 14}, "as it is", lantern, 11);
        }
        std::vector<PagePoint> points;
        const auto flush = [&] {
            if (points.size() > 1) {
                canvas_.polyline(points, sea, 2.2);
            }
            points.clear();
        };
        for (const survey::SweepRow& row : sweep_.rows) {
            if (!std::isfinite(row.values[figure])) {
                flush();
                continue;
            }
            points.push_back({x_of(row.at[0]), y_of(row.values[figure])});
        }
        flush();
        for (const survey::SweepRow& row : sweep_.rows) {
            if (std::isfinite(row.values[figure]) && sweep_.rows.size() <= 60) {
                canvas_.dot({x_of(row.at[0]), y_of(row.values[figure])}, 3.0, sea, panel);
            }
        }
        canvas_.frame(box, faint);
    }

    void heat(const Box& box, std::size_t figure) {
        const Range range = range_of(figure);
        const std::size_t across = sweep_.axes[0].count(), up = sweep_.axes[1].count();
        const double width = box.width / static_cast<double>(across),
                     height = box.height / static_cast<double>(up);
        canvas_.fill(box, grid);
        for (std::size_t i = 0; i < across; ++i) {
            for (std::size_t k = 0; k < up; ++k) {
                const double value = sweep_.rows[i * up + k].values[figure];
                const Box cell{box.x + width * static_cast<double>(i),
                               box.bottom() - height * static_cast<double>(k + 1), width, height};
                if (!std::isfinite(value)) {
                    continue;
                }
                const double part = range.part(value);
                canvas_.fill({cell.x, cell.y, cell.width + 0.5, cell.height + 0.5}, scale(part));
                const std::string text = fmt::format("{:.3g}", value);
                if (canvas_.text_width(text, 10) < width - 4 && height > 14) {
                    canvas_.text({cell.x + width / 2, cell.y + height / 2 + 4}, text,
                                 part > 0.62 ? ink : paper, 10, Align::centre);
                }
            }
        }
        const auto ticks = [&](std::size_t axis, std::size_t count, double room, auto&& put) {
            const auto every = static_cast<std::size_t>(std::max(1.0, std::ceil(room)));
            for (std::size_t i = 0; i < count; i += every) {
                put(i, fmt::format("{:g}", sweep_.axes[axis].at(i)));
            }
        };
        ticks(0, across, 40.0 / width, [&](std::size_t i, const std::string& text) {
            canvas_.text({box.x + width * (static_cast<double>(i) + 0.5), box.bottom() + 17}, text, faint, 11,
                         Align::centre);
        });
        ticks(1, up, 14.0 / height, [&](std::size_t k, const std::string& text) {
            canvas_.text({box.x - 8, box.bottom() - height * (static_cast<double>(k) + 0.5) + 4}, text, faint,
                         11, Align::right);
        });
        canvas_.text({box.x + box.width / 2, box.bottom() + 36}, axis_name(0), ink, 12, Align::centre);
        canvas_.text({box.x - 60, box.bottom() + 52}, "upward: " + axis_name(1), ink, 12);
        canvas_.frame(box, faint);
        legend(box, range);
        own_mark(box, width, height);
    }

    void legend(const Box& box, const Range& range) {
        if (range.empty()) {
            return;
        }
        const Box bar{box.right() + 18, box.y, 16, box.height};
        for (int i = 0; i < 100; ++i) {
            const double part = i / 100.0;
            canvas_.fill(
                {bar.x, bar.bottom() - bar.height * (part + 0.01), bar.width, bar.height * 0.01 + 0.6},
                scale(part));
        }
        canvas_.frame(bar, faint);
        for (int i = 0; i <= 4; ++i) {
            const double part = i / 4.0;
            canvas_.text({bar.right() + 6, bar.bottom() - bar.height * part + 4},
                         fmt::format("{:.4g}", range.least + (range.most - range.least) * part), faint, 11);
        }
    }

    /// A frame around the cell that the chart itself is nearest to.
    void own_mark(const Box& box, double width, double height) {
        if (!sweep_.own[0] || !sweep_.own[1]) {
            return;
        }
        const auto place = [&](std::size_t axis) {
            return std::round((*sweep_.own[axis] - sweep_.axes[axis].from) / sweep_.axes[axis].step);
        };
        const double i = place(0), k = place(1);
        if (i < 0 || k < 0 || i >= static_cast<double>(sweep_.axes[0].count()) ||
            k >= static_cast<double>(sweep_.axes[1].count())) {
            return;
        }
        canvas_.frame({box.x + width * i + 1, box.bottom() - height * (k + 1) + 1, width - 2, height - 2},
                      alarm, 2.5);
    }

    const SweepPicture& sweep_;
    Canvas canvas_;
};

}  // namespace

void draw_sweep(const SweepPicture& sweep, const std::string& file) {
    SweepDrawing(sweep, file).draw();
}

}  // namespace cursimeter::tool
