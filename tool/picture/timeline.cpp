#include "picture/timeline.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cursimeter/survey/why.hpp>

#include "picture/marks.hpp"
#include "picture/style.hpp"
#include "picture/timeline_layout.hpp"

namespace cursimeter::tool {
namespace {

constexpr double least_left = 132.0, most_left = 420.0;  ///< of the panels: names stand before them
constexpr double page_edge = 14.0, before_panel = 10.0, after_panel = 28.0;

class TimelinePicture {
  public:
    TimelinePicture(const RunResult& result, const std::string& file)
        : result_(result),
          chart_(result.chart),
          run_(result.run),
          canvas_(file, page_width, layout_.height()) {}

    void draw() {
        canvas_.fill({0, 0, page_width, layout_.height()}, paper);
        heading();
        const double lane = layout_.state_lane(), key_lane = layout_.key_lane();
        double y = TimelineLayout::top;
        y = states(next_panel(y, layout_.states_height()), lane);
        y = speed(next_panel(y, layout_.speed_height()));
        for (std::uint8_t i = 0; i < chart_.meter_count(); ++i) {
            y = meter(next_panel(y, layout_.meter_height()), MeterId{i});
        }
        y = keys(next_panel(y, layout_.keys_height()), key_lane);
        if (!worked_.empty()) {
            y = modifiers(next_panel(y, layout_.modifiers_height()), key_lane);
        }
        events(next_panel(y, TimelineLayout::event_height));
        axis();
        canvas_.save();
    }

  private:
    [[nodiscard]] double x_of(double at) const {
        return left_ + (page_width - left_ - after_panel) * at / run_.seconds;
    }
    [[nodiscard]] Box next_panel(double y, double height) const {
        return {left_, y, page_width - left_ - after_panel, height};
    }

    [[nodiscard]] std::string key_label(std::uint8_t action) const {
        return chart_.name(ActionId{action}) + " on";
    }
    [[nodiscard]] std::string modifier_label(ModifierId modifier) const {
        return chart_.name(modifier) + " active";
    }
    /// Where the panels begin: behind the longest of the names that stand before them.
    [[nodiscard]] double left_of_panels() {
        double widest = 0.0;
        const auto meet = [&](const std::string& label, double size, bool bold = false) {
            widest = std::max(widest, canvas_.text_width(label, size, bold));
        };
        for (std::uint8_t i = 0; i < chart_.state_count(); ++i) {
            meet(chart_.name(StateId{i}), 13);
        }
        for (std::uint8_t i = 0; i < chart_.meter_count(); ++i) {
            meet(chart_.name(MeterId{i}), 13, true);
        }
        for (std::uint8_t i = 0; i < chart_.action_count(); ++i) {
            meet(key_label(i), 11);
        }
        for (const ModifierId modifier : worked_) {
            meet(modifier_label(modifier), 11);
        }
        return std::clamp(page_edge + widest + before_panel, least_left, most_left);
    }
    [[nodiscard]] std::string fitted(const std::string& label, double size, bool bold = false) {
        return canvas_.fitted(label, left_ - page_edge - before_panel, size, bold);
    }

    void heading() {
        draw_heading(
            canvas_, left_, chart_.name(),
            fmt::format("{}, {:g} s at {:g} ticks a second", result_.drill, run_.seconds, result_.rate));
        canvas_.text({left_, 56},
                     fmt::format("{:.2f} m walked, {} state changes, digest {:016x}", run_.distance,
                                 run_.visits.size() - 1, run_.digest),
                     faint, 12);
    }

    void background(const Box& box) {
        canvas_.fill(box, panel);
        const double step = round_step(run_.seconds, 12.0);
        for (double at = 0.0; at <= run_.seconds * 1.0001; at += step) {
            canvas_.line({x_of(at), box.y}, {x_of(at), box.bottom()}, grid);
        }
    }

    void title(const Box& box, const std::string& name, const std::string& unit) {
        canvas_.text({page_edge, box.y + 14}, fitted(name, 13, true), ink, 13, Align::left, true);
        canvas_.text({page_edge, box.y + 30}, unit, faint, 11);
    }

