#include <fmt/format.h>

#include <algorithm>
#include <cursimeter/diagnostics.hpp>
#include <filesystem>

#include "commands/commands.hpp"
#include "files/files.hpp"

namespace cursimeter::tool {
namespace {

constexpr std::string_view chart_text =
    R"toml(# {0}: a chart to begin from. Every key, with unit, default and range: cursimeter reference chart
# Check it: cursimeter check {0}.chart.toml      Its numbers: cursimeter figures {0}.chart.toml
format = 1
name   = "{0}"
rank   = ["jump", "fall", "sprint", "walk"]   # tried in this order; the first whose condition holds is taken

[body]                                        # an upright capsule; metres
radius = 0.35
height = 1.8
coyote = 0.1                                  # s after an edge in which a jump still counts

[actions]                                     # what the player can do; keys are bound elsewhere
sprint = {{ press = "hold" }}                   # or "toggle"
jump   = {{ buffer = 0.12 }}                    # s: an early press still counts

[meters.stamina]
capacity = 100
refill   = {{ rate = 18, wait = 0.7 }}          # per second; s after the last drain
spent    = {{ at = 0, until = 30 }}             # once empty, no sprint before 30

[states.walk]                                 # no `enter`: whatever else cannot be
kind  = "ground"
speed = {{ forward = 2.4, side = 2.1, back = 1.6 }}   # m/s
gain  = {{ law = "ramp", up = 12, down = 16 }}        # m/s^2; instant, ramp, ease or curve

[states.sprint]
like  = "walk"                                # takes over what it does not say
speed = {{ forward = 6 }}
enter = ["sprint on", "moving forward", "grounded", "stamina >= 10"]
stay  = ["sprint on", "moving forward", "grounded", "stamina > 0"]
drain = {{ stamina = 12 }}                      # per second, while really moving

[states.fall]
kind  = "air"
speed = {{ forward = 4 }}                       # steering adds speed up to here, and keeps what is above
air   = {{ rise_gravity = 18, fall_gravity = 26, terminal = 40, steer = 10 }}
enter = ["not grounded"]

[states.jump]
like   = "fall"
launch = {{ heights = [1.2], least = 0.5, by = "jump" }}   # m; least: if the key is released at once
enter  = ["jump pressed"]
stay   = ["not grounded", "rise > 0"]
)toml";

constexpr std::string_view drill_text =
    R"toml(# A drill: what is pressed when. Run it: cursimeter run {0}.chart.toml --drill {0}.drill.toml --course {0}.course.toml
format  = 1
name    = "first steps of {0}"
seconds = 12

[[step]]                                      # walk
at   = 0.5
move = {{ forward = 1 }}

[[step]]                                      # run
at   = 2
hold = ["sprint"]

[[step]]                                      # over the gap
at    = 4.68
hold  = ["jump"]

[[step]]
at      = 5.2
release = ["jump"]

[[step]]                                      # and stop
at      = 8
release = ["sprint"]
move    = {{ forward = 0 }}
)toml";

constexpr std::string_view course_text =
    R"toml(# A course: boxes, ramps, walls, zones and timed legs. Every key: cursimeter reference course
format = 1
name   = "yard of {0}"

[[box]]                                       # the near quay
from = [-5, -4, -1]
to   = [19, 4, 0]

[[box]]                                       # the far quay, behind a gap of 2 m
from = [21, -4, -1]
to   = [60, 4, 0]

[[leg]]
name   = "the yard"
start  = {{ from = [1, -4, 0], to = [1, 4, 0] }}
finish = {{ from = [30, -4, 0], to = [30, 4, 0] }}
)toml";

}  // namespace

int new_command(const NewOptions& options) {
    const auto plain = [](char c) { return (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '_'; };
    if (options.name.empty() || !std::all_of(options.name.begin(), options.name.end(), plain) ||
        !(options.name[0] >= 'a' && options.name[0] <= 'z')) {
        throw ChartError({{"NAME",
                           fmt::format("'{}' cannot be a name", options.name),
                           "names are a letter, then letters, digits and _, all in lower case",
                           {},
                           0,
                           0}});
    }
    const std::filesystem::path folder(options.folder);
    struct Fresh {
        std::string file;
        std::string_view text;
    };
    const Fresh fresh[] = {{(folder / (options.name + ".chart.toml")).string(), chart_text},
                           {(folder / (options.name + ".drill.toml")).string(), drill_text},
                           {(folder / (options.name + ".course.toml")).string(), course_text}};
    for (const Fresh& one : fresh) {
        if (std::filesystem::exists(one.file)) {
            throw ChartError({{"", "is there already and was left as it is", "choose another name or folder",
                               one.file, 0, 0}});
        }
    }
    for (const Fresh& one : fresh) {
        write_text(one.file, fmt::format(fmt::runtime(one.text), options.name));
        fmt::print("wrote {}\n", one.file);
    }
    fmt::print("try: cursimeter run {} --drill {} --course {}\n", fresh[0].file, fresh[1].file,
               fresh[2].file);
    return 0;
}

}  // namespace cursimeter::tool
