#include <fmt/format.h>

#include <atomic>
#include <cstdlib>
#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/course/course.hpp>
#include <cursimeter/cursimeter.hpp>
#include <cursimeter/survey/require.hpp>
#include <mutex>
#include <thread>

#include "fuzz/some_requirement.hpp"
#include "support/share.hpp"

/// Random charts with random requirements: whatever is proven is held against random runs, by what a game can read at the ends of ticks,
/// 240 a second. A proof that a run breaks is printed with chart and drill. Breaches are played by their own drills likewise.
///
/// usage: random_requirements CHARTS [SEED] [RUNS]
namespace {

using namespace cursimeter;
using support::Asked;
using support::some_requirement;
using survey::Decision;
using survey::Ruling;

constexpr double rate = 240.0;
/// Ticks for which something must be seen: 16.7 ms, while 10 ms do not count.
constexpr int seen_for = 4;

/// Looks at a run at the ends of its ticks for whether it breaks a requirement.
class Watch {
  public:
    Watch(const Chart& chart, const Asked& asked)
        : asked_(asked),
          state_(asked.state.empty() ? std::nullopt : std::optional(chart.state(asked.state))) {}

    /// Whether it has just been broken.
    bool breaks(const Runner& runner) {
        const bool in_state = !state_ || runner.state() == *state_;
        if (asked_.most >= 0.0) {
            return in_state && runner.time_in_state().value > asked_.most + 2.0 * seen_for / rate;
        }
        seen_ = in_state && asked_.so(runner) ? seen_ + 1 : 0;
        return seen_ > seen_for;
    }

