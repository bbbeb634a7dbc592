#include <fmt/format.h>

#include "commands/commands.hpp"
#include "files/files.hpp"
#include "picture/diagram.hpp"
#include "picture/map.hpp"
#include "picture/timeline.hpp"
#include "scene/scene.hpp"

namespace cursimeter::tool {
namespace {

void draw_diagram(const DrawOptions& options) {
    const std::string ending = ending_of(options.out);
    if (ending != ".png" && ending != ".svg" && ending != ".dot") {
        throw ChartError(
            {{"--out", "is none of .png, .svg and .dot", "end its name in one of them", options.out, 0, 0}});
    }
    std::string dot;
    if (options.scene.drill.empty() && options.scene.from.empty() && !options.scene.chart.empty()) {
        dot = diagram_dot(load_chart(options.scene.chart), nullptr);
    } else {
        const Scene scene(options.scene);
        const RunResult result = run_scene(scene);
        dot = diagram_dot(scene.chart, &result.run);
    }
    write_text(options.out, ending == ".dot" ? dot : render_dot(dot, ending.c_str() + 1));
}

}  // namespace

int draw_command(const DrawOptions& options) {
    if (options.what == "diagram") {
        draw_diagram(options);
    } else {
        check_picture("--out", options.out);
        if (options.scene.drill.empty() && options.scene.from.empty()) {
            throw ChartError({{"--drill",
                               fmt::format("is missing: a {} is drawn of a run", options.what),
                               "give --drill FILE, or a take by --from FILE",
                               {},
                               0,
                               0}});
        }
        const RunResult result = run_scene(Scene(options.scene));
        options.what == "path" ? draw_map(result, options.out) : draw_timeline(result, options.out);
    }
    fmt::print("wrote {}\n", options.out);
    return 0;
}

}  // namespace cursimeter::tool
