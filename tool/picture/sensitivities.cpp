#include "picture/sensitivities.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "picture/canvas.hpp"
#include "picture/style.hpp"

namespace cursimeter::tool {
namespace {

/// Bars to the left and to the right of a line: down and up.
void draw_figure(Canvas& canvas, const SweepPicture& sweep, const std::vector<survey::Sensitivity>& bars,
                 const Box& box) {
    const survey::Figure& figure = sweep.figures[bars.front().figure];
    canvas.text({box.x, box.y + 16}, figure.name, ink, 14, Align::left, true);
    canvas.text({box.x + canvas.text_width(figure.name, 14, true) + 10, box.y + 16},
                fmt::format("{:.4g} {} now", figure.value, figure.unit), faint, 12);
    double most = 1e-12;
    for (const survey::Sensitivity& bar : bars) {
        most = std::max(most, std::isnan(bar.change) ? 0.0 : std::fabs(bar.change));
    }
    const double label = 0.44 * box.width, room = 66.0;
    const double middle = box.x + label + 0.5 * (box.width - label);
    const double reach = 0.5 * (box.width - label) - room;
    const double row = std::min(26.0, (box.height - 40.0) / static_cast<double>(bars.size()));
    double y = box.y + 30.0;
    canvas.line({middle, y - 2}, {middle, y + row * static_cast<double>(bars.size())}, faint);
    for (const survey::Sensitivity& bar : bars) {
        const survey::SweepAxis& axis = sweep.axes[bar.axis];
        canvas.text({box.x + label - 8 - room * 0.5, y + 0.66 * row}, axis.path, ink, 11, Align::right);
        canvas.text({box.x + label - room * 0.5, y + 0.66 * row},
                    fmt::format("{:g} to {:g}", axis.from, axis.to), faint, 10);
        if (!std::isnan(bar.change)) {
            const double length = reach * std::fabs(bar.change) / most;
            const bool up = bar.change >= 0.0;
            canvas.fill({up ? middle : middle - length, y + 3, length, row - 6}, up ? lantern : sea);
            canvas.text({up ? middle + length + 5 : middle - length - 5, y + 0.66 * row},
                        fmt::format("{:+.3g} {}", bar.change, figure.unit), ink, 11,
                        up ? Align::left : Align::right);
        }
        y += row;
    }
}

}  // namespace

void draw_sensitivities(const SweepPicture& sweep, const survey::SweepPlan& plan, const std::string& file) {
    Canvas canvas(file, page_width, page_height);
    canvas.fill({0, 0, page_width, page_height}, paper);
    canvas.text({40, 36}, sweep.chart, ink, 22, Align::left, true);
    canvas.text({40 + canvas.text_width(sweep.chart, 22, true) + 12, 36},
                fmt::format("what moves its figures, over {} rows: the change as a value goes over its range",
                            sweep.rows.size()),
                ink, 15);
    const std::vector<survey::Sensitivity> all = survey::sensitivities(plan, sweep.rows);
    const std::size_t count = std::min<std::size_t>(plan.figures.size(), 6);
    const std::size_t columns = count <= 2 ? 1 : 2;
    const std::size_t rows = (count + columns - 1) / columns;
    const double width = (page_width - 80.0) / static_cast<double>(columns);
    const double height = (page_height - 80.0) / static_cast<double>(rows);
    for (std::size_t i = 0; i < count; ++i) {
        std::vector<survey::Sensitivity> bars;
        std::copy_if(all.begin(), all.end(), std::back_inserter(bars),
                     [&](const survey::Sensitivity& one) { return one.figure == i; });
        draw_figure(canvas, sweep, bars,
                    {40.0 + width * static_cast<double>(i % columns),
                     64.0 + height * static_cast<double>(i / columns), width - 24.0, height - 12.0});
    }
    canvas.save();
}

}  // namespace cursimeter::tool
