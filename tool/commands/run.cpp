#include <fmt/format.h>

#include <algorithm>
#include <cursimeter/survey/trace.hpp>

#include "commands/commands.hpp"
#include "files/call_files.hpp"
#include "files/files.hpp"
#include "json/run_json.hpp"
#include "picture/map.hpp"
#include "picture/movie.hpp"
#include "picture/timeline.hpp"
#include "scene/results.hpp"
#include "scene/scene.hpp"
#include "scene/take_file.hpp"
#include "text/run_summary.hpp"

namespace cursimeter::tool {
namespace {

OutputFile movie_output(const std::string& file) {
    if (!file.empty() && picture_kind(file) != FileKind::png) {
        throw ChartError(
            {{"--movie", "is no .png file", "end its name in .png: it is an animated PNG", file, 0, 0}});
    }
    return {"--movie", file, FileKind::png};
}

}  // namespace

int run_command(const RunOptions& options) {
    const CallFiles files{inputs_of(options.scene),
                          {{"--trace", options.trace, FileKind::table},
                           {"--take", options.take, FileKind::take},
                           picture_output("--picture", options.picture),
                           picture_output("--map", options.map),
                           movie_output(options.movie)},
                          options.json};
    check_files(files);
    const Scene scene(options.scene);
    RunResult result = run_scene(scene);
    run_also_at(scene, options.also_at, result);
    const bool differs =
        std::any_of(result.also.begin(), result.also.end(), [](const RunAtRate& at) { return at.gap.first; });
    if (!options.trace.empty()) {
        write_text(options.trace, survey::trace_csv(result.chart, result.run));
    }
    if (!options.take.empty()) {
        write_take(scene, options.take);
    }
    if (!options.picture.empty()) {
        draw_timeline(result, options.picture);
    }
    if (!options.map.empty()) {
        draw_map(result, options.map);
    }
    if (!options.movie.empty()) {
        draw_movie(result, options.movie);
    }
    if (options.json) {
        fmt::print("{}", run_json(result));
        return differs ? 1 : 0;
    }
    fmt::print(text_stream(files), "{}", summary_text(result));
    tell_written(files);
    return differs ? 1 : 0;
}

}  // namespace cursimeter::tool
