#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <iterator>
#include <map>

#include "scene/results.hpp"
#include "text/run_summary.hpp"

namespace cursimeter::tool {
namespace {

/// Visits shorter than this, s, three or more in a row, are told in one line.
constexpr double short_visit = 0.25;

struct StateTotal {
    std::size_t visits = 0;
    double seconds = 0.0;
    double distance = 0.0;
};

class Summary {
  public:
    explicit Summary(const RunResult& result) : chart_(result.chart), run_(result.run), result_(result) {}

    std::string text() {
        head();
        states();
        meters();
        legs();
        timeline();
        events();
        return std::move(text_);
    }

  private:
    template <class... Args>
    void print(fmt::format_string<Args...> format, Args&&... args) {
        fmt::format_to(std::back_inserter(text_), format, std::forward<Args>(args)...);
    }

    void head() {
        const Runner& runner = run_.runner;
        const glm::dvec3 at = runner.position();
        print("{} through \"{}\"{}: {:g} s at {:g} ticks a second ({} ticks)\n\n", chart_.name(),
              result_.drill, result_.course ? fmt::format(" over \"{}\"", result_.course->spec().name) : "",
              run_.seconds, result_.rate, run_.ticks);
        print("distance  {:.3f} m\n", run_.distance);
        print("ends      in {} at ({:.3f}, {:.3f}, {:.3f}) m, {:.3f} m/s\n", chart_.name(runner.state()),
              at.x, at.y, at.z, runner.speed());
        print("digest    {:016x}, of all bits: the same on every machine\n", run_.digest);
        print("states    {:016x}, of states and causes: the same at any tick rate\n",
              survey::states_digest(chart_, run_));
        for (const RunAtRate& other : result_.also) {
            print("at {:<6g} {}\n", other.rate, comparison(other));
        }
        if (run_.events_lost > 0 || run_.ticks_capped > 0) {
            print(
                "caution   {} events did not fit into their tick's report, {} ticks had more instants than "
                "allowed\n",
                run_.events_lost, run_.ticks_capped);
        }
    }

    /// "the same states, 0.042 ms apart at most; the ends 0.007 mm apart"
    std::string comparison(const RunAtRate& at) {
        const auto thousandths = [](double value, const char* unit, const char* small) {
            return value < 1e-6 ? fmt::format("under 1 {}", small)
                                : fmt::format("{:.3g} {}", 1e3 * value, unit);
        };
        const survey::RateGap& gap = at.gap;
        if (!gap.first) {
            return fmt::format("the same states, at times {} apart at most; the ends are {} apart",
                               thousandths(gap.seconds, "ms", "us"), thousandths(gap.metres, "mm", "um"));
        }
        const auto visit = [&](const survey::Run& run) {
            if (*gap.first >= run.visits.size()) {
                return std::string("no further state");
            }
            const survey::Visit& there = run.visits[*gap.first];
            return fmt::format("{} at {:.3f} s ({})", chart_.name(there.state), there.at,
                               chart_.describe(there.cause));
        };
        const std::size_t lost = at.run.events_lost;
        return fmt::format(
            "OTHER STATES from visit {} on: {}; at {:g} {}{}", *gap.first + 1, visit(at.run), result_.rate,
            visit(run_),
            lost > 0 ? fmt::format("; {} events did not fit into their tick's report", lost) : "");
    }

    void states() {
        std::map<StateId, StateTotal> totals;
        std::size_t width = 5;
        for (const survey::Visit& visit : run_.visits) {
            StateTotal& total = totals[visit.state];
            ++total.visits;
            total.seconds += visit.seconds;
            total.distance += visit.distance;
            width = std::max(width, chart_.name(visit.state).size());
        }
        print("\n{:<{}}  visits      time   share    distance\n", "state", width);
        for (const auto& [state, total] : totals) {
            print("{:<{}}  {:>6}  {:>6.2f} s  {:>4.0f} %  {:>8.2f} m\n", chart_.name(state), width,
                  total.visits, total.seconds, 100.0 * total.seconds / run_.seconds, total.distance);
        }
    }

    void meters() {
        if (chart_.meter_count() == 0) {
            return;
        }
        std::size_t width = 5;
        for (std::uint8_t i = 0; i < chart_.meter_count(); ++i) {
            width = std::max(width, chart_.name(MeterId{i}).size());
        }
        print("\n{:<{}}  {:>8}  {:>8}  {:>8}\n", "meter", width, "lowest", "final", "capacity");
        for (std::uint8_t i = 0; i < chart_.meter_count(); ++i) {
            const MeterId id{i};
            print("{:<{}}  {:>8.2f}  {:>8.2f}  {:>8g}\n", chart_.name(id), width, run_.lowest[i],
                  read_meter(chart_, run_.runner, id).level, chart_.capacity(id));
        }
    }

