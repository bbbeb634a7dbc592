#include <algorithm>
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <cursimeter/advance.hpp>
#include <optional>

#include "core/motion/footsteps.hpp"
#include "core/motion/segment.hpp"
#include "core/numbers/slice.hpp"
#include "core/runner/instant.hpp"
#include "core/runner/timers.hpp"
#include "core/runner/wake.hpp"
#include "core/tick/follow_segment.hpp"
#include "core/tick/tick.hpp"
#include "core/tick/work_instant.hpp"
#include "core/want/keys.hpp"
#include "core/want/move_and_look.hpp"
#include "core/world/traveller.hpp"

/// The tick, from top to bottom.
///
/// Between two instants every rate is constant and motion has a closed form, so a tick is: let time
/// pass to the next instant, work the instant, go on. Most ticks hold no instant and take the straight
/// path in `advance` (tick/open_ground.hpp). What is due is kept as absolute times on the runner's clock, found when a segment or
/// a rate begins; so a tick that is cut elsewhere meets the same instants.
///
/// Instants within `instant_width` of each other are one. To keep that true across the border of two ticks, whatever
/// happens within that width of a tick's end, be it a key, a landing, a mark or the end of a segment, is worked at the start
/// of the next tick, where it meets the input of that start. The clock stops there meanwhile, and `lag` says how much
/// short of the tick's end: nothing is moved by a border of two ticks.
namespace cursimeter {
namespace {

using detail::RunnerState;

/// Time of a change on the runner's clock, moved into the tick and behind the changes before it.
double change_time_of(const Change& change, const RunnerState& runner, double begin, double end,
                      Report& report) {
    const double width = instant_width.value;
    const double time = begin + change.at;
    if (!(time >= runner.clock - width) || !(time <= end + width)) {
        report.intent_mended = true;
    }
    return time >= runner.clock ? std::min(time, end) : runner.clock;
}

/// A world that leaves no time between its contacts, as in a wedge, is given up after this many in a tick.
constexpr std::size_t most_contacts = limits::instants_per_tick;

}  // namespace

namespace detail {

namespace {

/// A tick that is cut at its instants, in four steps: take in what happens now, work it, find the next time at which
/// anything happens, let time pass up to it.
class CutTick {
  public:
    CutTick(Instant& instant, const Intent& intent, const World& world, double dt)
        : instant_(instant),
          runner_(instant.runner),
          report_(instant.report),
          intent_(intent),
          begin_(runner_.clock + double{runner_.lag}),
          end_(begin_ + dt),
          seconds_(dt) {
        runner_.lag = 0.0F;
        if (world.terrain != nullptr) {
            traveller_.emplace(instant, *world.terrain, begin_, dt, Questions::all);
            traveller_->arrive();
        }
        instant.dirty.note(Changed::woken, runner_.stale);
        find_change_time();
        find_first_focus();
    }

    void run() {
        do {
            take_in();
            work();
            let_pass_to(next_time());
        } while (!is_over());
        leave_rest();
    }

  private:
    static constexpr double width = instant_width.value;
    static constexpr unsigned news = dirty::facts | dirty::wanted | dirty::aim;

    void find_change_time() {
        change_time_ = next_ < intent_.changes.size()
                           ? change_time_of(intent_.changes[next_], runner_, begin_, end_, report_)
                           : never;
    }
    void take_next_change() {
        take_change(instant_, intent_.changes[next_]);
        ++next_;
        find_change_time();
    }

    /// A focus is looked at anew at fixed times of the runner's clock.
    void find_first_focus() {
        if (intent_.focus == nullptr) {
            return;
        }
        const Slice slice = slice_at(begin_, focus_slice);
        focus_time_ = slice.begin >= begin_ - width ? begin_ : slice.end;
    }
    void look_at_focus() {
        take_focus(runner_, *intent_.focus, instant_.at);
        instant_.dirty.note(Changed::look);
        focus_time_ = slice_at(runner_.clock, focus_slice).end;
    }

    /// Whatever lies within the width of an instant after the first thing that happens belongs to it. The end of a segment is such
    /// a thing: it may take the runner off the ground, or leave a jump of the speed.
    [[nodiscard]] double reach() const {
        const double now = runner_.clock;
        const bool happens = instant_.dirty.any(news) || change_time_ <= now || focus_time_ <= now ||
                             runner_.condition_due <= now || runner_.segment_due <= now;
        return happens ? now + width : now;
    }

