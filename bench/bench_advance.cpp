#include <benchmark/benchmark.h>

#include "crowd.hpp"

/// `advance` beside the hand-written rival, for the same crowds and inputs. One iteration is one tick
/// of the whole crowd; items are runner ticks. Run with --benchmark_filter and compare items_per_second
/// of lines with the same crowd in one run; scripts/bench prints the ratios.
namespace {

using namespace cursimeter;

/// Both sides read the same frames; the copying of a frame into an input is part of both.
void ours(benchmark::State& state, bench::Looking looking) {
    const Chart chart = bench::bearer_chart();
    const bench::Script script(looking);
    const auto count = static_cast<std::size_t>(state.range(0));
    std::vector<Runner> runners(count, spawn(chart));
    std::vector<std::uint32_t> held(count);
    const ActionId tread = chart.action("tread"), sprint = chart.action("sprint");
    const Change tread_press = Change::press(tread, 0.0);
    const Change tread_tap[2] = {tread_press, Change::release(tread, bench::tick)};
    std::size_t tick_number = 0;
    double checksum = 0.0;
    for (auto _ : state) {
        for (std::size_t i = 0; i < count; ++i) {
            const bench::Frame& frame = script.frame(i, tick_number);
            Intent intent;
            intent.move = {frame.forward, frame.side};
            intent.look = {frame.yaw, 0.0};
            if (frame.sprint) {
                intent.hold(sprint);
            }
            if (frame.tread_pressed) {
                intent.changes = tread_tap;
            }
            const Report report = advance(chart, runners[i], intent, Seconds{bench::tick});
            checksum += report.displacement.x;
        }
        ++tick_number;
    }
    benchmark::DoNotOptimize(checksum);
    state.SetItemsProcessed(state.iterations() * state.range(0));
}

void rivals(benchmark::State& state, bench::Looking looking) {
    const bench::Script script(looking);
    const auto count = static_cast<std::size_t>(state.range(0));
    std::vector<rival::Runner> runners(count);
    std::size_t tick_number = 0;
    double checksum = 0.0;
    for (auto _ : state) {
        for (std::size_t i = 0; i < count; ++i) {
            const bench::Frame& frame = script.frame(i, tick_number);
            const rival::Input input{frame.forward, frame.side, frame.yaw, frame.sprint, frame.tread_pressed};
            const double before = runners[i].x;
            rival::advance(runners[i], input, bench::tick);
            checksum += runners[i].x - before;
        }
        ++tick_number;
    }
    benchmark::DoNotOptimize(checksum);
    state.SetItemsProcessed(state.iterations() * state.range(0));
}

void crowds(benchmark::internal::Benchmark* b) {
    b->Arg(1)->Arg(1000)->Arg(100000);
}

BENCHMARK_CAPTURE(rivals, look_at_times, bench::Looking::at_times)->Apply(crowds);
BENCHMARK_CAPTURE(ours, look_at_times, bench::Looking::at_times)->Apply(crowds);
BENCHMARK_CAPTURE(rivals, look_every_tick, bench::Looking::every_tick)->Apply(crowds);
BENCHMARK_CAPTURE(ours, look_every_tick, bench::Looking::every_tick)->Apply(crowds);

}  // namespace

BENCHMARK_MAIN();
