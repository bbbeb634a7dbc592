#include "picture/movie.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "files/files.hpp"
#include "picture/apng.hpp"
#include "picture/outline.hpp"
#include "picture/style.hpp"

namespace cursimeter::tool {
namespace {

constexpr double width = 720.0, height = 320.0;
constexpr double strip = 14.0;  // of the states over time
constexpr double view_top = 46.0, view_bottom = height - strip - 26.0;
constexpr double metre = 20.0;    // points
constexpr int rate = 15;          // pictures a second
constexpr double longest = 12.0;  // s
constexpr double trail = 4.0;     // s of the run

class Movie {
  public:
    explicit Movie(const RunResult& result)
        : result_(result),
          chart_(result.chart),
          run_(result.run),
          pace_(std::max(1.0, run_.seconds / longest)),
          canvas_("-", width, height) {
        double x = 0.0, y = 0.0;
        for (const survey::Sample& sample : run_.samples) {
            x = std::max(x, std::fabs(sample.position.x - run_.samples.front().position.x));
            y = std::max(y, std::fabs(sample.position.y - run_.samples.front().position.y));
        }
        turned_ = y > x;
        look_at_ = along(run_.samples.front());
        level_ = run_.samples.front().position.z;
    }

    std::string make() {
        AnimatedPng movie(static_cast<int>(width), static_cast<int>(height), rate);
        const double step = pace_ / rate;
        for (double at = 0.0; at <= run_.seconds + step / 2.0; at += step) {
            const std::size_t index = sample_at(at);
            follow(run_.samples[index]);
            draw(index);
            movie.add(canvas_.pixels(), canvas_.stride());
        }
        return movie.bytes();
    }

  private:
    [[nodiscard]] double along(const survey::Sample& sample) const {
        return turned_ ? sample.position.y : sample.position.x;
    }
    [[nodiscard]] PagePoint at(double along, double up) const {
        return {width * 0.42 + (along - look_at_) * metre, view_bottom - 60.0 - (up - level_) * metre};
    }
    [[nodiscard]] std::size_t sample_at(double time) const {
        const auto found =
            std::lower_bound(run_.samples.begin(), run_.samples.end(), time - 1e-9,
                             [](const survey::Sample& sample, double wanted) { return sample.at < wanted; });
        return std::min(static_cast<std::size_t>(found - run_.samples.begin()), run_.samples.size() - 1);
    }

    /// The view keeps to the body, and takes a moment to rise and sink with it.
    void follow(const survey::Sample& sample) {
        look_at_ = along(sample);
        level_ += (sample.position.z - level_) * 0.12;
    }

    void draw(std::size_t index) {
        const survey::Sample& now = run_.samples[index];
        canvas_.fill({0, 0, width, height}, paper);
        const Box view{0, view_top, width, view_bottom - view_top};
        canvas_.fill(view, panel);
        canvas_.clip(view);
        solids(now.at);
        path(index);
        body(now);
        canvas_.unclip();
        words(now);
        states(now.at);
    }

    void solids(double time) {
        if (!result_.course) {
            open_ground();
            return;
        }
        for (const ZoneSpec& zone : result_.course->spec().zones) {
            const PagePoint a = at(turned_ ? zone.from[1] : zone.from[0], zone.from[2]),
                            b = at(turned_ ? zone.to[1] : zone.to[0], zone.to[2]);
            const Box box{std::min(a.x, b.x), std::min(a.y, b.y), std::fabs(b.x - a.x), std::fabs(b.y - a.y)};
            canvas_.fill(box, sea.faded(0.10));
            canvas_.text({box.x + box.width / 2.0, std::max(box.y, view_top) + 15.0}, zone.kind, sea, 11,
                         Align::centre);
        }
        for (const Solid& solid : result_.course->solids()) {
            const glm::dvec3 moved = solid.platform < 0 ? glm::dvec3(0.0)
                                                        : result_.course->platform_offset(
                                                              static_cast<std::size_t>(solid.platform), time);
            std::vector<PagePoint> corners;
            for (const glm::dvec3& corner : corners_of(solid)) {
                corners.push_back(at(turned_ ? corner.y + moved.y : corner.x + moved.x, corner.z + moved.z));
            }
            draw_solid(canvas_, std::move(corners), solid.platform >= 0, 0.6);
        }
    }