    double states(const Box& box, double lane) {
        background(box);
        for (std::uint8_t i = 0; i < chart_.state_count(); ++i) {
            const double y = box.y + lane * i;
            canvas_.text({left_ - before_panel, y + lane * 0.5 + 4.5}, fitted(chart_.name(StateId{i}), 13),
                         ink, 13, Align::right);
            if (i > 0) {
                canvas_.line({left_, y}, {box.right(), y}, grid);
            }
        }
        for (const survey::Visit& visit : run_.visits) {
            const double x = x_of(visit.at);
            const double width = std::max(0.6, x_of(visit.at + visit.seconds) - x);
            const Box bar{x, box.y + lane * visit.state.index + 2.0, width, lane - 4.0};
            canvas_.fill(bar, colour_of(visit.state));
        }
        for (const survey::Visit& visit : run_.visits) {
            if (visit.cause.kind != CauseKind::start) {
                draw_cause_mark(canvas_, {x_of(visit.at), box.y + lane * (visit.state.index + 0.5)},
                                lane - 4.0, survey::is_by_hand(chart_, visit.cause));
            }
        }
        canvas_.frame(box, faint);
        draw_causes_legend(canvas_, box);
        return box.bottom() + TimelineLayout::gap;
    }

    /// Horizontal lines with their values; returns the y of a value.
    template <class YOf>
    void levels(const Box& box, double highest, YOf y_of, double lowest = 0.0) {
        const double step = round_step(highest - lowest, 4.0);
        for (double value = std::ceil(lowest / step) * step; value <= highest * 1.0001; value += step) {
            canvas_.line({box.x, y_of(value)}, {box.right(), y_of(value)}, grid);
            canvas_.text({left_ - 8, y_of(value) + 4}, fmt::format("{:g}", value + 0.0), faint, 11,
                         Align::right);
        }
    }

    double speed(const Box& box) {
        // Targets are level, so that is what the speed is set against; rising and falling is a curve of its own.
        double highest = 0.1, deepest = 0.0;
        for (const survey::Sample& sample : run_.samples) {
            highest = std::max({highest, level_speed(sample), sample.speed_target, sample.velocity.z});
            deepest = std::min(deepest, sample.velocity.z);
        }
        const bool rises = std::any_of(run_.samples.begin(), run_.samples.end(),
                                       [](const survey::Sample& sample) { return !sample.grounded; });
        deepest = rises ? std::max(deepest, -1.2 * highest) : 0.0;
        const double span = (highest - deepest) * 1.08;
        const auto y_of = [&](double value) {
            return box.bottom() - box.height * (std::max(value, deepest) - deepest) / span;
        };
        background(box);
        title(box, "speed", "m/s");
        levels(box, highest, y_of, deepest);
        std::vector<PagePoint> target, real, rise;
        for (std::size_t i = 0; i < run_.samples.size(); ++i) {
            const survey::Sample& sample = run_.samples[i];
            if (i > 0) {  // the target steps
                target.push_back({x_of(sample.at), target.back().y});
            }
            target.push_back({x_of(sample.at), y_of(sample.speed_target)});
            real.push_back({x_of(sample.at), y_of(level_speed(sample))});
            if (rises) {
                rise.push_back({x_of(sample.at), y_of(sample.velocity.z)});
            }
        }
        canvas_.polyline(target, faint.faded(0.7), 1.2);
        canvas_.polyline(rise, lantern, 1.4);
        canvas_.polyline(real, sea, 2.0);
        canvas_.frame(box, faint);
        std::vector<LegendEntry> entries{{"level", sea, false}, {"target", faint, false}};
        if (rises) {
            entries.insert(entries.begin() + 1, {"rise", lantern, false});
        }
        draw_legend(canvas_, box, entries);
        return box.bottom() + TimelineLayout::gap;
    }

    static double level_speed(const survey::Sample& sample) {
        return std::hypot(sample.velocity.x, sample.velocity.y);
    }

