#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/survey/run.hpp>
#include <optional>

#include "survey/run_watched.hpp"

namespace cursimeter::survey {
namespace {

/// Gathers a run as it goes on.
class Recorder {
  public:
    Recorder(const Chart& chart, const Runner& runner, bool keep_samples)
        : chart_(chart),
          keep_samples_(keep_samples),
          distance_before_(runner.distance()),
          visit_distance_(runner.distance()) {
        run_.visits.push_back({runner.state(), 0.0, 0.0, 0.0, {}});
        for (std::size_t i = 0; i < chart.meter_count(); ++i) {
            run_.lowest[i] = level(runner, i);
        }
        sample(0.0, runner);
    }

    void tick(double begin, double end, const Report& report, const Runner& runner) {
        for (const Event& event : report.events()) {
            const double at = begin + event.at;
            run_.events.push_back({at, event});
            if (event.kind == EventKind::entered) {
                close_visit(at, event.value);
                run_.visits.push_back({StateId{event.subject}, at, 0.0, 0.0, event.cause});
            }
            if (subject_of(event.kind) == EventSubject::meter) {
                note_level(event.subject, event.value);
            }
        }
        run_.events_lost += report.events_lost;
        run_.ticks_capped += report.instants_capped ? 1 : 0;
        ++run_.ticks;
        sample(end, runner);
    }

    Run finish(double end, const Runner& runner) {
        close_visit(end, runner.distance());
        for (std::size_t i = 0; i < chart_.meter_count(); ++i) {
            note_level(i, level(runner, i));
        }
        run_.seconds = end;
        run_.distance = runner.distance() - distance_before_;
        run_.runner = runner;
        run_.digest = digest(runner);
        return std::move(run_);
    }

  private:
    [[nodiscard]] double level(const Runner& runner, std::size_t meter) const {
        return read_meter(chart_, runner, MeterId{static_cast<std::uint8_t>(meter)}).level;
    }
    /// A level is lowest where its drain ends, and there is an event for that.
    void note_level(std::size_t meter, double level) {
        run_.lowest[meter] = std::min(run_.lowest[meter], level);
    }
    void close_visit(double at, double distance) {
        Visit& visit = run_.visits.back();
        visit.seconds = at - visit.at;
        visit.distance = distance - visit_distance_;
        visit_distance_ = distance;
    }
    void sample(double at, const Runner& runner) {
        if (!keep_samples_) {
            return;
        }
        Sample sample;
        sample.at = at;
        sample.state = runner.state();
        sample.position = runner.position();
        sample.velocity = runner.velocity();
        sample.speed = runner.speed();
        sample.speed_target = runner.speed_target();
        sample.distance = runner.distance();
        sample.grounded = runner.grounded();
        for (std::size_t i = 0; i < chart_.meter_count(); ++i) {
            sample.levels[i] = level(runner, i);
        }
        for (std::uint8_t i = 0; i < chart_.action_count(); ++i) {
            sample.on |= std::uint32_t{runner.on(ActionId{i})} << i;
        }
        run_.samples.push_back(sample);
    }

    const Chart& chart_;
    bool keep_samples_;
    double distance_before_, visit_distance_;  ///< m, on the runner's own count
    Run run_;
};

/// Hands on each choice that is made, and finds when facts change that nothing in the run waits for: by playing
/// copies of the tick up to moments inside it. The run itself is not touched.
class Onlooker {
  public:
    Onlooker(const Chart& chart, const detail::ChoiceWatch& to) : chart_(chart), to_(to) {
        if (to.tell != nullptr) {
            heard_ = {this, [](void* self, const detail::Choosing& made) {
                          static_cast<Onlooker*>(self)->tell(made);
                      }};
        }
    }
    [[nodiscard]] bool wanted() const { return to_.tell != nullptr; }
    [[nodiscard]] const detail::ChoiceWatch& choices() const { return heard_; }

    void look_between(const Runner& before, const Intent& intent, const Terrain* world, double seconds,
                      const Runner& after) {
        // Every comparison that a chart can hold may change in one tick, as where a speed passes many marks.
        constexpr int most_changes = static_cast<int>(limits::derived_facts), halvings = 20;
        const std::optional<detail::Choosing> at_end = seen(after);
        const double begin = before.clock().value;
        for (int i = 0; i < most_changes && last_ && at_end && last_->now != at_end->now; ++i) {
            double low = std::max(0.0, last_->clock - begin), high = seconds;
            std::optional<detail::Choosing> changed = at_end;
            for (int step = 0; step < halvings; ++step) {
                const double middle = 0.5 * (low + high);
                const std::optional<detail::Choosing> there = seen(played(before, intent, world, middle));
                if (there && there->now == last_->now) {
                    low = middle;
                } else {
                    high = middle;
                    changed = there;
                }
            }
            if (!changed) {
                break;  // a choice that is told already
            }
            tell(*changed);
        }
        if (at_end) {
            tell(*at_end);
        }
    }

    /// A tick begins, at a time of the run, s. The runner's own clock began with its life, or with another one.
    void begin(double at, const Runner& before) { origin_ = at - before.clock().value; }

