#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "picture/canvas.hpp"
#include "picture/net.hpp"
#include "picture/style.hpp"

namespace cursimeter::tool {
namespace {

using rehearsal::Glimpse;

constexpr double panels_left = 90.0, panels_right = 1250.0;
/// s of the close look.
constexpr double window = 6.0;

double distance_between(const glm::dvec3& a, const glm::dvec3& b) {
    const glm::dvec3 d = a - b;
    return std::sqrt(d.x * d.x + d.y * d.y + d.z * d.z);
}

/// Without the noise of binary fractions, and without -0.
std::string short_number(double value) {
    return fmt::format("{:g}", std::round(value * 1000.0) / 1000.0 + 0.0);
}

class NetPicture {
  public:
    NetPicture(const NetResult& net, const std::string& file)
        : net_(net), canvas_(file, page_width, page_height), own_(net.result.clients.front().own) {}

    void draw() {
        heading();
        find_window();
        errors({panels_left, 100.0, panels_right - panels_left, 190.0});
        heights({panels_left, 355.0, panels_right - panels_left, 200.0});
        strips({panels_left, 620.0, panels_right - panels_left, 120.0});
        canvas_.save();
    }

  private:
    [[nodiscard]] const std::vector<Glimpse>& truth() const { return net_.result.truth; }
    [[nodiscard]] const std::vector<Glimpse>& seen() const { return net_.result.seen; }

    /// The true place at a time.
    [[nodiscard]] glm::dvec3 place_at(double time) const {
        const double rate = net_.options.rate;
        const double at = (time - truth().front().time) * rate;
        if (at <= 0.0) {
            return truth().front().place;
        }
        const auto whole = static_cast<std::size_t>(at);
        if (whole + 1 >= truth().size()) {
            return truth().back().place;
        }
        const double part = at - std::floor(at);
        return truth()[whole].place + (truth()[whole + 1].place - truth()[whole].place) * part;
    }

    void heading() {
        canvas_.fill({0, 0, page_width, page_height}, paper);
        const NetOptions& o = net_.options;
        canvas_.text({panels_left, 36}, fmt::format("{}: one runner, seen three ways", net_.chart.name()),
                     ink, 20.0, Align::left, true);
        canvas_.text(
            {panels_left, 58},
            fmt::format(
                "\"{}\", {:g} s; round trip {:g} ms, jitter {:g} ms, loss {:g} %{}, {:g} ticks and {:g} "
                "snapshots a second",
                net_.drill, net_.result.seconds, 2.0 * o.delay, o.jitter, o.loss,
                o.burst > 0.0 ? fmt::format(" in bursts up to {:g} ms", o.burst) : "", o.rate, o.snapshots),
            faint, 13.0);
        double x = panels_right;
        legend(x, "what another client saw", alarm);
        legend(x, "what its owner saw", sea);
        legend(x, "the truth, at the server", ink);
    }
    void legend(double& x, const std::string& name, Colour colour) {
        x -= canvas_.text_width(name, 13.0);
        canvas_.text({x, 36}, name, ink, 13.0);
        canvas_.line({x - 30, 31}, {x - 8, 31}, colour, 3.0);
        x -= 50;
    }
    void panel_of(const Box& box, const std::string& name) {
        canvas_.fill(box, panel);
        canvas_.frame(box, grid);
        canvas_.text({box.x, box.y - 8}, name, ink, 13.0, Align::left, true);
    }
    void time_axis(const Box& box, double from, double to, const std::string& name) {
        const double step = round_step(to - from, 12.0);
        for (double t = std::ceil(from / step - 1e-9) * step; t <= to + 1e-9; t += step) {
            const double x = box.x + (t - from) / (to - from) * box.width;
            canvas_.line({x, box.y}, {x, box.bottom()}, grid);
            canvas_.text({x, box.bottom() + 16}, short_number(t), faint, 12.0, Align::centre);
        }
        canvas_.text({box.right(), box.bottom() + 33}, name, faint, 12.0, Align::right);
    }

    /// Where the close look is taken: around the fastest change of what happens.
    void find_window() {
        double best = -1.0, at = truth().front().time;
        const auto ticks = static_cast<std::size_t>(window * net_.options.rate);
        for (std::size_t i = 0; i + ticks < truth().size(); i += 10) {
            if (truth()[i].time < 2.5) {
                continue;
            }
            double lively = 0.0;
            std::size_t changes = 0;
            double low = 1e300, high = -1e300;
            for (std::size_t k = i; k < i + ticks; ++k) {
                changes += truth()[k].state != truth()[k + 1].state ? 1 : 0;
                low = std::min(low, truth()[k].place.z);
                high = std::max(high, truth()[k].place.z);
            }
            lively =
                static_cast<double>(std::min<std::size_t>(changes, 12)) + 4.0 * std::min(high - low, 3.0);
            if (lively > best) {
                best = lively;
                at = truth()[i].time;
            }
        }
        from_ = std::round(at * 2.0) / 2.0;
        to_ = from_ + window;
    }