    void legs() {
        std::size_t width = 3;
        for (const survey::LegTime& leg : run_.legs) {
            width = std::max(width, leg.name.size());
        }
        if (!run_.legs.empty()) {
            print("\n{:<{}}  {:>9}  {:>9}  {:>9}\n", "leg", width, "begun s", "ended s", "time s");
        }
        for (const survey::LegTime& leg : run_.legs) {
            const auto time = [](double at) { return std::isnan(at) ? "-" : fmt::format("{:.3f}", at); };
            print("{:<{}}  {:>9}  {:>9}  {:>9}\n", leg.name, width, time(leg.begun), time(leg.ended),
                  time(leg.ended - leg.begun));
        }
    }

    void timeline() {
        const std::vector<survey::Visit>& visits = run_.visits;
        std::size_t width = 10;
        for (const survey::Visit& visit : visits) {
            width = std::max(width, chart_.name(visit.state).size());
        }
        print("\n{:>9}  {:<{}} cause\n", "time s", "state", width);
        for (std::size_t i = 0; i < visits.size();) {
            std::size_t end = i;
            while (end < visits.size() && visits[end].seconds < short_visit) {
                ++end;
            }
            if (end - i >= 3) {
                print("{:>9.3f}  {} changes, each state for less than {} s, until {:.3f}\n", visits[i].at,
                      end - i, short_visit, visits[end - 1].at + visits[end - 1].seconds);
                i = end;
                continue;
            }
            print("{:>9.3f}  {:<{}} {}\n", visits[i].at, chart_.name(visits[i].state), width,
                  chart_.describe(visits[i].cause));
            ++i;
        }
    }

    void events() {
        print("\n{:>9}  event\n", "time s");
        std::map<std::pair<EventKind, std::uint8_t>, std::size_t> counts;
        for (const survey::TimedEvent& event : run_.events) {
            const EventKind kind = event.event.kind;
            const bool of_motion = kind == EventKind::landed || kind == EventKind::bumped ||
                                   kind == EventKind::pushed || kind == EventKind::crushed;
            if (of_motion) {
                print("{:>9.3f}  {} in {}, {:.2f} {}\n", event.at, to_string(kind),
                      subject_name(chart_, event.event), event.event.value,
                      kind == EventKind::crushed ? "m" : "m/s");
            }
            const bool told = kind == EventKind::emptied || kind == EventKind::filled ||
                              kind == EventKind::spent || kind == EventKind::recovered;
            if (told) {
                print("{:>9.3f}  {} {}\n", event.at, subject_name(chart_, event.event), to_string(kind));
            }
            if (kind == EventKind::refused) {
                print("{:>9.3f}  {} refused, {}\n", event.at, subject_name(chart_, event.event),
                      chart_.describe(event.event.cause));
            }
            if (kind == EventKind::crossed) {
                const MeterId meter{event.event.subject};
                print("{:>9.3f}  {} {} '{}'\n", event.at, chart_.name(meter),
                      event.event.rising ? "rose to" : "fell below",
                      chart_.named_levels(meter)[event.event.which].name);
            }
            if (kind == EventKind::stacked) {
                print("{:>9.3f}  {} at {:g} stack{}\n", event.at, subject_name(chart_, event.event),
                      event.event.value, event.event.value == 1.0 ? "" : "s");
            } else if (subject_of(kind) == EventSubject::modifier) {
                print("{:>9.3f}  {} {}\n", event.at, subject_name(chart_, event.event), to_string(kind));
            }
            if (subject_of(kind) == EventSubject::action) {
                ++counts[{kind, event.event.subject}];
            }
        }
        for (std::uint8_t i = 0; i < chart_.action_count(); ++i) {
            print("{:>9}  {} pressed {} times, released {} times\n", "", chart_.name(ActionId{i}),
                  counts[{EventKind::pressed, i}], counts[{EventKind::released, i}]);
        }
    }

    const Chart& chart_;
    const survey::Run& run_;
    const RunResult& result_;
    std::string text_;
};

}  // namespace

std::string summary_text(const RunResult& result) {
    return Summary(result).text();
}

}  // namespace cursimeter::tool
