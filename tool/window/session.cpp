#include "window/session.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/chartfile/controls_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/tryout/default_controls.hpp>

#include "files/files.hpp"
#include "window/input_names.hpp"

namespace cursimeter::tool {
namespace {

std::optional<DrillFile> read_drill(const TryOptions& options, const Chart& chart) {
    return options.drill.empty() ? std::nullopt : std::optional(open_drill(options.drill, chart));
}

ControlsSpec read_controls(const TryOptions& options, const Chart& chart,
                           std::vector<std::string>& cautions) {
    const ControlsSpec usual = tryout::default_controls(chart);
    if (options.controls.empty()) {
        return usual;
    }
    const ControlsSpec own = load_controls(options.controls, chart);
    for (const std::string& caution : cautions_of(own)) {
        cautions.push_back(fmt::format("{}: caution: {}", options.controls, caution));
    }
    return over_defaults(usual, own);
}

tryout::Tryout make_tryout(const TryOptions& options, const Chart& chart, std::vector<tryout::Sign>& signs,
                           const std::optional<DrillFile>& drill) {
    tryout::Tryout::Options settings;
    settings.rate = options.rate;
    std::optional<Course> course;
    if (options.course.empty()) {
        tryout::Yard yard = tryout::make_yard(chart);
        settings.start = yard.start;
        signs = std::move(yard.signs);
        course.emplace(yard.course);
    } else {
        course = open_course(options.course);
        // A course says nothing of a start: behind the first leg's gate, looking along it.
        const std::vector<LegSpec>& legs = course->spec().legs;
        if (!legs.empty()) {
            const GateSpec& gate = legs.front().start;
            const glm::dvec3 from(gate.from[0], gate.from[1], gate.from[2]),
                to(gate.to[0], gate.to[1], gate.to[2]);
            const GateSpec& finish = legs.front().finish;
            const glm::dvec3 way =
                glm::dvec3(finish.from[0] + finish.to[0], finish.from[1] + finish.to[1], 0.0) * 0.5 -
                glm::dvec3(from.x + to.x, from.y + to.y, 0.0) * 0.5;
            settings.start.yaw = std::atan2(way.y, way.x);
            const double length = std::max(std::hypot(way.x, way.y), 1e-6);
            settings.start.position = (from + to) * 0.5 - glm::dvec3(way.x, way.y, 0.0) * (1.5 / length);
        }
        for (const LegSpec& leg : legs) {
            const Point &a = leg.start.from, &b = leg.start.to;
            signs.push_back(
                {{0.5 * (a[0] + b[0]), 0.5 * (a[1] + b[1]), 0.5 * (a[2] + b[2]) + 2.6}, leg.name});
        }
    }
    if (drill) {
        const Runner begun = drill->drill.spawn(chart);
        settings.start = {begun.position(), begun.yaw()};
        settings.time = drill->drill.begin().value;
        settings.facing = drill->drill.facing();
        if (drill->drill.saved()) {
            settings.from = begun;
        }
    }
    if (!options.facing.empty()) {
        settings.facing = options.facing == "movement" ? Facing::movement : Facing::look;
    }
    return {chart, course, settings};
}

constexpr double body_turns = 12.0;  ///< rad/s, where the character faces the way that it goes

std::array<BodyFacing, shown_bodies> facing(double yaw) {
    const BodyFacing body(yaw, body_turns);
    return {body, body, body, body};
}

}  // namespace

Session::Session(const TryOptions& options)
    : chart_saved_(options.chart),
      tuning(read_text(options.chart), options.chart),
      drill_file_(read_drill(options, tuning.chart())),
      play(make_tryout(options, tuning.chart(), signs_, drill_file_)),
      clock(options.rate),
      chart_file_(options.chart),
      controls_file_(options.controls),
      course_file_(options.course),
      controls_spec_(read_controls(options, tuning.chart(), cautions_)),
      controls_(tuning.chart(), controls_spec_),
      against_name_(options.against),
      net_history_(Seconds{60.0}, options.rate),
      rate_(options.rate),
      facings_(facing(play.runner().yaw())) {
    if (!options.against.empty()) {
        against_ = open_chart(options.against);
    }
    respawn();
    if (against_) {
        ghost(true);
    }
    if (!cautions_.empty()) {
        tell(cautions_.front(), true);
    }
    if (!options.set.empty()) {
        const std::size_t equals = options.set.find('=');
        const char* text = equals == std::string::npos ? "" : options.set.c_str() + equals + 1;
        char* end = nullptr;
        const double value = std::strtod(text, &end);
        if (end == text || *end != '\0') {
            throw ChartError({{"--set",
                               fmt::format("'{}' sets nothing", options.set),
                               "write PATH=NUMBER, such as states.walk.speed.forward=3",
                               {},
                               0,
                               0}});
        }
        ghost(true);
        tuning.set(options.set.substr(0, equals), value);
        tuning.end_turn();
        use_tuned_chart();
    }
    if (options.network) {
        network(true);
    }
}

void Session::tell(std::string text, bool wrong) {
    word_ = {std::move(text), wrong, now_};
}

void Session::queue(const Input& input) {
    inputs_.push_back(input);
}
void Session::press(const std::string& input, double time) {
    if (down_.insert(input).second) {
        queue({time, InputKind::press, controls_.input(input), 0.0, 0.0});
    }
}
void Session::release(const std::string& input, double time) {
    if (down_.erase(input) > 0) {
        queue({time, InputKind::release, controls_.input(input), 0.0, 0.0});
    }
}
void Session::turn(double x, double y, double time) {
    queue({time, InputKind::turn, {}, x, y});
}
void Session::deflect(double x, double y, double time) {
    queue({time, InputKind::deflect, {}, x, y});
}
void Session::deflect_look(double x, double y) {
    controls_.deflect_look(x, y);
}
void Session::release_all() {
    down_.clear();
    inputs_.clear();
    controls_.release_all();
}
void Session::release_device(const std::string& prefix) {
    take_inputs(1e300);
    std::erase_if(down_, [&](const std::string& input) { return input.starts_with(prefix); });
    controls_.release_device(prefix);
    if (prefix == "pad.") {
        controls_.deflect(0.0, 0.0);
        controls_.deflect_look(0.0, 0.0);
    }
}

void Session::apply(const Input& input, double at) {
    switch (input.kind) {
        case InputKind::press:
            controls_.press(input.id, at);
            hands_take_over();
            break;
        case InputKind::release:
            controls_.release(input.id, at);
            break;
        case InputKind::turn:
            controls_.turn(input.x, input.y);
            break;
        case InputKind::deflect:
            controls_.deflect(input.x, input.y, at);
            if (std::hypot(input.x, input.y) > 0.5) {
                hands_take_over();
            }
            break;
    }
}

/// What came before a time within the tick that is due.
void Session::take_inputs(double before) {
    while (!inputs_.empty() && (clock.paused() || clock.place(Seconds{inputs_.front().time}) < before)) {
        const Input input = inputs_.front();
        inputs_.pop_front();
        apply(input, clock.paused() ? 0.0 : clock.place(Seconds{input.time}));
    }
}

void Session::hands_take_over() {
    if (drill_) {
        end_drill("the drill has ended: your hands have taken over");
    }
}

void Session::end_drill(const char* why) {
    drill_.reset();
    controls_.set_look({play.runner().yaw(), play.runner().pitch()});
    controls_.apply_press_modes(play.chart(), play.touch());
    tell(why);
}

/// What is wanted in the tick from one time of the drill to another.
Intent Session::wanted(double tick_begin, double tick_end) {
    if (drill_ && tick_begin > drill_file_->drill.begin().value + drill_file_->drill.length().value) {
        end_drill("the drill is over");
    }
    Intent intent = drill_ ? drill_->intent(tick_begin, tick_end) : controls_.intent();
    intent.facing = play.facing();
    return intent;
}

void Session::use_tuned_chart() {
    const Chart& chart = tuning.chart();
    if (play.looped() && !play.ghost()) {
        play.start_ghost(play.chart(), "as it was");
    }
    const std::vector<std::string> lost = play.set_chart(chart);
    if (chart.naming() != controls_.intent().naming) {
        try {
            controls_.carry_over(chart);
        } catch (const ChartError&) {  // an action is gone
            ControlsSpec spec = controls_spec_;
            std::erase_if(spec.bindings, [&](const BindingSpec& binding) {
                const ControlsSpec one{"", {binding}, {}, {}, {}};
                try {
                    static_cast<void>(Controls(chart, one));
                    return false;
                } catch (const ChartError&) {
                    return true;
                }
            });
            set_controls(over_defaults(tryout::default_controls(chart), spec));
        }
        hands_take_over();
    }
    if (!lost.empty()) {
        tell(fmt::format("{}", fmt::join(lost, "; ")));
    }
    if (net_) {
        network(true);  // all ends must have one chart
    }
}

void Session::respawn() {
    controls_.apply_press_modes(play.chart(), play.touch());
    play.respawn();
    controls_.set_look({play.runner().yaw(), play.runner().pitch()});
    drill_.reset();
    if (drill_file_ && drill_file_->drill.naming() == play.chart().naming()) {
        drill_.emplace(drill_file_->drill, play.runner());
        tryout::take_press_modes(play.chart(), play.touch(), drill_file_->drill.spawn(play.chart()));
    }
    if (net_) {
        network(true);
    }
}

void Session::ghost(bool on) {
    if (!on) {
        play.end_ghost();
    } else if (against_) {
        play.start_ghost(against_->chart, against_name_);
    } else {
        play.start_ghost(tuning.saved().chart, "as saved");
    }
}

void Session::network(bool on) {
    net_.reset();
    net_ticks_ = 0;
    net_history_.clear();
    if (on) {
        if (drill_ && drill_file_->drill.saved()) {
            end_drill("the drill goes on from a saved runner, whom the server does not know: play by hand");
        }
        net_ = std::make_unique<tryout::OverNetwork>(play.chart(), play.course(), rate_, play.start(),
                                                     play.runner());
    }
}

void Session::set_controls(const ControlsSpec& spec) {
    take_inputs(1e300);  // they have the numbers that inputs had until now
    Controls made(tuning.chart(), spec);
    made.set_look(controls_.look());
    controls_ = std::move(made);
    controls_spec_ = spec;
    for (const std::string& input : down_) {
        controls_.press(controls_.input(input));
    }
    controls_.apply_press_modes(play.chart(), play.touch());
}

bool Session::rebind(std::size_t binding, const std::string& input) {
    ControlsSpec spec = controls_spec_;
    if (binding >= spec.bindings.size()) {
        return false;
    }
    spec.bindings[binding].inputs = {input};
    try {
        set_controls(spec);
    } catch (const ChartError& error) {
        tell(error.what(), true);
        return false;
    }
    const std::vector<std::string> twice = conflicts(spec);
    tell(twice.empty() ? fmt::format("'{}' is on {} now", spec.bindings[binding].action, input)
                       : fmt::format("{}", fmt::join(twice, "; ")));
    return true;
}

}  // namespace cursimeter::tool
