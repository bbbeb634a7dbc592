#include <cursimeter/diagnostics.hpp>

#include "commands/commands.hpp"
#include "files/call_files.hpp"
#ifdef CURSIMETER_WINDOW
#include "window/window.hpp"
#endif

namespace cursimeter::tool {

int try_command(const TryOptions& options) {
    if (options.frames == 0 && !options.shot.empty()) {
        throw ChartError(
            {{"--shot", "is taken after a number of frames", "give --frames N with it", {}, 0, 0}});
    }
    if (options.chart == "-") {
        throw ChartError(
            {{"CHART", "cannot be standard input: the window saves to it", "name a file", {}, 0, 0}});
    }
    check_files({{{"CHART", options.chart},
                  {"--course", options.course},
                  {"--drill", options.drill},
                  {"--controls", options.controls},
                  {"--against", options.against}},
                 {{"--shot", options.shot, FileKind::png}, {"--state-json", options.state_json}}});
#ifdef CURSIMETER_WINDOW
    return open_window(options);
#else
    throw ChartError(
        {{"try",
          "was left out when this program was built: the libraries for a window were missing",
          "install libsdl2-dev, libimgui-dev and libgl-dev, and build again; all else works as it is",
          {},
          0,
          0}});
#endif
}

}  // namespace cursimeter::tool