    double meter(const Box& box, MeterId id) {
        const double capacity = chart_.capacity(id);
        const auto y_of = [&](double value) { return box.bottom() - box.height * value / (capacity * 1.05); };
        background(box);
        spent_stretches(box, id);
        title(box, chart_.name(id), fmt::format("of {:g}", capacity));
        levels(box, capacity, y_of);
        struct Label {
            PagePoint at;
            std::string name;
            Colour colour;
        };
        std::vector<Label> names;  // written when all lines are drawn
        const auto threshold = [&](double value, const std::string& name, Colour colour) {
            if (value > 0.0) {  // 0 is the panel's own edge
                canvas_.line({box.x, y_of(value)}, {box.right(), y_of(value)}, colour, 1.2, true);
                PagePoint at{box.x + 6, y_of(value) - 4};
                for (const Label& other : names) {
                    // Beside the name of a line close by; a tick leads each name to its own line.
                    const double behind = other.at.x + canvas_.text_width(other.name, 11) + 22;
                    at.x = std::fabs(other.at.y - at.y) < 13 ? std::max(at.x, behind) : at.x;
                }
                names.push_back({at, name, colour});
            }
        };
        for (const MeterThreshold& read : chart_.thresholds(id)) {
            threshold(read.level, read.term, faint);
        }
        if (const std::optional<SpentSpec> spent = chart_.spent(id)) {
            threshold(spent->until, fmt::format("recovered at {:g}", spent->until), alarm);
            threshold(spent->at, fmt::format("spent at {:g}", spent->at), alarm);
        }
        for (const Label& label : names) {
            const double width = canvas_.text_width(label.name, 11);
            canvas_.fill({label.at.x - 2, label.at.y - 10, width + 4, 13}, panel.faded(0.85));
            canvas_.text(label.at, label.name, label.colour, 11);
            canvas_.line({label.at.x - 4, label.at.y - 8}, {label.at.x - 4, label.at.y + 4}, label.colour,
                         1.6);
        }
        std::vector<PagePoint> level;
        for (const survey::Sample& sample : run_.samples) {
            level.push_back({x_of(sample.at), y_of(sample.levels[id.index])});
        }
        canvas_.polyline(level, lantern, 2.2);
        canvas_.frame(box, faint);
        return box.bottom() + TimelineLayout::gap;
    }

    void spent_stretches(const Box& box, MeterId id) {
        double since = -1.0;
        const auto shade = [&](double until) {
            canvas_.fill({x_of(since), box.y, x_of(until) - x_of(since), box.height}, alarm.faded(0.13));
            canvas_.text({x_of(since) + 4, box.y + 26}, "spent", alarm, 11);
            since = -1.0;
        };
        for (const survey::TimedEvent& event : run_.events) {
            if (event.event.subject != id.index) {
                continue;
            }
            if (event.event.kind == EventKind::spent) {
                since = event.at;
            } else if (event.event.kind == EventKind::recovered && since >= 0.0) {
                shade(event.at);
            }
        }
        if (since >= 0.0) {
            shade(run_.seconds);
        }
    }

    /// When keys were down, and when toggled actions were on.
    double keys(const Box& box, double lane) {
        background(box);
        for (std::uint8_t i = 0; i < chart_.action_count(); ++i) {
            const double y = box.y + lane * i;
            canvas_.text({left_ - before_panel, y + lane * 0.5 + 4}, fitted(key_label(i), 11), ink, 11,
                         Align::right);
            double since = -1.0;
            for (const survey::Sample& sample : run_.samples) {
                const bool on = (sample.on >> i & 1U) != 0;
                if (on && since < 0.0) {
                    since = sample.at;
                } else if (!on && since >= 0.0) {
                    bar(since, sample.at, y, lane);
                    since = -1.0;
                }
            }
            if (since >= 0.0) {
                bar(since, run_.seconds, y, lane);
            }
            for (const survey::TimedEvent& event : run_.events) {
                if (event.event.kind == EventKind::pressed && event.event.subject == i) {
                    canvas_.line({x_of(event.at), y + 2}, {x_of(event.at), y + lane - 2}, ink, 1.0);
                }
            }
        }
        canvas_.frame(box, faint);
        return box.bottom() + TimelineLayout::gap;
    }

