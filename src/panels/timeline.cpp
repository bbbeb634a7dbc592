#include <algorithm>
#include <cmath>
#include <cursimeter/panels/timeline.hpp>

#include "panels/cause_text.hpp"
#include "panels/words.hpp"

namespace cursimeter::panels {
namespace {

using tryout::alarm, tryout::faint, tryout::grid, tryout::ink, tryout::panel, tryout::sea;
using tryout::History, tryout::Moment;

/// Puts points from left to right on the path of a drawing, without those that lie within a quarter pixel of the line that is
/// drawn instead.
class StraightParts {
  public:
    explicit StraightParts(ImDrawList& draw) : draw_(draw) {}

    void add(ImVec2 point) {
        if (!any_ || point.x <= begin_.x) {
            put(point);
        } else {
            // The slopes of all lines from the beginning that pass every point near enough.
            const auto slope = [&](float y) { return (y - begin_.y) / (point.x - begin_.x); };
            if (slope(point.y) < lowest_ || slope(point.y) > highest_) {
                put(last_);
            }
            lowest_ = std::max(lowest_, slope(point.y - near));
            highest_ = std::min(highest_, slope(point.y + near));
        }
        any_ = true;
        last_ = point;
    }
    void end() {
        if (any_) {
            draw_.PathLineTo(last_);
        }
    }

  private:
    static constexpr float near = 0.25F;  // pixels
    void put(ImVec2 point) {
        draw_.PathLineTo(point);
        begin_ = point;
        lowest_ = -1e9F;
        highest_ = 1e9F;
    }

    ImDrawList& draw_;
    ImVec2 begin_{0.0F, 0.0F};  ///< the last point on the path
    ImVec2 last_{0.0F, 0.0F};
    bool any_ = false;
    float lowest_ = 0.0F, highest_ = 0.0F;
};

/// Draws a stretch of a history into a box of the screen.
class TimelineDrawing {
  public:
    TimelineDrawing(const History& history, ImVec2 at, ImVec2 size, double begin, double seconds)
        : history_(history),
          draw_(ImGui::GetWindowDrawList()),
          at_(at),
          size_(size),
          begin_(begin),
          seconds_(seconds) {
        label_ = width_of_labels();
        plot_ = {at.x + label_, size.x - label_};
    }

    [[nodiscard]] float x_of(double time) const {
        return plot_.left + plot_.width * static_cast<float>((time - begin_) / seconds_);
    }
    [[nodiscard]] double time_of(float x) const {
        return begin_ + seconds_ * static_cast<double>((x - plot_.left) / plot_.width);
    }
    [[nodiscard]] bool in_plot(float x) const { return x >= plot_.left && x <= plot_.left + plot_.width; }

    void everything() {
        draw_->PushClipRect(at_, {at_.x + size_.x, at_.y + size_.y}, true);
        draw_->AddRectFilled({plot_.left, at_.y}, {at_.x + size_.x, at_.y + size_.y}, packed(panel));
        const float text = ImGui::GetTextLineHeight();
        const float rows = std::max(1.0F, key_rows());
        const float keys = key_rows() * std::min(0.85F * text, 0.36F * size_.y / rows);
        const float states = 1.3F * text, axis = 1.1F * text;
        const float rest = std::max(4.0F, size_.y - states - keys - axis);
        const bool meters = history_.size() > 0 && newest_chart().meter_count() > 0;
        const float speed = meters ? rest * 0.55F : rest;
        float y = at_.y;
        state_band(y, states);
        y += states;
        if (history_.size() > 1) {
            speed_curves(y, speed);
            y += speed;
            if (meters) {
                meter_curves(y, rest - speed);
                y += rest - speed;
            }
            key_bars(y, keys);
        }
        time_axis(at_.y + size_.y - axis);
        draw_->PopClipRect();
    }

    void mark(double time, std::uint32_t colour, float width) {
        const float x = x_of(time);
        if (in_plot(x)) {
            draw_->AddLine({x, at_.y}, {x, at_.y + size_.y}, colour, width);
        }
    }
    void shade(double from, double until) {
        draw_->AddRectFilled({std::max(x_of(from), plot_.left), at_.y},
                             {std::min(x_of(until), plot_.left + plot_.width), at_.y + size_.y},
                             packed(sea.faded(0.15)));
    }

