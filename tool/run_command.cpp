#include <fmt/format.h>

#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/course_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/survey/trace.hpp>

#include "commands.hpp"
#include "files.hpp"
#include "picture/map.hpp"
#include "picture/timeline.hpp"
#include "run_output.hpp"

namespace cursimeter::tool {
namespace {

void check_picture(const std::string& option, const std::string& file) {
    if (!file.empty() && ending_of(file) != ".png" && ending_of(file) != ".svg") {
        throw ChartError(
            {{option, "is neither a .png nor a .svg file", "end its name in one of them", file, 0, 0}});
    }
}

}  // namespace

int run_command(const RunOptions& options) {
    check_picture("--picture", options.picture);
    check_picture("--map", options.map);
    const ChartFile chart = load_chart(options.chart);
    std::optional<Course> course;
    if (!options.course.empty()) {
        course = load_course(options.course);
    }
    const DrillFile drill = load_drill(options.drill, chart.chart);
    const Seconds length = options.seconds ? Seconds{*options.seconds} : drill.drill.length();
    const std::vector<double> ends = survey::even_ticks(options.rate, length);

    const RunResult result{chart.chart, drill.drill.name(), options.rate,
                           course ? survey::run(chart.chart, drill.drill, *course, ends)
                                  : survey::run(chart.chart, drill.drill, ends),
                           course};
    if (!options.trace.empty()) {
        write_text(options.trace, survey::trace_csv(result.chart, result.run));
    }
    if (!options.picture.empty()) {
        draw_timeline(result, options.picture);
    }
    if (!options.map.empty()) {
        draw_map(result, options.map);
    }
    fmt::print("{}", options.json ? run_json(result) : summary_text(result));
    if (!options.json) {
        for (const std::string& file : {options.trace, options.picture, options.map}) {
            if (!file.empty()) {
                fmt::print("wrote {}\n", file);
            }
        }
    }
    return 0;
}

}  // namespace cursimeter::tool
