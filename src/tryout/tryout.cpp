#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/reload.hpp>
#include <cursimeter/tryout/tryout.hpp>

namespace cursimeter::tryout {
namespace {

/// Moves and looks are wanted in steps as fine as a person can type: so a drill says them exactly.
constexpr double steps_of_move = 1e4, steps_of_degree = 1e4, microseconds = 1e6;
constexpr double degrees = 180.0 / 3.141592653589793;

double rounded(double value, double steps) {
    return std::isfinite(value) ? std::round(value * steps) / steps : 0.0;
}

Look rounded(Look look) {
    return {Degrees(rounded(look.yaw * degrees, steps_of_degree)).radians(),
            Degrees(rounded(look.pitch * degrees, steps_of_degree)).radians()};
}

Move rounded(Move move) {
    return {rounded(move.forward, steps_of_move), rounded(move.side, steps_of_move)};
}

Placement rounded(Placement start) {
    start.yaw = rounded(Look{start.yaw, 0.0}).yaw;
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

Tryout::Tryout(const Chart& chart, const std::optional<Course>& course, const Options& options)
    : options_(options),
      chart_(chart),
      course_(course),
      history_(options.keep, options.rate),
      runner_(spawn(chart, rounded(options.start))) {
    options_.start = rounded(options.start);
    before_ = newest_ = runner_;
    if (course_) {
        terrain_.emplace(*course_, chart_);
        floor_ = lowest_of(*course_);
    }
    hands_.look = {runner_.yaw(), 0.0};
    changes_.reserve(History::most_changes);
}

/// As survey::even_ticks has them, so that a run of the drill is the same to the bit.
double Tryout::end_of_tick(std::uint64_t tick) const {
    return static_cast<double>(tick + 1) / options_.rate;
}

/// What is wanted, as a drill would say it: how things were before, and what changes at which microsecond.
Intent Tryout::as_a_drill_says_it(const Intent& intent) {
    const double begin = lived_ == 0 ? 0.0 : end_of_tick(lived_ - 1), end = end_of_tick(lived_);
    const auto place = [&](double at) {
        double time = rounded(begin + at, microseconds);
        time = time < begin ? std::ceil(begin * microseconds) / microseconds : time;
        time = time >= end ? std::ceil(end * microseconds - 1.0) / microseconds : time;
        return std::max(0.0, time - begin);
    };
    Intent said;
    said.move = hands_.move;
    said.look = hands_.look;
    said.held = hands_.held;
    said.naming = chart_.naming();
    changes_.clear();
    const auto add = [&](Change change) {
        if (changes_.size() < History::most_changes) {
            change.at = place(change.at);
            changes_.push_back(change);
        }
    };
    const auto want_move = [&](Move move, double at) {
        if (rounded(move) != hands_.move) {
            hands_.move = rounded(move);
            add(Change::move_to(hands_.move, at));
        }
    };
    const auto want_look = [&](Look look, double at) {
        if (rounded(look) != hands_.look) {
            hands_.look = rounded(look);
            add(Change::look_to(hands_.look, at));
        }
    };
    const auto want_key = [&](ActionId action, bool down, double at) {
        const std::uint32_t bit = key_bit(action);
        if (action.index < chart_.action_count() && ((hands_.held & bit) != 0) != down) {
            hands_.held ^= bit;
            add(down ? Change::press(action, at) : Change::release(action, at));
        }
    };
    for (std::uint8_t i = 0; i < chart_.action_count(); ++i) {
        want_key(ActionId{i}, (intent.held & key_bit(ActionId{i})) != 0, 0.0);
    }
    want_move(intent.move, 0.0);
    want_look(intent.look, 0.0);
    for (const Change& change : intent.changes) {
        switch (change.kind) {
            case ChangeKind::press:
            case ChangeKind::release:
                want_key(change.action, change.kind == ChangeKind::press, change.at);
                break;
            case ChangeKind::move:
                want_move({change.x, change.y}, change.at);
                break;
            case ChangeKind::look:
                want_look({change.x, change.y}, change.at);
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
        if (ghost_) {
            start_ghost(Chart(ghost_->chart), std::string(ghost_->name));
        }
    }
    Intent wanted = as_a_drill_says_it(looping ? loop_[loop_next_].intent() : intent);
    const double begin = lived_ == 0 ? 0.0 : end_of_tick(lived_ - 1);
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
    const Runner fresh = spawn(chart_, options_.start);
    const auto modes = [&](Runner& runner) {
        for (std::uint8_t i = 0; i < chart_.action_count(); ++i) {
            set_press_mode(runner, ActionId{i}, runner_.press_mode(ActionId{i}));
        }
    };
    Runner begun = fresh;
    modes(begun);
    runner_ = before_ = newest_ = begun;
    lived_ = newest_lived_ = 0;
    hands_ = {{}, {runner_.yaw(), 0.0}, 0};
    if (ghost_) {
        start_ghost(Chart(ghost_->chart), std::string(ghost_->name));
    }
}

std::uint64_t Tryout::lived_at(Moment moment) const {
    return static_cast<std::uint64_t>(std::llround(history_.tick(moment).world_time * options_.rate));
}

Tryout::Hands Tryout::hands_at(Moment moment) const {
    if (moment < history_.end()) {
        const Intent intent = history_.tick(moment).intent;
        return {intent.move, intent.look, intent.held};
    }
    Hands hands = hands_at({moment.value - 1});
    for (const Change& change : history_.tick({moment.value - 1}).intent.changes) {
        switch (change.kind) {
            case ChangeKind::press:
                hands.held |= key_bit(change.action);
                break;
            case ChangeKind::release:
                hands.held &= ~key_bit(change.action);
                break;
            case ChangeKind::move:
                hands.move = {change.x, change.y};
                break;
            case ChangeKind::look:
                hands.look = {change.x, change.y};
                break;
        }
    }
    return hands;
}

Moment Tryout::begun() const {
    const std::uint64_t played = now_.value - history_.first().value;
    return {now_.value - std::min(played, lived_)};
}

Intent Tryout::present_hands() const {
    Intent intent;
    intent.move = hands_.move;
    intent.look = hands_.look;
    intent.held = hands_.held;
    return intent;
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
        hands_ = {{}, {runner_.yaw(), 0.0}, 0};
    }
    place_ghost();
}

void Tryout::step(int ticks) {
    const auto now = static_cast<std::int64_t>(now_.value);
    const auto first = static_cast<std::int64_t>(history_.first().value);
    go_to({static_cast<std::uint64_t>(std::max(first, now + ticks))});
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
    if (ghost_) {
        start_ghost(Chart(ghost_->chart), std::string(ghost_->name));
    }
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
