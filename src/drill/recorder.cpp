#include <algorithm>
#include <cursimeter/drill/recorder.hpp>
#include <cursimeter/drill/sayable.hpp>

namespace cursimeter {
namespace {

/// Within a step: release, then hold, then move, then look.
int order_of(ChangeKind kind) {
    switch (kind) {
        case ChangeKind::release:
            return 0;
        case ChangeKind::press:
            return 1;
        case ChangeKind::move:
            return 2;
        case ChangeKind::look:
            return 3;
    }
    return 0;
}

int last_order(const StepSpec& step) {
    return step.look ? 3 : step.move ? 2 : !step.hold.empty() ? 1 : 0;
}

void add(StepSpec& step, const Change& change, const Chart& chart) {
    switch (change.kind) {
        case ChangeKind::release:
            step.release.push_back(chart.name(change.action));
            break;
        case ChangeKind::press:
            step.hold.push_back(chart.name(change.action));
            break;
        case ChangeKind::move:
            step.move = Move{change.x, change.y};
            break;
        case ChangeKind::look:
            step.look = LookSpec{sayable::angle(change.x), sayable::angle(change.y)};
            break;
    }
}

}  // namespace

DrillRecorder::DrillRecorder(const Chart& chart, const Runner& runner, Seconds begin) {
    begin_ = begin.value;
    if (begin_ != 0.0) {
        drill_.start.time = begin_;
    }
    Runner spawned = spawn(chart, {runner.position(), sayable::angle(runner.yaw()).radians()});
    for (std::uint8_t i = 0; i < chart.action_count(); ++i) {
        const PressMode mode = runner.press_mode(ActionId{i});
        if (mode != chart.press_mode(ActionId{i})) {
            (mode == PressMode::toggle ? drill_.set_toggle : drill_.set_hold)
                .push_back(chart.name(ActionId{i}));
            set_press_mode(spawned, ActionId{i}, mode);
        }
    }
    const bool goes_on = digest(spawned) != digest(runner);
    if (goes_on) {
        drill_.start.runner = save_runner(chart, runner);
        drill_.set_hold.clear();
        drill_.set_toggle.clear();
    } else {
        const glm::dvec3& at = runner.position();
        drill_.start.position = {at.x, at.y, at.z};
        drill_.start.yaw = sayable::angle(runner.yaw());
    }
    const Intent hands = goes_on ? hands_of(runner) : empty_hands(runner);
    held_ = hands.held;
    move_ = hands.move;
    look_ = hands.look;
}

/// Writes a change into the step of its time, if what stands there already comes before it within a step.
void DrillRecorder::put(const Chart& chart, double time, const Change& change) {
    const double at = sayable::since(begin_, time);
    if (!drill_.steps.empty() && drill_.steps.back().at == at) {
        StepSpec& step = drill_.steps.back();
        const int order = order_of(change.kind), last = last_order(step);
        if (order > last || (order == last && last < 2)) {
            add(step, change, chart);
            return;
        }
    }
    StepSpec& step = drill_.steps.emplace_back();
    step.at = at;
    add(step, change, chart);
}

/// Notes how the hands are after a change, and writes it.
void DrillRecorder::take(const Chart& chart, double at, const Change& change) {
    switch (change.kind) {
        case ChangeKind::release:
            held_ &= ~key_bit(change.action);
            break;
        case ChangeKind::press:
            held_ |= key_bit(change.action);
            break;
        case ChangeKind::move:
            move_ = {change.x, change.y};
            break;
        case ChangeKind::look:
            look_ = {change.x, change.y};
            break;
    }
    put(chart, at, change);
}

void DrillRecorder::tick(const Chart& chart, const Intent& intent, double begin, Seconds seconds) {
    for (std::uint8_t i = 0; i < chart.action_count(); ++i) {
        if ((held_ & ~intent.held & key_bit(ActionId{i})) != 0) {
            take(chart, begin, Change::release(ActionId{i}, 0.0));
        }
    }
    for (std::uint8_t i = 0; i < chart.action_count(); ++i) {
        if ((intent.held & ~held_ & key_bit(ActionId{i})) != 0) {
            take(chart, begin, Change::press(ActionId{i}, 0.0));
        }
    }
    if (intent.move != move_) {
        take(chart, begin, Change::move_to(intent.move, 0.0));
    }
    if (intent.look != look_) {
        take(chart, begin, Change::look_to(intent.look, 0.0));
    }
    for (const Change& change : intent.changes) {
        take(chart, std::max(begin, sayable::time(begin + change.at)), change);
    }
    if (drill_.seconds == 0.0) {
        drill_.start.facing = intent.facing;
    }
    drill_.seconds = begin + seconds.value - begin_;
}

DrillSpec DrillRecorder::drill(const std::string& name) const {
    DrillSpec drill = drill_;
    drill.name = name;
    return drill;
}

}  // namespace cursimeter