  private:
    void tell(const detail::Choosing& made) {
        detail::Choosing told = made;
        told.clock += origin_;
        to_.tell(to_.to, told);
        last_ = made;
        if (made.choice.change) {
            last_.reset();  // what the state is next, the next choice of the same instant tells
        }
    }
    [[nodiscard]] std::optional<detail::Choosing> seen(const Runner& runner) const {
        std::optional<detail::Choosing> found;
        detail::look_on_now(chart_, runner, {&found, [](void* to, const detail::Choosing& made) {
                                                 *static_cast<std::optional<detail::Choosing>*>(to) = made;
                                             }});
        if (found && found->choice.change) {
            found.reset();  // told when it is worked
        }
        return found;
    }
    [[nodiscard]] Runner played(const Runner& before, const Intent& intent, const Terrain* world,
                                double seconds) const {
        Runner copy = before;
        static_cast<void>(
            detail::advance_watched(chart_, copy, cut_intent(intent, seconds), world, Seconds{seconds}, {}));
        return copy;
    }

    const Chart& chart_;
    detail::ChoiceWatch to_, heard_;
    std::optional<detail::Choosing> last_;
    double origin_ = 0.0;
};

}  // namespace

std::vector<double> even_ticks(double rate, const Drill& drill) {
    return even_ticks(rate, drill.length(), drill.begin());
}

std::vector<double> even_ticks(double rate, Seconds seconds, Seconds begin) {
    if (!(rate >= 10.0 && rate <= 100000.0)) {
        throw ChartError({{"rate",
                           fmt::format("{} ticks a second is out of range", rate),
                           "10 <= rate <= 100000",
                           {},
                           0,
                           0}});
    }
    if (!(seconds.value > 0.0 && seconds.value <= 86400.0)) {
        throw ChartError({{"seconds",
                           fmt::format("{} s is out of range", seconds.value),
                           "0 < seconds <= 86400",
                           {},
                           0,
                           0}});
    }
    std::vector<double> ends;
    const auto count = static_cast<std::size_t>(std::ceil(seconds.value * rate - 1e-6));
    if (count > most_ticks) {
        throw ChartError({{"rate",
                           fmt::format("{} ticks in {} s would be too many to keep", count, seconds.value),
                           fmt::format("{} at most: take a lower rate, or fewer seconds", most_ticks),
                           {},
                           0,
                           0}});
    }
    const double last = begin.value + seconds.value;
    for (std::size_t k = 0; k < count; ++k) {
        const double end = tick_end(rate, begin.value, k);
        ends.push_back(end > last + 1e-9 ? last : end);
    }
    return ends;
}

Intent cut_intent(const Intent& intent, double seconds) {
    Intent part = intent;
    std::size_t count = 0;
    while (count < intent.changes.size() && intent.changes[count].at < seconds) {
        ++count;
    }
    part.changes = intent.changes.subspan(0, count);
    return part;
}

Run run_watched(const Chart& chart, Script& script, const Course* course, bool keep_samples,
                const TickWatch& watch, double until) {
    Runner runner = script.begin(chart);
    Recorder recorder(chart, runner, keep_samples);
    Onlooker onlooker(chart, watch.choices);
    std::optional<CourseTerrain> terrain;
    std::optional<LegClock> clock;
    if (course != nullptr) {
        terrain.emplace(*course, chart);
        clock.emplace(*course);
    }
    double begin = 0.0;
    while (begin < until) {
        std::optional<Script::Tick> tick = script.next(begin, runner);
        if (!tick) {
            break;
        }
        if (tick->end > until) {
            tick->end = until;
            tick->seconds = until - begin;
            tick->intent = cut_intent(tick->intent, until - begin);
        }
        const double end = tick->end;
        const Seconds length{tick->seconds};
        const Intent& intent = tick->intent;
        if (terrain) {
            terrain->set_time(tick->world_time);
        }
        const Runner before = runner;
        onlooker.begin(begin, before);
        if (watch.begin) {
            watch.begin(runner, *tick, length);
        }
        const Terrain* world = terrain ? &*terrain : nullptr;
        const Report report =
            detail::advance_watched(chart, runner, intent, world, length, onlooker.choices());
        if (watch.end) {
            watch.end(runner, report);
        }
        if (onlooker.wanted()) {
            onlooker.look_between(before, intent, world, length.value, runner);
        }
        recorder.tick(begin, end, report, runner);
        if (clock) {
            clock->pass({begin, end, before.position(), runner.position(),
                         before.velocity() + carrying_velocity(chart, before),
                         runner.velocity() + carrying_velocity(chart, runner)});
        }
        begin = end;
    }
    Run result = recorder.finish(begin, runner);
    for (std::size_t i = 0; clock && i < clock->times().size(); ++i) {
        const LegClock::Times& times = clock->times()[i];
        result.legs.push_back({course->spec().legs[i].name, times.begun, times.ended});
    }
    return result;
}

Run run(const Chart& chart, Script& script, const Course* course, bool keep_samples) {
    return run_watched(chart, script, course, keep_samples, {});
}

Run run(const Chart& chart, const Drill& drill, std::span<const double> tick_ends, bool keep_samples) {
    DrillScript script(drill, tick_ends);
    return run(chart, script, nullptr, keep_samples);
}

Run run(const Chart& chart, const Drill& drill, const Course& course, std::span<const double> tick_ends,
        bool keep_samples) {
    DrillScript script(drill, tick_ends);
    return run(chart, script, &course, keep_samples);
}

}  // namespace cursimeter::survey
