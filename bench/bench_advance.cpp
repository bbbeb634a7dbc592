#include <benchmark/benchmark.h>

#include <cursimeter/cursimeter.hpp>
#include <span>
#include <string>

#include "crowd.hpp"
#include "rows.hpp"

/// `advance` beside the hand-written rival, for the same crowds and inputs. One iteration is one tick
/// of the whole crowd; items are runner ticks. scripts/bench prints the ratios.
namespace {

using namespace cursimeter;

void crowd_ticks(benchmark::State& state, const bench::Row& row) {
    const std::unique_ptr<bench::Loop> loop = row.make(static_cast<std::size_t>(state.range(0)));
    std::size_t number = 0;
    double sum = 0.0;
    while (number < bench::first_ticks) {
        sum += loop->tick(number++);
    }
    for (auto _ : state) {
        sum += loop->tick(number++);
    }
    benchmark::DoNotOptimize(sum);
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

/// Reports that are kept: they are large, and only what happened is to be copied.
void kept_reports(benchmark::State& state) {
    const Chart chart = bench::bearer_chart();
    std::vector<Runner> runners(1000, spawn(chart));
    std::vector<Report> reports(runners.size());
    Intent intent;
    intent.move = {1.0, 0.0};
    for (auto _ : state) {
        for (std::size_t i = 0; i < runners.size(); ++i) {
            reports[i] = advance(chart, runners[i], intent, Seconds{bench::tick});
        }
        benchmark::DoNotOptimize(reports.data());
    }
    state.SetItemsProcessed(state.iterations() * 1000);
}

}  // namespace

int main(int argc, char** argv) {
    benchmark::AddCustomContext("sizeof(Runner)", std::to_string(sizeof(Runner)) + " bytes");
    benchmark::AddCustomContext("sizeof(Report)", std::to_string(sizeof(Report)) + " bytes");
    benchmark::AddCustomContext("sizeof(Intent)", std::to_string(sizeof(Intent)) + " bytes");
    for (const bench::Row& row : bench::rows()) {
        for (const std::size_t crowd : row.crowds) {
            benchmark::RegisterBenchmark((row.side + "/" + row.input).c_str(), crowd_ticks, row)
                ->Arg(static_cast<std::int64_t>(crowd));
        }
    }
    benchmark::RegisterBenchmark("one_runner/without_instant", one_runner, false);
    benchmark::RegisterBenchmark("one_runner/with_one_instant", one_runner, true);
    benchmark::RegisterBenchmark("ours/kept_reports/1000", kept_reports);
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
