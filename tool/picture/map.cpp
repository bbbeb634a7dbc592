#include "picture/map.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "picture/course_view.hpp"
#include "picture/marks.hpp"
#include "picture/style.hpp"

namespace cursimeter::tool {
namespace {

CourseView ground_of(Canvas& canvas, const RunResult& result) {
    Span x, y, z;
    for (const survey::Sample& sample : result.run.samples) {
        x.take(sample.position.x);
        y.take(sample.position.y);
        z.take(sample.position.z);
    }
    return {canvas, result.course ? &*result.course : nullptr, x, y, z};
}

class MapPicture {
  public:
    MapPicture(const RunResult& result, const std::string& file)
        : chart_(result.chart),
          run_(result.run),
          result_(result),
          canvas_(file, page_width, page_height),
          ground_(ground_of(canvas_, result)) {}

    void draw() {
        canvas_.fill({0, 0, page_width, page_height}, paper);
        heading();
        for (const Pane& pane : ground_.panes()) {
            ground_.begin(pane);
            gates(pane);
            path(pane);
            ground_.finish(pane);
        }
        legend();
        canvas_.save();
    }

  private:
    void heading() {
        draw_heading(canvas_, page_left, chart_.name(),
                     fmt::format("{} over \"{}\", {:g} s at {:g} ticks a second", result_.drill,
                                 result_.course ? result_.course->spec().name : "open ground", run_.seconds,
                                 result_.rate));
        std::string legs;
        for (const survey::LegTime& leg : run_.legs) {
            const double seconds = leg.ended - leg.begun;
            legs += fmt::format("{}{} {}", legs.empty() ? "" : "   ", leg.name,
                                std::isnan(seconds) ? "not finished" : fmt::format("{:.2f} s", seconds));
        }
        canvas_.text({page_left, 56}, canvas_.fitted(legs, page_width - page_left - 14, 12), faint, 12);
    }

    /// Where legs end, with their names. A leg that others make up is not named again.
    void gates(const Pane& pane) {
        for (const survey::LegTime& leg : run_.legs) {
            const auto found =
                std::find_if(result_.course->spec().legs.begin(), result_.course->spec().legs.end(),
                             [&](const LegSpec& spec) { return spec.name == leg.name; });
            const Point& foot = found->finish.from;
            const double x = pane.at(ground_.turned() ? foot[1] : foot[0], 0.0).x;
            canvas_.line({x, pane.box.y}, {x, pane.box.bottom()}, faint.faded(0.6), 1.0, true);
            const double width = canvas_.text_width(leg.name, 11);
            const Box box{x - width - 6, pane.box.y + 3, width + 4, 13.0};
            const bool named = !ground_.labels().empty() && ground_.labels().back().x <= box.right() &&
                               ground_.labels().back().right() >= box.x && ground_.labels().back().y == box.y;
            if (pane.from_side && x > pane.box.x && x < pane.box.right() && !named) {
                const bool fits = box.x > pane.box.x;
                canvas_.text({fits ? x - 4 : x + 4, pane.box.y + 14}, leg.name, faint, 11,
                             fits ? Align::right : Align::left);
                ground_.labels().push_back(box);
            }
        }
    }

    void path(const Pane& pane) {
        std::vector<PagePoint> line;
        for (std::size_t i = 0; i < run_.samples.size(); ++i) {
            line.push_back(ground_.place(pane, run_.samples[i].position));
            const bool last = i + 1 == run_.samples.size();
            if (last || run_.samples[i + 1].state != run_.samples[i].state) {
                if (!last) {
                    line.push_back(ground_.place(pane, run_.samples[i + 1].position));
                }
                canvas_.polyline(line, colour_of(run_.samples[i].state), 3.0);
                line.clear();
                if (!last) {
                    line.push_back(ground_.place(pane, run_.samples[i + 1].position));
                }
            }
        }
        marks(pane);
    }

    /// A dot where a state begins; from the side also its name, where there is room for it.
    void marks(const Pane& pane) {
        for (const survey::Visit& visit : run_.visits) {
            const auto sample =
                std::lower_bound(run_.samples.begin(), run_.samples.end(), visit.at,
                                 [](const survey::Sample& s, double at) { return s.at < at; });
            if (sample == run_.samples.end()) {
                continue;
            }
            const PagePoint at = ground_.place(pane, sample->position);
            canvas_.dot(at, 3.5, colour_of(visit.state), ink);
            if (pane.from_side && at.x >= pane.box.x - 1 && at.x <= pane.box.right() + 1) {
                ground_.label(pane, at, chart_.name(visit.state), ink);
            }
        }
    }

    using States = std::vector<StateId>;

    /// The states in lines as long as the page.
    [[nodiscard]] std::vector<States> legend_lines(const States& states) {
        std::vector<States> lines(1);
        double x = page_left;
        for (const StateId state : states) {
            const double width = canvas_.text_width(chart_.name(state), 12) + 42;
            if (x + width > page_width && !lines.back().empty()) {
                lines.emplace_back();
                x = page_left;
            }
            lines.back().push_back(state);
            x += width;
        }
        return lines;
    }

    /// All states; if one line does not hold them, those of the run, in two lines at most: their names stand at the way too.
    void legend() {
        States all, seen;
        for (std::uint8_t i = 0; i < chart_.state_count(); ++i) {
            const StateId state{i};
            all.push_back(state);
            if (std::any_of(run_.visits.begin(), run_.visits.end(),
                            [&](const survey::Visit& visit) { return visit.state == state; })) {
                seen.push_back(state);
            }
        }
        std::vector<States> lines = legend_lines(all);
        if (lines.size() > 1) {
            lines = legend_lines(seen);
        }
        const bool two = lines.size() > 1;
        legend_line(lines[0], page_height - (two ? 21 : 16));
        if (two) {
            legend_line(lines[1], page_height - 6);
        }
    }
    void legend_line(const States& states, double y) {
        double x = page_left;
        for (const StateId state : states) {
            canvas_.fill({x, y - 10, 18, 10}, colour_of(state));
            canvas_.text({x + 23, y}, chart_.name(state), ink, 12);
            x += canvas_.text_width(chart_.name(state), 12) + 42;
        }
    }

    const Chart& chart_;
    const survey::Run& run_;
    const RunResult& result_;
    Canvas canvas_;
    CourseView ground_;
};

}  // namespace

void draw_map(const RunResult& result, const std::string& file) {
    MapPicture(result, file).draw();
}

}  // namespace cursimeter::tool
