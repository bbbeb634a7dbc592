#include <benchmark/benchmark.h>

#include <cursimeter/chartfile/course_file.hpp>
#include <span>
#include <string>

#include "crowd.hpp"

/// `advance` beside the hand-written rival, for the same crowds and inputs. One iteration is one tick
/// of the whole crowd; items are runner ticks. Run with --benchmark_filter and compare items_per_second
/// of lines with the same crowd in one run; scripts/bench prints the ratios.
namespace {

using namespace cursimeter;

/// What a player of the crowd wants in a frame; a tap of the tread key is apart.
Intent intent_of(const bench::Frame& frame) {
    Intent intent;
    intent.move = {frame.forward, frame.side};
    intent.look = {frame.yaw, 0.0};
    intent.held = std::uint32_t{frame.sprint} << 0U | std::uint32_t{frame.crouch} << 2U |
                  std::uint32_t{frame.jump} << 3U | std::uint32_t{frame.dash} << 4U |
                  std::uint32_t{frame.cape} << 5U;
    return intent;
}

/// How often ticks are cut, of a hundred players over fifty seconds.
double instants_per_thousand_ticks() {
    const Chart chart = bench::bearer_chart();
    const bench::Script script(bench::Looking::at_times);
    constexpr std::size_t players = 97, ticks = 3000;
    std::vector<Runner> runners(players, spawn(chart));
    std::size_t instants = 0;
    for (std::size_t t = 0; t < ticks; ++t) {
        for (std::size_t i = 0; i < players; ++i) {
            const Report report =
                advance(chart, runners[i], intent_of(script.frame(i, t)), Seconds{bench::tick});
            instants += report.instants;
        }
    }
    return 1000.0 * static_cast<double>(instants) / static_cast<double>(players * ticks);
}

/// Everybody is spawned in the same moment and sets off in the next; the clock starts after this many ticks.
constexpr std::size_t first_ticks = 120;

template <class RunTick>
void time_ticks(benchmark::State& state, const RunTick& run_tick) {
    std::size_t tick_number = 0;
    while (tick_number < first_ticks) {
        run_tick(tick_number++);
    }
    for (auto _ : state) {
        run_tick(tick_number++);
    }
    state.SetItemsProcessed(state.iterations() * state.range(0));
}

/// Both sides read the same frames; the copying of a frame into an input is part of both.
void ours(benchmark::State& state, bench::Looking looking, std::uint8_t modifiers) {
    const Chart chart = bench::bearer_chart();
    const bench::Script script(looking);
    const auto count = static_cast<std::size_t>(state.range(0));
    Runner spawned = spawn(chart);
    for (std::uint8_t i = 0; i < modifiers; ++i) {
        static_cast<void>(grant(chart, spawned, ModifierId{i}));
    }
    std::vector<Runner> runners(count, spawned);
    const ActionId tread = chart.action("tread");
    const Change tread_press = Change::press(tread, 0.0);
    const Change tread_tap[2] = {tread_press, Change::release(tread, bench::tick)};
    double checksum = 0.0;
    time_ticks(state, [&](std::size_t tick_number) {
        for (std::size_t i = 0; i < count; ++i) {
            const bench::Frame& frame = script.frame(i, tick_number);
            Intent intent = intent_of(frame);
            if (frame.tread_pressed) {
                intent.changes = tread_tap;
            }
            const Report report = advance(chart, runners[i], intent, Seconds{bench::tick});
            checksum += report.displacement.x;
        }
    });
    benchmark::DoNotOptimize(checksum);
}

void rivals(benchmark::State& state, bench::Looking looking) {
    const bench::Script script(looking);
    const auto count = static_cast<std::size_t>(state.range(0));
    std::vector<rival::Runner> runners(count);
    double checksum = 0.0;
    time_ticks(state, [&](std::size_t tick_number) {
        for (std::size_t i = 0; i < count; ++i) {
            const bench::Frame& frame = script.frame(i, tick_number);
            const rival::Input input = bench::rival_input(frame);
            const double before = runners[i].x;
            rival::advance(runners[i], input, bench::tick);
            checksum += runners[i].x - before;
        }
    });
    benchmark::DoNotOptimize(checksum);
}

/// Walking on with nothing happening, and the same with one key going down or up inside each tick.
void one_runner(benchmark::State& state, bool with_press) {
    const Chart chart = bench::bearer_chart();
    Runner runner = spawn(chart);
    const ActionId sprint = chart.action("sprint");
    // Backward, so that sprint is wanted and may not be: the instant is worked, the state stays.
    Intent intent;
    intent.move = {-1.0, 0.0};
    const Change changes[2] = {Change::press(sprint, 0.004), Change::release(sprint, 0.004)};
    double checksum = 0.0;
    bool down = false;
    for (auto _ : state) {
        if (with_press) {
            intent.held = down ? 1U << sprint.index : 0U;
            intent.changes = std::span(&changes[down ? 1 : 0], 1);
            down = !down;
        }
        const Report report = advance(chart, runner, intent, Seconds{bench::tick});
        checksum += report.displacement.x;
    }
    benchmark::DoNotOptimize(checksum);
}

/// On the relay's course, sweeps included: runners walk about the quay, everything in one terrain.
bench::Frame on_course(const bench::Script& script, std::size_t runner, std::size_t tick_number) {
    bench::Frame frame = script.frame(runner, tick_number);
    frame.yaw += static_cast<float>(runner);
    return frame;
}

void ours_on_course(benchmark::State& state) {
    const Chart chart = bench::bearer_chart();
    const CourseTerrain terrain(load_course(CURSIMETER_SOURCE_DIR "/demo/courses/relay.toml"), chart);
    const bench::Script script(bench::Looking::at_times);
    const auto count = static_cast<std::size_t>(state.range(0));
    std::vector<Runner> runners(count, spawn(chart, {{25.0, 0.0, 0.0}, 0.0}));
    std::size_t tick_number = 0;
    double checksum = 0.0;
    for (auto _ : state) {
        for (std::size_t i = 0; i < count; ++i) {
            const bench::Frame frame = on_course(script, i, tick_number);
            Intent intent;
            intent.move = {frame.forward, frame.side};
            intent.look = {frame.yaw, 0.0};
            intent.held = std::uint32_t{frame.sprint} << 0U | std::uint32_t{frame.jump} << 3U;
            if (runners[i].position().z < -3.0) {
                runners[i] = spawn(chart, {{25.0, 0.0, 0.0}, 0.0});
            }
            const Report report = advance(chart, runners[i], intent, terrain, Seconds{bench::tick});
            checksum += report.displacement.x;
        }
        ++tick_number;
    }
    benchmark::DoNotOptimize(checksum);
    state.SetItemsProcessed(state.iterations() * state.range(0));
}

void rivals_on_course(benchmark::State& state) {
    const CourseTerrain terrain(load_course(CURSIMETER_SOURCE_DIR "/demo/courses/relay.toml"),
                                bench::bearer_chart());
    const bench::Script script(bench::Looking::at_times);
    const auto count = static_cast<std::size_t>(state.range(0));
    std::vector<rival::Runner> runners(count);
    for (rival::Runner& runner : runners) {
        runner.x = 25.0;
    }
    std::size_t tick_number = 0;
    double checksum = 0.0;
    for (auto _ : state) {
        for (std::size_t i = 0; i < count; ++i) {
            bench::Frame frame = on_course(script, i, tick_number);
            frame.crouch = frame.dash = frame.cape = frame.tread_pressed = false;
            if (runners[i].z < -3.0) {
                runners[i] = rival::Runner{};
                runners[i].x = 25.0;
            }
            bench::advance_rival(runners[i], bench::rival_input(frame), terrain);
            checksum += runners[i].x;
        }
        ++tick_number;
    }
    benchmark::DoNotOptimize(checksum);
    state.SetItemsProcessed(state.iterations() * state.range(0));
}

BENCHMARK(rivals_on_course)->Name("rivals/on_course")->Arg(1000);
BENCHMARK(ours_on_course)->Name("ours/on_course")->Arg(1000);

BENCHMARK_CAPTURE(one_runner, without_instant, false);
BENCHMARK_CAPTURE(one_runner, with_one_instant, true);

void crowds(benchmark::internal::Benchmark* b) {
    b->Arg(1)->Arg(1000)->Arg(100000);
}

BENCHMARK_CAPTURE(rivals, look_at_times, bench::Looking::at_times)->Apply(crowds);
BENCHMARK_CAPTURE(ours, look_at_times, bench::Looking::at_times, 0)->Apply(crowds);
BENCHMARK_CAPTURE(ours, four_modifiers, bench::Looking::at_times, 4)->Arg(1000);
BENCHMARK_CAPTURE(rivals, look_every_tick, bench::Looking::every_tick)->Apply(crowds);
BENCHMARK_CAPTURE(ours, look_every_tick, bench::Looking::every_tick, 0)->Apply(crowds);

}  // namespace

int main(int argc, char** argv) {
    benchmark::AddCustomContext("sizeof(Runner)", std::to_string(sizeof(Runner)) + " bytes");
    benchmark::AddCustomContext("sizeof(Report)", std::to_string(sizeof(Report)) + " bytes");
    benchmark::AddCustomContext("sizeof(Intent)", std::to_string(sizeof(Intent)) + " bytes");
    benchmark::AddCustomContext("instants in 1,000 ticks", std::to_string(instants_per_thousand_ticks()));
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
