#include <fmt/format.h>

#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/survey/trace.hpp>

#include "commands.hpp"
#include "files.hpp"
#include "picture/timeline.hpp"
#include "run_output.hpp"

namespace cursimeter::tool {

int run_command(const RunOptions& options) {
    if (!options.picture.empty() && ending_of(options.picture) != ".png" &&
        ending_of(options.picture) != ".svg") {
        throw ChartError({{"--picture", "is neither a .png nor a .svg file", "end its name in one of them",
                           options.picture, 0, 0}});
    }
    const ChartFile chart = load_chart(options.chart);
    const DrillFile drill = load_drill(options.drill, chart.chart);
    const Seconds length = options.seconds ? Seconds{*options.seconds} : drill.drill.length();
    const std::vector<double> ends = survey::even_ticks(options.rate, length);

    const RunResult result{chart.chart, drill.drill.name(), options.rate,
                           survey::run(chart.chart, drill.drill, ends)};
    if (!options.trace.empty()) {
        write_text(options.trace, survey::trace_csv(result.chart, result.run));
    }
    if (!options.picture.empty()) {
        draw_timeline(result, options.picture);
    }
    fmt::print("{}", options.json ? run_json(result) : summary_text(result));
    if (!options.json) {
        for (const std::string& file : {options.trace, options.picture}) {
            if (!file.empty()) {
                fmt::print("wrote {}\n", file);
            }
        }
    }
    return 0;
}

}  // namespace cursimeter::tool
