#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/drill/sayable.hpp>
#include <cursimeter/reload.hpp>
#include <cursimeter/tryout/tryout.hpp>

namespace cursimeter::tryout {
namespace {

Placement sayable_start(Placement start) {
    start.yaw = sayable::angle(start.yaw).radians();
    return start;
}

double lowest_of(const Course& course) {
    double lowest = 0.0;
    for (const Solid& solid : course.solids()) {
        double reach = 0.0;
        for (int axis = 0; axis < 3; ++axis) {
            reach += std::fabs(solid.axes[static_cast<std::size_t>(axis)].z) * solid.half[axis];
        }
        lowest = std::min(lowest, solid.middle.z - reach);
    }
    return lowest;
}

}  // namespace

void take_press_modes(const Chart& chart, Runner& runner, const Runner& like) {
    for (std::uint8_t i = 0; i < chart.action_count(); ++i) {
        set_press_mode(runner, ActionId{i}, like.press_mode(ActionId{i}));
    }
}

Tryout::Tryout(const Chart& chart, const std::optional<Course>& course, const Options& options)
    : options_(options),
      chart_(chart),
      first_chart_(chart),
      course_(course),
      history_(options.keep, options.rate) {
    options_.start = sayable_start(options.start);
    if (options_.from) {
        options_.start = {options_.from->position(), options_.from->yaw()};
        static_cast<void>(carry_over(chart, *options_.from, chart));  // refuses one of another chart
    }
    begin_with(options_.from ? *options_.from : spawn(chart, options_.start));
    if (course_) {
        terrain_.emplace(*course_, chart_);
        floor_ = lowest_of(*course_);
    }
    changes_.reserve(History::most_changes);
}

void Tryout::begin_with(const Runner& runner) {
    runner_ = before_ = newest_ = runner;
    hands_ = options_.from ? hands_of(runner) : empty_hands(runner);
    hands_.facing = options_.facing;
}

/// As survey::even_ticks has them, so that a run of the drill is the same to the bit.
double Tryout::end_of_tick(std::uint64_t tick) const {
    return tick_end(options_.rate, options_.time, tick);
}

/// What is wanted, as a drill would say it: how things were before, and what changes at which microsecond.
Intent Tryout::as_a_drill_says_it(const Intent& intent) {
    const double begin = world_time(), end = end_of_tick(lived_);
    const auto place = [&](double at) {
        constexpr double steps = sayable::microseconds;
        double time = sayable::time(begin + at);
        time = time < begin ? std::ceil(begin * steps) / steps : time;
        time = time >= end ? std::ceil(end * steps - 1.0) / steps : time;
        return std::max(0.0, time - begin);
    };
    hands_.naming = chart_.naming();
    Intent said = hands_;
    changes_.clear();
    const auto want = [&](const Change& change) {
        const Intent before = hands_;
        hands_.take_in(change);
        const bool is_news =
            hands_.held != before.held || hands_.move != before.move || hands_.look != before.look;
        if (is_news && changes_.size() < History::most_changes) {
            changes_.push_back(change);
            changes_.back().at = place(change.at);
        }
    };
    for (std::uint8_t i = 0; i < chart_.action_count(); ++i) {
        const ActionId action{i};
        want((intent.held & key_bit(action)) != 0 ? Change::press(action, 0.0)
                                                  : Change::release(action, 0.0));
    }
    want(Change::move_to(sayable::move(intent.move), 0.0));
    want(Change::look_to(sayable::look(intent.look), 0.0));
    for (const Change& change : intent.changes) {
        switch (change.kind) {
            case ChangeKind::press:
            case ChangeKind::release:
                if (change.action.index < chart_.action_count()) {
                    want(change);
                }
                break;
            case ChangeKind::move:
                want(Change::move_to(sayable::move({change.x, change.y}), change.at));
                break;
            case ChangeKind::look:
                want(Change::look_to(sayable::look({change.x, change.y}), change.at));
                break;
        }
    }
    said.changes = changes_;
    return said;
}

const Report& Tryout::tick(const Intent& intent) {
    history_.cut(now_);
    const bool looping = !loop_.empty();
    if (looping && loop_next_ == loop_.size()) {
        go_to(stretch_.from);
        history_.cut(now_);
        loop_next_ = 0;
        restart_ghost();
    }
    Intent wanted = as_a_drill_says_it(looping ? loop_[loop_next_].intent() : intent);
    const double begin = world_time();
    const Seconds dt{end_of_tick(lived_) - begin};
    before_ = runner_;
    history_.begin_tick(chart_, runner_, wanted, dt, begin);
    if (terrain_) {
        terrain_->set_time(begin);
        report_ = advance(chart_, runner_, wanted, *terrain_, dt);
    } else {
        report_ = advance(chart_, runner_, wanted, dt);
    }
    history_.end_tick(runner_, report_);
    ++lived_;
    ++ticks_;
    now_ = history_.end();
    newest_ = runner_;
    newest_lived_ = lived_;
    play_ghost(wanted, begin, dt);
    loop_next_ += looping ? 1 : 0;
    return report_;
}

Tryout::Wanted Tryout::mapped(const IdMap& ids, const Wanted& wanted) {
    Wanted same{wanted.move, wanted.look, ids.held(wanted.held), {}};
    for (const Change& change : wanted.changes) {
        if (const std::optional<Change> there = ids(change)) {
            same.changes.push_back(*there);
        }
    }
    return same;
}

std::vector<std::string> Tryout::set_chart(const Chart& chart) {
    if (chart.digest() == chart_.digest() && chart.naming() == chart_.naming()) {
        chart_ = chart;
        return {};
    }
    CarriedOver carried = carry_over(chart_, runner_, chart);
    const IdMap& ids = carried.ids;
    hands_.held = ids.held(hands_.held);
    for (Wanted& wanted : loop_) {
        wanted = mapped(ids, wanted);
    }
    before_ = carry_over(chart_, before_, chart).runner;
    newest_ = now_ == history_.end() ? carried.runner : carry_over(chart_, newest_, chart).runner;
    runner_ = carried.runner;
    chart_ = chart;
    if (course_) {
        terrain_.emplace(*course_, chart_);
    }
    if (ghost_) {
        ghost_->ids = IdMap(chart_, ghost_->chart);
    }
    return carried.lost;
}

void Tryout::respawn() {
    history_.cut(now_);
    end_loop();
    const bool first = chart_.digest() == first_chart_.digest() && chart_.naming() == first_chart_.naming();
    Runner begun = !options_.from ? spawn(chart_, options_.start)
                   : first        ? *options_.from
                                  : carry_over(first_chart_, *options_.from, chart_).runner;
    take_press_modes(chart_, begun, runner_);
    begin_with(begun);
    lived_ = newest_lived_ = 0;
    restart_ghost();
}

std::uint64_t Tryout::lived_at(Moment moment) const {
    const double lived = history_.tick(moment).world_time - options_.time;
    return static_cast<std::uint64_t>(std::llround(lived * options_.rate));
}

Intent Tryout::hands_at(Moment moment) const {
    Intent hands = history_.tick(std::min(moment, Moment{history_.end().value - 1})).intent;
    if (moment == history_.end()) {
        for (const Change& change : hands.changes) {
            hands.take_in(change);
        }
    }
    hands.changes = {};
    return hands;
}

Moment Tryout::begun() const {
    const std::uint64_t played = now_.value - history_.first().value;
    return {now_.value - std::min(played, lived_)};
}

void Tryout::go_to(Moment moment) {
    moment = std::clamp(moment, history_.first(), history_.end());
    if (history_.size() == 0 || moment == now_) {
        return;
    }
    if (now_ == history_.end()) {
        newest_ = runner_;
        newest_lived_ = lived_;
    }
    now_ = moment;
    const Chart& then = history_.chart(moment);
    const bool newest = moment == history_.end();
    const bool same = newest || (then.digest() == chart_.digest() && then.naming() == chart_.naming());
    runner_ = newest ? newest_
              : same ? history_.runner(moment)
                     : carry_over(then, history_.runner(moment), chart_).runner;
    before_ = runner_;
    lived_ = newest ? newest_lived_ : lived_at(moment);
    hands_ = hands_at(moment);
    if (!same) {
        hands_.held = IdMap(then, chart_).held(hands_.held);
    }
    if (newest && newest_lived_ == 0) {
        begin_with(Runner(runner_));
    }
    place_ghost();
}

void Tryout::step_back(std::uint64_t ticks) {
    const std::uint64_t kept = now_.value - history_.first().value;
    go_to({now_.value - std::min(ticks, kept)});
}

void Tryout::step_on(std::uint64_t ticks) {
    if (now_ < history_.end()) {
        go_to({now_.value + ticks});
    } else {
        tick(Intent(hands_));
    }
}

bool Tryout::loop(Moment from, Moment until) {
    from = std::clamp(from, history_.first(), history_.end());
    until = std::clamp(until, history_.first(), history_.end());
    if (from >= until) {
        return false;
    }
    std::vector<Wanted> wanted;
    for (Moment at = from; at < until; ++at.value) {
        const Intent intent = history_.tick(at).intent;
        Wanted one{intent.move, intent.look, intent.held, {intent.changes.begin(), intent.changes.end()}};
        const Chart& then = history_.chart(at);
        wanted.push_back(then.naming() == chart_.naming() ? std::move(one)
                                                          : mapped(IdMap(then, chart_), one));
    }
    loop_ = std::move(wanted);
    stretch_ = {from, until};
    loop_next_ = 0;
    go_to(from);
    restart_ghost();
    return true;
}

void Tryout::end_loop() {
    loop_.clear();
    loop_next_ = 0;
}

std::optional<Tryout::Stretch> Tryout::looped() const {
    return loop_.empty() ? std::nullopt : std::optional(stretch_);
}

PlayedTake Tryout::take_since(Moment moment, const ChartSpec& spec, const std::string& note) const {
    return record_take(history_, std::max(moment, history_.first()), now_, course_, spec, note);
}

DrillSpec Tryout::drill_since(Moment moment, const std::string& name) const {
    return written_drill(history_, std::max(moment, history_.first()), now_, name);
}

bool Tryout::fell_out() const {
    constexpr double depth = 30.0;  // m below everything
    return course_ && runner_.position().z < floor_ - depth;
}

}  // namespace cursimeter::tryout
