#include <benchmark/benchmark.h>

#include <span>
#include <string>

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

BENCHMARK_CAPTURE(one_runner, without_instant, false);
BENCHMARK_CAPTURE(one_runner, with_one_instant, true);

void crowds(benchmark::internal::Benchmark* b) {
    b->Arg(1)->Arg(1000)->Arg(100000);
}

BENCHMARK_CAPTURE(rivals, look_at_times, bench::Looking::at_times)->Apply(crowds);
BENCHMARK_CAPTURE(ours, look_at_times, bench::Looking::at_times)->Apply(crowds);
BENCHMARK_CAPTURE(rivals, look_every_tick, bench::Looking::every_tick)->Apply(crowds);
BENCHMARK_CAPTURE(ours, look_every_tick, bench::Looking::every_tick)->Apply(crowds);

}  // namespace

int main(int argc, char** argv) {
    benchmark::AddCustomContext("sizeof(Runner)", std::to_string(sizeof(Runner)) + " bytes");
    benchmark::AddCustomContext("sizeof(Report)", std::to_string(sizeof(Report)) + " bytes");
    benchmark::AddCustomContext("sizeof(Intent)", std::to_string(sizeof(Intent)) + " bytes");
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
