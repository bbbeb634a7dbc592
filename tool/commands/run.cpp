#include <fmt/format.h>

#include <cursimeter/survey/trace.hpp>

#include "commands/commands.hpp"
#include "files/files.hpp"
#include "json/run_json.hpp"
#include "picture/map.hpp"
#include "picture/timeline.hpp"
#include "scene/results.hpp"
#include "scene/scene.hpp"
#include "scene/take_file.hpp"
#include "text/run_summary.hpp"

namespace cursimeter::tool {

int run_command(const RunOptions& options) {
    check_picture("--picture", options.picture);
    check_picture("--map", options.map);
    const Scene scene(options.scene);
    const RunResult result = run_scene(scene);
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
    fmt::print("{}", options.json ? run_json(result) : summary_text(result));
    if (!options.json) {
        for (const std::string& file : {options.trace, options.take, options.picture, options.map}) {
            if (!file.empty()) {
                fmt::print("wrote {}\n", file);
            }
        }
    }
    return 0;
}

}  // namespace cursimeter::tool
