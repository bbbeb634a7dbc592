#pragma once

#include <memory>
#include <string>

#include "call_examples.hpp"
#include "call_table.hpp"
#include "scene/scene.hpp"

/// What calls have in common.
namespace cursimeter::tool {

/// A subcommand whose options live as long as the call.
template <class Options, class Fill>
void add(CLI::App& app, Calls& calls, const char* name, const char* meaning, int (*command)(const Options&),
         Fill fill) {
    auto options = std::make_shared<Options>();
    CLI::App* sub = app.add_subcommand(name, meaning);
    sub->footer(footer_of(name));
    fill(*sub, *options);
    calls.emplace_back(sub, [options, command] {
        if constexpr (requires { options->scene; }) {
            find_companions(options->scene);
        }
        return command(*options);
    });
}

inline void chart_argument(CLI::App& sub, std::string& chart) {
    sub.add_option("CHART", chart, "chart file (TOML)")->required();
}
/// The run that several commands look at.
inline void scene_options(CLI::App& sub, SceneOptions& scene) {
    sub.add_option("CHART", scene.chart, "chart file (TOML); the take's own if not given");
    CLI::Option* drill = sub.add_option(
        "-d,--drill", scene.drill, "drill file (TOML); of NAME.chart.toml, NAME.drill.toml if not given");
    sub.add_option("--from", scene.from, "take file, instead of a drill: the run that it holds")
        ->excludes(drill);
    sub.add_option("-c,--course", scene.course,
                   "course file (TOML); open flat ground, or the take's, if not given");
    sub.add_option("-r,--rate", scene.rate, "ticks a second, at least 10")->capture_default_str();
    sub.add_option("-s,--seconds", scene.seconds, "how long to run; the drill's length if not given");
}
inline void quiet_flag(CLI::App& sub, bool& quiet) {
    sub.add_flag("-q,--quiet", quiet, "do not tell on the terminal how far it has come");
}
inline void json_flag(CLI::App& sub, bool& json, const char* instead) {
    sub.add_flag("-j,--json", json, std::string("print one JSON object instead of ") + instead);
}

}  // namespace cursimeter::tool
