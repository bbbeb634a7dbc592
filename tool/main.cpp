#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <cstdio>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/version.hpp>

#include "commands.hpp"

namespace {

constexpr int unusable = 2;

int run_program(int argc, char** argv) {
    using namespace cursimeter::tool;
    CLI::App app{"Builds, runs and explains character locomotion from charts.", "cursimeter"};
    app.set_version_flag("--version", CURSIMETER_VERSION_TEXT);
    app.require_subcommand(1);
    app.failure_message(CLI::FailureMessage::help);

    RunOptions run;
    CLI::App* run_app = app.add_subcommand("run", "Drive a chart through a drill and tell what happened");
    run_app->add_option("CHART", run.chart, "chart file (TOML)")->required();
    run_app->add_option("--drill", run.drill, "drill file (TOML)")->required();
    run_app->add_option("--rate", run.rate, "ticks a second, at least 10")->capture_default_str();
    run_app->add_option("--seconds", run.seconds, "how long to run; the drill's length if not given");
    run_app->add_option("--trace", run.trace, "write the per-tick table to this CSV file");
    run_app->add_option("--picture", run.picture, "draw the timeline to this .png or .svg file");
    run_app->add_flag("--json", run.json, "print one JSON object instead of the summary");

    std::string which;
    CLI::App* reference_app =
        app.add_subcommand("reference", "Print the reference of a file format (Markdown)");
    reference_app->add_option("FORMAT", which, "chart or drill")
        ->required()
        ->check(CLI::IsMember({"chart", "drill"}));

    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        if (error.get_exit_code() == 0) {  // --help, --version
            return app.exit(error);
        }
        const CLI::App* asked = run_app->parsed() ? run_app : reference_app->parsed() ? reference_app : &app;
        fmt::print(stderr, "error: {}\n\n{}", error.what(), asked->help());
        return unusable;
    }
    return run_app->parsed() ? run_command(run) : reference_command(which);
}

}  // namespace

int main(int argc, char** argv) {
    try {
        return run_program(argc, argv);
    } catch (const cursimeter::ChartError& error) {
        for (const cursimeter::Diagnostic& diagnostic : error.diagnostics()) {
            fmt::print(stderr, "error: {}\n", diagnostic.text());
        }
    } catch (const std::exception& error) {
        fmt::print(stderr, "error: {}\n", error.what());
    }
    return unusable;
}