    /// How far each view is off at the time that it shows.
    void errors(const Box& box) {
        panel_of(box, "How far off, at the time that is shown (cm)");
        const double end = net_.result.seconds;
        double highest = 0.02;
        for (const auto* views : {&own_, &seen()}) {
            for (const Glimpse& glimpse : *views) {
                highest = std::max(highest, distance_between(glimpse.place, place_at(glimpse.time)));
            }
        }
        const double step = round_step(highest * 100.0, 4.0);
        const double top = std::ceil(highest * 100.0 / step) * step;
        time_axis(box, 0.0, end, "seconds since the server began");
        for (double v = 0.0; v <= top + 1e-9; v += step) {
            const double y = box.bottom() - v / top * box.height;
            canvas_.line({box.x, y}, {box.right(), y}, grid);
            canvas_.text({box.x - 8, y + 4}, fmt::format("{:g}", v), faint, 12.0, Align::right);
        }
        canvas_.fill({box.x + from_ / end * box.width, box.y, (to_ - from_) / end * box.width, box.height},
                     lantern.faded(0.16));
        canvas_.text({box.x + (from_ + to_) / 2.0 / end * box.width, box.y + 14}, "below", faint, 11.0,
                     Align::centre);
        draw_error(box, seen(), end, top, alarm);
        draw_error(box, own_, end, top, sea);
    }
    void draw_error(const Box& box, const std::vector<Glimpse>& views, double end, double top,
                    Colour colour) {
        std::vector<PagePoint> points;
        for (const Glimpse& glimpse : views) {
            // What the server had not played when it was drawn cannot be compared.
            if (glimpse.time > truth().back().time) {
                continue;
            }
            const double off = distance_between(glimpse.place, place_at(glimpse.time)) * 100.0;
            points.push_back({box.x + glimpse.at / end * box.width, box.bottom() - off / top * box.height});
        }
        canvas_.polyline(points, colour, 1.4);
    }

    /// The distance from where the window begins, as each sees it at one and the same time.
    void heights(const Box& box) {
        panel_of(box, fmt::format("Close look: height (m) as each sees it at one moment, {:g} to {:g} s",
                                  from_, to_));
        double low = 1e300, high = -1e300;
        for (const auto* views : {&truth(), &own_, &seen()}) {
            for (const Glimpse& glimpse : *views) {
                if (glimpse.at >= from_ && glimpse.at <= to_) {
                    low = std::min(low, glimpse.place.z);
                    high = std::max(high, glimpse.place.z);
                }
            }
        }
        const bool flat = !(high - low > 0.05);
        high = flat ? low + 1.0 : high + 0.1 * (high - low);
        time_axis(box, from_, to_, "");
        const double step = round_step(high - low, 4.0);
        for (double v = std::ceil(low / step) * step; v <= high; v += step) {
            const double y = box.bottom() - (v - low) / (high - low) * (box.height - 6.0) - 3.0;
            canvas_.line({box.x, y}, {box.right(), y}, grid);
            canvas_.text({box.x - 8, y + 4}, short_number(v), faint, 12.0, Align::right);
        }
        canvas_.clip(box);
        const auto curve = [&](const std::vector<Glimpse>& views, Colour colour, double width) {
            std::vector<PagePoint> points;
            for (const Glimpse& glimpse : views) {
                if (glimpse.at >= from_ - 0.1 && glimpse.at <= to_ + 0.1) {
                    points.push_back(
                        {box.x + (glimpse.at - from_) / (to_ - from_) * box.width,
                         box.bottom() - (glimpse.place.z - low) / (high - low) * (box.height - 6.0) - 3.0});
                }
            }
            canvas_.polyline(points, colour, width);
        };
        curve(truth(), ink, 3.0);
        curve(seen(), alarm, 1.8);
        curve(own_, sea, 1.8);
        canvas_.unclip();
    }

    /// The states, one line for each view.
    void strips(const Box& box) {
        panel_of(box, "The same stretch: states");
        time_axis(box, from_, to_, "seconds; its owner is ahead of the server, others see it later");
        const double lane = box.height / 3.0;
        strip({box.x, box.y, box.width, lane}, "owner", own_);
        strip({box.x, box.y + lane, box.width, lane}, "truth", truth());
        strip({box.x, box.y + 2.0 * lane, box.width, lane}, "other", seen());
    }
    void strip(const Box& box, const std::string& name, const std::vector<Glimpse>& views) {
        canvas_.text({box.x - 8, box.y + box.height / 2.0 + 4}, name, ink, 12.0, Align::right);
        canvas_.clip(box);
        const auto x_of = [&](double at) { return box.x + (at - from_) / (to_ - from_) * box.width; };
        for (std::size_t i = 0; i < views.size();) {
            std::size_t next = i;
            while (next < views.size() && views[next].state == views[i].state) {
                ++next;
            }
            const double begin = x_of(views[i].at),
                         end = x_of(next < views.size() ? views[next].at : views.back().at);
            if (end > box.x && begin < box.right()) {
                canvas_.fill({begin, box.y + 6, end - begin, box.height - 12},
                             colour_of(views[i].state).faded(0.85));
                const std::string& state = net_.chart.name(views[i].state);
                const double visible_from = std::max(begin, box.x);
                if (std::min(end, box.right()) - visible_from > canvas_.text_width(state, 12.0) + 8.0) {
                    canvas_.text({visible_from + 5, box.y + box.height / 2.0 + 4}, state, panel, 12.0,
                                 Align::left, true);
                }
            }
            i = next;
        }
        canvas_.unclip();
    }

    const NetResult& net_;
    Canvas canvas_;
    const std::vector<Glimpse>& own_;
    double from_ = 0.0, to_ = window;
};

}  // namespace

void draw_net(const NetResult& net, const std::string& file) {
    NetPicture(net, file).draw();
}

}  // namespace cursimeter::tool