  private:
    const Asked& asked_;
    std::optional<StateId> state_;
    int seen_ = 0;
};

/// Whether a state was entered, even if it was left at once.
bool enters(const Report& report, StateId wanted) {
    const std::span<const Event> events = report.events();
    return std::any_of(events.begin(), events.end(), [&](const Event& event) {
        return event.kind == EventKind::entered && event.subject == wanted.index;
    });
}

/// Plays some ticks with one intent; whether a state was entered meanwhile.
bool enters_by(const Chart& chart, Runner& runner, const Intent& intent, int ticks, StateId wanted) {
    bool entered = false;
    for (int tick = 0; tick < ticks; ++tick) {
        entered = enters(advance(chart, runner, intent, Seconds{1.0 / rate}), wanted) || entered;
    }
    return entered;
}

/// Whether some keys bring a state about from this moment on: nothing is touched for a while; then some are tapped, which turns toggles
/// over, and any go down together, with any move.
bool can_be_had(const Chart& chart, const Runner& now, StateId wanted, double within) {
    Runner runner = now;
    constexpr Move moves[] = {{0.0, 0.0}, {1.0, 0.0}, {-1.0, 0.0}, {0.0, 1.0}};
    const std::uint32_t all = std::uint32_t{1} << chart.action_count();
    const auto ticks = static_cast<int>((within + shortest_return.value) * rate) + 2;
    for (int waited = 0; waited <= ticks && runner.state() != wanted; ++waited) {
        for (std::uint32_t taps = 0; taps < all; ++taps) {
            Runner tapped = runner;
            Intent tap;
            tap.held = taps;
            if (taps != 0 &&
                (enters_by(chart, tapped, tap, 1, wanted) || enters_by(chart, tapped, Intent{}, 1, wanted))) {
                return true;
            }
            for (std::uint32_t keys = 0; keys < all; ++keys) {
                for (const Move move : moves) {
                    Runner tried = tapped;
                    Intent intent;
                    intent.move = move;
                    intent.held = keys;
                    if (enters_by(chart, tried, intent, seen_for, wanted)) {
                        return true;
                    }
                }
            }
        }
        static_cast<void>(advance(chart, runner, Intent{}, Seconds{1.0 / rate}));
    }
    return runner.state() == wanted;
}

/// From which moment on of a run something that was proven possible cannot be had: s.
std::optional<double> out_of_reach_in(const Chart& chart, const Asked& asked, const DrillSpec& spec) {
    const Drill drill(spec, chart);
    Runner runner = drill.spawn(chart);
    DrillPlayer player(drill, runner);
    const StateId wanted = chart.state(asked.wanted);
    const auto ticks = static_cast<int>(spec.seconds * rate);
    for (int i = 0; i < ticks; ++i) {
        const double begin = i / rate, end = (i + 1) / rate;
        const Intent intent = player.intent(begin, end);
        static_cast<void>(advance(chart, runner, intent, Seconds{end - begin}));
        // A key that goes down at the end of a tick is still to be worked: hands are not at rest there.
        if (!intent.changes.empty()) {
            continue;
        }
        const bool begins = asked.state.empty() || chart.name(runner.state()) == asked.state;
        if (i % 37 == 0 && begins && !can_be_had(chart, runner, wanted, asked.within)) {
            return end;
        }
    }
    return std::nullopt;
}

struct Break {
    std::size_t which;
    double at;  ///< s
};

/// A level floor, and walls on it that nobody gets over, none where a run begins: what a proof says of the ground holds there too.
Course walls_on_a_floor(support::RandomChart& dice) {
    CourseSpec spec;
    spec.name = "walls";
    spec.boxes.push_back({{-500.0, -500.0, -1.0}, {500.0, 500.0, 0.0}, Degrees{0.0}});
    for (int i = 0; i < 12; ++i) {
        const double x = dice.one_of({-12.0, -7.0, -4.0, 2.0, 4.0, 6.0, 9.0, 15.0}),
                     y = dice.one_of({-9.0, -4.0, -2.0, 2.0, 3.0, 8.0});
        const double long_way = dice.one_of({0.2, 1.0, 3.0, 8.0});
        const bool along = dice.chance(50);
        spec.boxes.push_back(
            {{x, y, 0.0}, {x + (along ? long_way : 0.3), y + (along ? 0.3 : long_way), 400.0}, Degrees{0.0}});
    }
    return Course(spec);
}

/// The first of the requirements that a run breaks, on open ground or in a world.
std::optional<Break> broken_in(const Chart& chart, const std::vector<Asked>& all, const DrillSpec& spec,
                               const Course* course = nullptr) {
    std::optional<CourseTerrain> terrain;
    if (course != nullptr) {
        terrain.emplace(*course, chart);
    }
    const Drill drill(spec, chart);
    Runner runner = drill.spawn(chart);
    DrillPlayer player(drill, runner);
    std::vector<Watch> watches;
    for (const Asked& asked : all) {
        watches.emplace_back(chart, asked);
    }
    const auto ticks = static_cast<int>(spec.seconds * rate);
    for (int i = 0; i < ticks; ++i) {
        const double begin = i / rate, end = (i + 1) / rate;
        const Intent intent = player.intent(begin, end);
        const Seconds tick{end - begin};
        static_cast<void>(terrain ? advance(chart, runner, intent, *terrain, tick)
                                  : advance(chart, runner, intent, tick));
        for (std::size_t which = 0; which < watches.size(); ++which) {
            if (watches[which].breaks(runner)) {
                return Break{which, end};
            }
        }
    }
    return std::nullopt;
}

struct Counts {
    std::atomic<unsigned> proven{0}, by_speeds{0}, possible{0}, refuted{0}, undecided{0}, broken{0},
        unseen{0};
};

void try_chart(unsigned seed, unsigned runs, Counts& counts, std::mutex& output) {
    support::RandomChart dice(seed);
    const ChartSpec spec = seed % 2 == 0 ? dice.chart() : dice.chart_with_walls();
    const Chart chart = compile(spec);
    std::vector<Asked> proven;
    for (int i = 0; i < 4; ++i) {
        const Asked asked = some_requirement(dice, spec, chart);
        survey::RequirePlan plan;
        plan.ticks = 20'000;
        plan.seed = seed;
        Ruling ruling;
        try {
            ruling = survey::rule_on(spec, asked.words, plan);
        } catch (const ChartError& error) {
            const std::lock_guard lock(output);
            fmt::print("chart {}: '{}': {}\n", seed, asked.words, error.what());
            ++counts.broken;
            continue;
        }
        if (ruling.decision == Decision::undecided) {
            ++counts.undecided;
        } else if (ruling.decision == Decision::refuted) {
            ++counts.refuted;
            // A breach of 10 to 20 ms is not seen at the ends of ticks; one that lasts is.
            counts.unseen += !asked.wanted.empty() || broken_in(chart, {asked}, *ruling.breach) ? 0 : 1;
        } else {
            ++counts.proven;
            counts.by_speeds += ruling.unless.empty() ? 0 : 1;
            if (asked.wanted.empty()) {
                proven.push_back(asked);
            }
            for (unsigned run = 0; run < runs && !asked.wanted.empty(); run += 20) {
                const DrillSpec drill = dice.drill(spec, 5.0);
                if (const std::optional<double> at = out_of_reach_in(chart, asked, drill)) {
                    const std::lock_guard lock(output);
                    fmt::print("chart {}: proven: {}\nand out of reach at {} s:\n{}\n{}\n", seed, asked.words,
                               *at, format_chart(spec), format_drill(drill));
                    ++counts.broken;
                    break;
                }
            }
            counts.possible += asked.wanted.empty() ? 0 : 1;
        }
    }
    for (unsigned run = 0; run < runs && !proven.empty(); ++run) {
        const DrillSpec drill = dice.drill(spec, run % 10 == 0 ? 20.0 : 5.0);
        const std::optional<Course> walls =
            run % 3 == 2 ? std::optional(walls_on_a_floor(dice)) : std::nullopt;
        if (const std::optional<Break> broken = broken_in(chart, proven, drill, walls ? &*walls : nullptr)) {
            const std::lock_guard lock(output);
            fmt::print("chart {}: proven: {}\nand broken at {} s:\n{}\n{}\n", seed,
                       proven[broken->which].words, broken->at, format_chart(spec), format_drill(drill));
            if (walls) {
                fmt::print("{}\n", format_course(walls->spec()));
            }
            ++counts.broken;
            break;
        }
    }
}

}  // namespace

int main(int argc, char** argv) {
    const auto number = [&](int i, unsigned otherwise) {
        return argc > i ? static_cast<unsigned>(std::strtoul(argv[i], nullptr, 10)) : otherwise;
    };
    const unsigned charts = support::share_of(number(1, 1000)), first = number(2, 1), runs = number(3, 100);
    Counts counts;
    std::mutex output;
    std::atomic<unsigned> next{0};
    std::vector<std::thread> workers;
    for (unsigned i = 0; i < std::max(1U, std::thread::hardware_concurrency()); ++i) {
        workers.emplace_back([&] {
            for (unsigned chart = next++; chart < charts; chart = next++) {
                try_chart(first + chart, runs, counts, output);
            }
        });
    }
    for (std::thread& worker : workers) {
        worker.join();
    }
    fmt::print(
        "{} charts, {} runs for each proof: {} proven ({} by speeds, {} that something is possible), {} "
        "refuted ({} too short to be seen at "
        "the ends of "
        "ticks), {} not decided, {} wrong\n",
        charts, runs, counts.proven.load(), counts.by_speeds.load(), counts.possible.load(),
        counts.refuted.load(), counts.unseen.load(), counts.undecided.load(), counts.broken.load());
    return counts.broken == 0 && counts.proven > 0 && counts.refuted > 0 ? 0 : 1;
}