    /// The modifiers that the run saw at work; darker with more stacks.
    double modifiers(const Box& box, double lane) {
        background(box);
        for (std::size_t row = 0; row < worked_.size(); ++row) {
            const double y = box.y + lane * static_cast<double>(row);
            canvas_.text({left_ - before_panel, y + lane * 0.5 + 4}, fitted(modifier_label(worked_[row]), 11),
                         ink, 11, Align::right);
            double since = -1.0, stacks = 1.0;
            for (const survey::TimedEvent& event : run_.events) {
                const EventKind kind = event.event.kind;
                const bool mine =
                    event.event.subject == worked_[row].index &&
                    (kind == EventKind::began || kind == EventKind::stacked || kind == EventKind::ended);
                if (!mine) {
                    continue;
                }
                stack_bar(since, event.at, y, lane, stacks);
                since = kind == EventKind::ended ? -1.0 : event.at;
                stacks = event.event.value;
            }
            stack_bar(since, run_.seconds, y, lane, stacks);
        }
        canvas_.frame(box, faint);
        return box.bottom() + TimelineLayout::gap;
    }
    void stack_bar(double since, double until, double y, double lane, double stacks) {
        if (since >= 0.0) {
            canvas_.fill({x_of(since), y + 3, x_of(until) - x_of(since), lane - 6},
                         sea.faded(std::min(0.25 + 0.15 * stacks, 1.0)));
        }
    }
    [[nodiscard]] std::vector<ModifierId> modifiers_at_work() const {
        std::vector<ModifierId> found;
        for (std::uint8_t i = 0; i < chart_.modifier_count(); ++i) {
            for (const survey::TimedEvent& event : run_.events) {
                if (event.event.kind == EventKind::began && event.event.subject == i) {
                    found.push_back(ModifierId{i});
                    break;
                }
            }
        }
        return found;
    }

    void bar(double since, double until, double y, double lane) {
        canvas_.fill({x_of(since), y + 4, x_of(until) - x_of(since), lane - 8}, ink.faded(0.45));
    }

    /// Meter events as marks with their names; names that would overlap go to the lower line.
    void events(const Box& box) {
        background(box);
        title(box, "events", "of meters");
        std::array<double, 3> free_from{box.x, box.x, box.x};
        for (const survey::TimedEvent& event : run_.events) {
            const EventKind kind = event.event.kind;
            const bool falls = kind == EventKind::emptied || kind == EventKind::spent;
            if (!falls && kind != EventKind::filled && kind != EventKind::recovered) {
                continue;
            }
            const double x = x_of(event.at);
            const Colour colour = falls ? alarm : sea;
            const std::string name(to_string(kind));
            const double width = canvas_.text_width(name, 11) + 16;
            const bool flip = x + width > box.right();
            const double begin = flip ? x - width : x;
            for (std::size_t line = 0; line < free_from.size(); ++line) {
                if (begin < free_from[line]) {
                    continue;
                }
                const double y = box.y + 14 + 17.0 * static_cast<double>(line);
                canvas_.triangle({x, falls ? y + 3 : y - 9}, 10, !falls, colour);
                canvas_.text({flip ? x - 8 : x + 8, y}, name, ink, 11, flip ? Align::right : Align::left);
                free_from[line] = begin + width;
                break;
            }
            canvas_.line({x, box.y}, {x, box.bottom()}, colour.faded(0.5), 1.0);
        }
        canvas_.frame(box, faint);
    }

    void axis() {
        const double step = round_step(run_.seconds, 12.0);
        const double y = layout_.height() - 12;
        for (double at = 0.0; at <= run_.seconds * 1.0001; at += step) {
            canvas_.text({x_of(at), y - 17}, fmt::format("{:g}", at), ink, 12, Align::centre);
        }
        canvas_.text({left_ + (page_width - left_ - after_panel) / 2.0, y}, "seconds", faint, 12,
                     Align::centre);
    }

    const RunResult& result_;
    const Chart& chart_;
    const survey::Run& run_;
    std::vector<ModifierId> worked_ = modifiers_at_work();
    TimelineLayout layout_{chart_, worked_.size()};
    Canvas canvas_;
    double left_ = left_of_panels();
};

}  // namespace

void draw_timeline(const RunResult& result, const std::string& file) {
    TimelinePicture(result, file).draw();
}

}  // namespace cursimeter::tool