    /// Level ground has nothing by which to see that somebody moves: it gets a mark every five metres.
    void open_ground() {
        const double y = at(0.0, run_.samples.front().position.z).y;
        canvas_.fill({0, y, width, height}, stone.faded(0.6));
        constexpr double step = 5.0, half = width / metre;
        for (double mark = std::ceil((look_at_ - half) / step) * step; mark < look_at_ + half; mark += step) {
            const double x = at(mark, 0.0).x;
            canvas_.line({x, y}, {x, y + 9.0}, faint, 1.0);
            canvas_.text({x, y + 22.0}, fmt::format("{:g} m", mark + 0.0), faint, 10, Align::centre);
        }
    }

    void path(std::size_t index) {
        std::vector<PagePoint> line;
        for (std::size_t i = sample_at(run_.samples[index].at - trail); i <= index; ++i) {
            line.push_back(at(along(run_.samples[i]), run_.samples[i].position.z));
            const bool ends = i == index || run_.samples[i + 1].state != run_.samples[i].state;
            if (ends && line.size() > 1) {
                canvas_.polyline(line, colour_of(run_.samples[i].state), 2.5);
            }
            if (ends) {
                line = {line.back()};
            }
        }
    }

    void body(const survey::Sample& now) {
        const Capsule capsule = chart_.body(now.state);
        const PagePoint foot = at(along(now), now.position.z);
        const double radius = capsule.radius * metre, tall = capsule.height * metre;
        canvas_.capsule({foot.x - radius, foot.y - tall, radius * 2.0, tall}, colour_of(now.state), ink);
        const double speed_along = turned_ ? now.velocity.y : now.velocity.x;
        const double side = speed_along < -0.05 ? -1.0 : 1.0;
        canvas_.dot({foot.x + side * radius * 1.25, foot.y - tall * 0.55}, 3.5, lantern, ink);
        canvas_.text({foot.x, foot.y - tall - 8.0}, chart_.name(now.state), ink, 13, Align::centre, true);
    }

    void words(const survey::Sample& now) {
        canvas_.text({14, 30}, chart_.name(), ink, 19, Align::left, true);
        const double after = 26.0 + canvas_.text_width(chart_.name(), 19, true);
        canvas_.text({after, 30},
                     fmt::format("{:5.1f} s{}", now.at,
                                 pace_ > 1.01 ? fmt::format("   shown {:.1f} times as fast", pace_) : ""),
                     faint, 12);
        double x = width - 14.0;
        for (std::size_t i = chart_.meter_count(); i-- > 0;) {
            const MeterId meter{static_cast<std::uint8_t>(i)};
            if (x < 460.0) {  // no room for more: the timeline shows them all
                break;
            }
            const Box bar{x - 90.0, 20.0, 90.0, 12.0};
            canvas_.fill(bar, grid);
            canvas_.fill({bar.x, bar.y, bar.width * now.levels[i] / chart_.capacity(meter), bar.height},
                         colour_of(meter));
            canvas_.frame(bar, faint);
            canvas_.text({bar.x - 6.0, 30.0}, chart_.name(meter), ink, 12, Align::right);
            x = bar.x - 14.0 - canvas_.text_width(chart_.name(meter), 12);
        }
        canvas_.text({x - 6.0, 30.0}, fmt::format("{:4.1f} m/s", now.speed), ink, 13, Align::right, true);
    }

    void states(double time) {
        const Box all{14.0, height - strip - 12.0, width - 28.0, strip};
        for (const survey::Visit& visit : run_.visits) {
            canvas_.fill({all.x + all.width * visit.at / run_.seconds, all.y,
                          all.width * visit.seconds / run_.seconds, all.height},
                         colour_of(visit.state));
        }
        canvas_.frame(all, faint);
        const double x = all.x + all.width * std::min(time / run_.seconds, 1.0);
        canvas_.line({x, all.y - 4.0}, {x, all.bottom() + 4.0}, ink, 2.0);
    }

    const RunResult& result_;
    const Chart& chart_;
    const survey::Run& run_;
    double pace_;
    Canvas canvas_;
    bool turned_ = false;
    double look_at_ = 0.0, level_ = 0.0;  ///< m
};

}  // namespace

void draw_movie(const RunResult& result, const std::string& file) {
    write_text(file, Movie(result).make());
}

}  // namespace cursimeter::tool