  private:
    /// As wide as the longest name, up to a third of the drawing.
    [[nodiscard]] float width_of_labels() const {
        const float least = 5.0F * ImGui::GetTextLineHeight();
        float width = least;
        const auto meet = [&](const std::string& name) {
            width = std::max(width, ImGui::CalcTextSize(name.c_str()).x + ImGui::GetStyle().ItemSpacing.x);
        };
        if (history_.size() > 0) {
            const Chart& chart = newest_chart();
            for (std::uint8_t i = 0; i < chart.meter_count(); ++i) {
                meet(chart.name(MeterId{i}));
            }
            for (std::uint8_t i = 0; i < chart.action_count(); ++i) {
                meet(chart.name(ActionId{i}));
            }
        }
        return std::min(width, std::max(least, size_.x / 3.0F));
    }
    [[nodiscard]] const Chart& newest_chart() const { return history_.chart(history_.end()); }
    [[nodiscard]] float key_rows() const {
        return history_.size() > 0 ? static_cast<float>(newest_chart().action_count()) : 0.0F;
    }
    void label(float y, float height, const std::string& text, std::uint32_t colour) {
        const float line = std::min(ImGui::GetTextLineHeight(), std::max(8.0F, height));
        draw_->PushClipRect({at_.x, at_.y}, {plot_.left, at_.y + size_.y}, true);
        draw_->AddText(ImGui::GetFont(), line, {at_.x, y + 0.5F * (height - line)}, colour, text.data(),
                       text.data() + text.size());
        draw_->PopClipRect();
    }

    /// Stretches of one state, of the ticks that are shown.
    void state_band(float y, float height) {
        label(y, height, "state", packed(faint));
        Moment at = history_.moment_at(begin_);
        while (at < history_.end()) {
            const StateId state = history_.after(at).state();
            Moment last = at;
            while (last < history_.end() && history_.after(last).state() == state) {
                ++last.value;
            }
            const float left = std::max(x_of(history_.time(at)), plot_.left),
                        right = x_of(history_.time(last));
            const std::uint32_t colour = packed(tryout::colour_of(state));
            draw_->AddRectFilled({left, y + 1.0F}, {std::max(right, left + 1.0F), y + height - 1.0F}, colour);
            const std::string& name = history_.chart(at).name(state);
            if (ImGui::CalcTextSize(name.c_str()).x < right - left - 4.0F) {
                draw_->AddText({left + 3.0F, y + 1.0F}, packed(tryout::paper), name.c_str());
            }
            at = last;
        }
    }

    /// A curve through a value of the runner: a point for every second pixel at most, and none on the line between its neighbours.
    /// Levels and speeds go straight for most of the time, and what draws in software counts triangles.
    template <class Value>
    void curve(float y, float height, double highest, std::uint32_t colour, float width, Value value) {
        draw_->PathClear();
        const auto columns = static_cast<std::uint64_t>(std::max(2.0F, plot_.width / 2.0F));
        const Moment first = history_.moment_at(begin_);
        const std::uint64_t shown = history_.end().value - first.value;
        const std::uint64_t step = std::max<std::uint64_t>(1, shown / columns);
        StraightParts parts(*draw_);
        for (Moment at = first; at <= history_.end(); at.value += step) {
            const double part = std::clamp(value(history_.runner(at)) / highest, 0.0, 1.0);
            parts.add({std::max(x_of(history_.time(at)), plot_.left),
                       y + height - 2.0F - (height - 4.0F) * static_cast<float>(part)});
        }
        parts.end();
        draw_->PathStroke(colour, 0, width);
    }

    void speed_curves(float y, float height) {
        double highest = 1.0;
        const Moment first = history_.moment_at(begin_);
        for (Moment at = first; at <= history_.end(); ++at.value) {
            const Runner& runner = history_.runner(at);
            highest = std::max({highest, level_speed(runner), runner.speed_target()});
        }
        highest *= 1.05;
        draw_->AddLine({plot_.left, y}, {plot_.left + plot_.width, y}, packed(grid));
        label(y, height, fmt::format("{:.1f} m/s", highest), packed(ink));
        curve(y, height, highest, packed(faint.faded(0.7)), 1.0F,
              [](const Runner& runner) { return runner.speed_target(); });
        curve(y, height, highest, packed(ink), 1.6F, level_speed);
    }
    static double level_speed(const Runner& runner) {
        return std::hypot(runner.velocity().x, runner.velocity().y);
    }

    void meter_curves(float y, float height) {
        const Chart& chart = newest_chart();
        draw_->AddLine({plot_.left, y}, {plot_.left + plot_.width, y}, packed(grid));
        const float row =
            std::min(ImGui::GetTextLineHeight(), height / static_cast<float>(chart.meter_count()));
        for (std::uint8_t i = 0; i < chart.meter_count(); ++i) {
            const MeterId meter{i};
            label(y + row * static_cast<float>(i), row, chart.name(meter), packed(tryout::colour_of(meter)));
            // Of an older chart's runner the level is kept, whatever its number was then: no level is read of it.
            double last = 1.0;
            Moment at = history_.moment_at(begin_);
            curve(y, height, 1.0, packed(tryout::colour_of(meter)), 1.6F, [&](const Runner& runner) {
                while (at < history_.end() && &history_.runner(at) != &runner) {
                    ++at.value;
                }
                const Chart& then = history_.chart(at);
                if (then.naming() == chart.naming()) {
                    last = read_meter(then, runner, meter).fraction;
                }
                return last;
            });
        }
    }

