#include <fmt/format.h>

#include "commands/commands.hpp"
#include "files/call_files.hpp"
#include "files/files.hpp"
#include "picture/diagram.hpp"
#include "picture/map.hpp"
#include "picture/timeline.hpp"
#include "scene/scene.hpp"

namespace cursimeter::tool {
namespace {

/// What `draw` writes by the name of its file. Throws ChartError for an ending that it cannot draw.
OutputFile output_of(const DrawOptions& options) {
    const bool diagram = options.what == "diagram";
    if (diagram && ending_of(options.out) == ".dot") {
        return {"--out", options.out, FileKind::unknown};
    }
    if (diagram && picture_kind(options.out) == FileKind::unknown) {
        throw ChartError(
            {{"--out", "is none of .png, .svg and .dot", "end its name in one of them", options.out, 0, 0}});
    }
    return picture_output("--out", options.out);
}

void draw_diagram(const DrawOptions& options, FileKind kind) {
    std::string dot;
    if (options.scene.drill.empty() && options.scene.from.empty() && !options.scene.chart.empty()) {
        dot = diagram_dot(open_chart(options.scene.chart), nullptr);
    } else {
        const Scene scene(options.scene);
        const RunResult result = run_scene(scene);
        dot = diagram_dot(scene.chart, &result.run);
    }
    write_text(options.out,
               kind == FileKind::unknown ? dot : render_dot(dot, kind == FileKind::png ? "png" : "svg"));
}

}  // namespace

int draw_command(const DrawOptions& options) {
    const CallFiles files{inputs_of(options.scene), {output_of(options)}};
    check_files(files);
    if (options.what == "diagram") {
        draw_diagram(options, files.outputs.front().kind);
    } else {
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
    tell_written(files);
    return 0;
}

}  // namespace cursimeter::tool
