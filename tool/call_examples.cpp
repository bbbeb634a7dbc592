#include "call_examples.hpp"

#include <fmt/format.h>

namespace cursimeter::tool {
namespace {

struct Footer {
    const char* name;
    const char* examples;
    const char* finding;  ///< what exit code 1 says; null if there is no such code
};
constexpr Footer footers[] = {
    {"run",
     "cursimeter run demo/charts/eel.toml -d demo/drills/relay_eel.toml -c demo/courses/relay.toml\n"
     "  cursimeter run demo/charts/bearer.toml -d demo/drills/quay_boards.toml --trace - > trace.csv\n"
     "  cursimeter run demo/charts/bearer.toml -d demo/drills/quay_boards.toml --also-at 20,144,1000",
     "other states at another tick rate (--also-at)"},
    {"check", "cursimeter check demo/charts/bearer.toml", "an error or a warning was found"},
    {"figures", "cursimeter figures demo/charts/bearer.toml --compare demo/charts/eel.toml", nullptr},
    {"why", "cursimeter why demo/charts/bearer.toml -d demo/drills/quay_boards.toml --state sprint", nullptr},
    {"trial", "cursimeter trial demo/charts/bearer.toml -d demo/drills/quay_boards.toml --junit trial.xml",
     "an expectation was not kept"},
    {"draw", "cursimeter draw diagram demo/charts/bearer.toml -o bearer.svg", nullptr},
    {"sweep",
     "cursimeter sweep demo/charts/bearer.toml --vary states.sprint.speed.forward=6:9:0.5 "
     "--figure sprint.top_forward\n"
     "  cursimeter sweep demo/charts/bearer.toml --vary states.sprint.speed.forward=6:9 --vary "
     "states.sprint.drain.stamina=8:20 --sample 50 --figure sprint.distance --sensitivity",
     nullptr},
    {"scout",
     "cursimeter scout demo/charts/bearer.toml -c demo/courses/relay.toml --leg \"whole relay\" -o "
     "fast.toml\n"
     "  cursimeter scout demo/charts/eel.toml",
     "no way to the goal was found"},
    {"fit",
     "cursimeter fit demo/charts/bearer.toml --want \"sprint.distance = 40 m\" --vary "
     "states.sprint.drain.stamina",
     "a wish was missed"},
    {"try", "cursimeter try demo/charts/bearer.toml --course demo/courses/relay.toml", nullptr},
    {"replay", "cursimeter replay run.take", "it came out otherwise"},
    {"report", "cursimeter report demo/charts/eel.toml -d demo/drills/relay_eel.toml -o eel.html", nullptr},
    {"watch", "cursimeter watch eel.chart.toml", nullptr},
    {"net", "cursimeter net demo/charts/bearer.toml --clients 8 --delay 75 --jitter 10 --loss 5%",
     "peers came out otherwise"},
    {"reference", "cursimeter reference chart > chart.md", nullptr},
    {"schema", "cursimeter schema chart > chart.schema.json", nullptr},
    {"new", "cursimeter new diver", nullptr},
};

}  // namespace

std::string footer_of(std::string_view command) {
    for (const Footer& footer : footers) {
        if (command == footer.name) {
            return fmt::format("For example:\n  {}\nExit code: 0 fine{}, 2 unusable call or input\n",
                               footer.examples,
                               footer.finding == nullptr ? "" : fmt::format(", 1 {}", footer.finding));
        }
    }
    return {};
}

}  // namespace cursimeter::tool