    void key_bars(float y, float height) {
        const Chart& chart = newest_chart();
        const float row = height / std::max(1.0F, key_rows());
        for (std::uint8_t i = 0; i < chart.action_count(); ++i) {
            const float top = y + row * static_cast<float>(i);
            label(top, row, chart.name(ActionId{i}), packed(faint));
            Moment at = history_.moment_at(begin_);
            const auto on = [&](Moment moment) {
                return history_.chart(moment).naming() == chart.naming() &&
                       history_.after(moment).on(ActionId{i});
            };
            while (at < history_.end()) {
                Moment last = at;
                const bool is = on(at);
                while (last < history_.end() && on(last) == is) {
                    ++last.value;
                }
                if (is) {
                    draw_->AddRectFilled({std::max(x_of(history_.time(at)), plot_.left), top + 1.0F},
                                         {x_of(history_.time(last)), top + row - 1.0F},
                                         packed(sea.faded(0.8)));
                }
                at = last;
            }
        }
    }

    void time_axis(float y) {
        const double step = seconds_ > 60.0 ? 20.0 : seconds_ > 20.0 ? 5.0 : seconds_ > 8.0 ? 2.0 : 0.5;
        for (double time = std::ceil(begin_ / step) * step; time <= begin_ + seconds_; time += step) {
            if (time < -1e-9) {
                continue;
            }
            const std::string text = fmt::format("{:g} s", time);
            draw_->AddLine({x_of(time), at_.y}, {x_of(time), y + 2.0F}, packed(grid));
            draw_->AddText({x_of(time) + 2.0F, y}, packed(faint), text.c_str());
        }
    }

    const History& history_;
    ImDrawList* draw_;
    ImVec2 at_, size_;
    double begin_, seconds_;
    float label_ = 0.0F;
    struct {
        float left, width;
    } plot_{};
};

void tell_moment(const History& history, Moment at) {
    const Runner& runner = history.runner(at);
    const Chart& chart = history.chart(at);
    ImGui::BeginTooltip();
    say(fmt::format("{:.3f} s: {}", history.time(at), chart.name(runner.state())), ink);
    say(fmt::format("for {:.3f} s, {}", runner.time_in_state().value, cause_text(history, runner)), faint);
    say(fmt::format("{:.2f} m/s of {:.2f}", runner.speed(), runner.speed_target()), faint);
    for (std::uint8_t i = 0; i < chart.meter_count(); ++i) {
        say(fmt::format("{} {:.1f}", chart.name(MeterId{i}), read_meter(chart, runner, MeterId{i}).level),
            faint);
    }
    ImGui::EndTooltip();
}

}  // namespace

Timeline::Choice Timeline::show(const History& history, Moment now, double height) {
    Choice choice;
    const ImVec2 room = ImGui::GetContentRegionAvail();
    const float text = ImGui::GetTextLineHeight();
    const ImVec2 size{std::max(room.x, 12.0F * text),
                      std::max(height > 0.0 ? static_cast<float>(height) : room.y, 5.0F * text)};
    const ImVec2 at = ImGui::GetCursorScreenPos();
    ImGui::PushID(this);  // a window may have several
    ImGui::InvisibleButton("timeline", size,
                           ImGuiButtonFlags_MouseButtonLeft | ImGuiButtonFlags_MouseButtonRight);
    ImGui::PopID();
    const bool hovered = ImGui::IsItemHovered(), held = ImGui::IsItemActive();
    seconds_ = std::clamp(seconds_, 2.0, 120.0);
    const double end = history.size() > 0 ? history.time(history.end()) : 0.0;
    const double marked = history.size() > 0 ? history.time(now) : 0.0;
    const double begin = std::min(std::max(0.0, end - seconds_), marked);
    TimelineDrawing drawing(history, at, size, begin, seconds_);
    drawing.everything();
    if (stretch_ && history.keeps(stretch_->from) && history.keeps(stretch_->until)) {
        drawing.shade(history.time(stretch_->from), history.time(stretch_->until));
    }
    drawing.mark(marked, packed(alarm), 2.0F);
    if (history.size() == 0) {
        return choice;
    }
    const ImVec2 mouse = ImGui::GetMousePos();
    const double pointed = drawing.time_of(mouse.x);
    if (hovered && drawing.in_plot(mouse.x) && pointed <= end) {
        drawing.mark(pointed, packed(faint), 1.0F);
        tell_moment(history, history.moment_at(pointed));
        seconds_ *= std::pow(0.85, static_cast<double>(ImGui::GetIO().MouseWheel));
    }
    if (held && ImGui::IsMouseDown(ImGuiMouseButton_Left) && drawing.in_plot(mouse.x)) {
        choice.moment = history.moment_at(pointed);
    }
    if (held && ImGui::IsMouseDown(ImGuiMouseButton_Right)) {
        drag_begin_ = drag_begin_.value_or(pointed);
        stretch_ = Stretch{history.moment_at(std::min(*drag_begin_, pointed)),
                           history.moment_at(std::max(*drag_begin_, pointed))};
    } else if (drag_begin_) {
        drag_begin_.reset();
        choice.stretch_chosen = stretch_ && stretch_->from < stretch_->until;
        if (!choice.stretch_chosen) {
            stretch_.reset();
        }
    }
    return choice;
}

}  // namespace cursimeter::panels
