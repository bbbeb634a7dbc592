#include <benchmark/benchmark.h>

#include <cursimeter/chartfile/chart_file.hpp>
#include <fstream>
#include <sstream>

/// Reading and compiling the demo chart, from text in memory.
namespace {

void load_demo_chart(benchmark::State& state) {
    std::ifstream in(CURSIMETER_SOURCE_DIR "/demo/charts/bearer.toml");
    std::ostringstream text;
    text << in.rdbuf();
    for (auto _ : state) {
        benchmark::DoNotOptimize(cursimeter::parse_chart(text.str(), "bearer.toml").chart.digest());
    }
}

BENCHMARK(load_demo_chart)->Unit(benchmark::kMillisecond);

}  // namespace

BENCHMARK_MAIN();