    void take_in() {
        instant_.at = std::max(0.0, runner_.clock - begin_);
        report_.instants_capped = report_.instants_capped || capped_;
        reach_ = reach();
        reach_by_segment(instant_, reach_);
        while (change_time_ <= reach_ || (capped_ && next_ < intent_.changes.size())) {
            take_next_change();
        }
        if (focus_time_ <= reach_) {
            look_at_focus();
        }
        finish_segment(instant_, reach_);
    }

    void work() {
        if (is_at_end()) {
            return;
        }
        const bool due = !capped_ && runner_.condition_due <= reach_;
        if (!instant_.dirty.any(dirty::facts) && !due) {
            continue_segment(instant_);
        }
        if (instant_.dirty.any(dirty::facts) || due) {
            work_instant(instant_);
            capped_ = ++report_.instants >= limits::instants_per_tick;
        }
    }

    /// The next time at which something happens.
    [[nodiscard]] double next_time() const {
        const double due = capped_ ? never : runner_.condition_due;
        return std::min(std::min(change_time_, focus_time_),
                        std::min(std::min(due, runner_.segment_due), end_));
    }
    /// Within the moment that is left to the next tick's start.
    [[nodiscard]] bool is_at_end() const { return runner_.clock >= end_ - width && end_ - width > begin_; }
    /// Whether time has come to the tick's end, or so near to it that what happens now is left to the next tick.
    [[nodiscard]] bool is_over() const {
        return runner_.clock >= end_ || (is_at_end() && next_time() <= runner_.clock);
    }

    void let_pass_to(double until) {
        if (until > runner_.clock) {
            instant_.chart.has_strides ? walk(until) : move(until);
        } else if (runner_.clock < end_ && ++standstills_ > limits::instants_per_tick) {
            detail::arrive(instant_.chart,
                           runner_);  // segments of no length: rounding has the better of this chart
        }
    }
    /// Moves, and tells of the steps on the way.
    void walk(double until) {
        const StepsFrom start(instant_.chart, runner_);
        const std::uint16_t before = report_.event_count;
        move(until);
        const std::uint16_t contacts = report_.event_count;
        tell_steps(instant_.chart, runner_, report_, start, begin_);
        // A contact ends the stretch: the steps came first.
        const auto events = report_.event_table.begin();
        std::rotate(events + before, events + contacts, events + report_.event_count);
    }
    void move(double until) {
        if (traveller_) {
            travel(until);
            return;
        }
        // A tick that nothing cuts is the quiet one, bit for bit.
        const bool whole = runner_.clock == begin_ && until == end_;
        glide(instant_.chart, runner_, whole ? seconds_ : until - runner_.clock);
        runner_.clock = until;
    }
    void travel(double until) {
        const double seconds = until - runner_.clock;
        if (traveller_->pass(seconds) == seconds) {
            runner_.clock = until;
        }
        if (++contacts_ > most_contacts) {
            give_up_motion(instant_);
            runner_.clock = end_;
            traveller_->arrive();
        }
    }

    /// What happens at the tick's end is one moment with the start of the next tick, whose input is not known yet: it is
    /// taken in here and worked there, the end of a segment included: it may take the runner off the ground.
    void leave_rest() {
        runner_.lag = static_cast<float>(end_ - runner_.clock);
        instant_.at = end_ - begin_;
        while (next_ < intent_.changes.size()) {
            take_next_change();
        }
        runner_.momentary = instant_.momentary;
        if (instant_.dirty.any(news) || report_.instants_capped) {
            wake(runner_);
        }
    }

    Instant& instant_;
    RunnerState& runner_;
    Report& report_;
    const Intent& intent_;
    double begin_, end_, seconds_;
    std::optional<Traveller> traveller_;
    std::size_t next_ = 0;  ///< of the changes, the first not yet taken in
    double change_time_ = never, focus_time_ = never;
    bool capped_ = false;  ///< the tick holds no more instants than these
    double reach_ = 0.0;   ///< end of the instant at hand
    std::size_t standstills_ = 0, contacts_ = 0;
};

}  // namespace

void advance_cut(Instant& instant, const Intent& intent, const World& world, double dt) {
    CutTick(instant, intent, world, dt).run();
}

/// The open ground lies where the runner stands, or at height 0; in a world there is none.
void change_world(RunnerState& runner, bool open) {
    runner.in_world = !open;
    runner.floor = runner.around.grounded ? runner.position.z : 0.0;
    if (open) {
        const bool grounded = runner.around.grounded;
        runner.around = {};
        runner.around.grounded = grounded;
    }
    runner.segment_due = runner.clock;
    runner.segment_end = detail::SegmentEnd::replan;
    wake(runner);
}

}  // namespace detail

}  // namespace cursimeter
