#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <algorithm>
#include <cstdio>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/version.hpp>
#include <string>
#include <vector>

#include "calls.hpp"

namespace {

constexpr int unusable = 2;

std::string advise(const std::string& word, const std::vector<std::string>& known) {
    const std::string_view near = cursimeter::nearest_name(word, known);
    return near.empty() ? fmt::format("known: {}", fmt::join(known, ", "))
                        : fmt::format("did you mean '{}'?", near);
}

/// A word of the call that nothing knows, with the nearest that is known; empty if there is none. CLI11
/// would rather complain of what is missing instead.
std::string unknown_word(CLI::App& app, int argc, char** argv) {
    std::vector<std::string> known;
    const CLI::App* command = &app;
    const std::string first = argc > 1 ? argv[1] : "";
    if (!first.empty() && first[0] != '-') {
        command = nullptr;
        for (const CLI::App* sub : app.get_subcommands({})) {
            command = sub->get_name() == first ? sub : command;
            known.push_back(sub->get_name());
        }
        if (command == nullptr) {
            return fmt::format("there is no subcommand '{}'; {}", first, advise(first, known));
        }
        known.clear();
    }
    for (const CLI::Option* option : command->get_options()) {
        for (const std::string& name : option->get_lnames()) {
            known.push_back("--" + name);
        }
    }
    for (int i = 1; i < argc; ++i) {
        const std::string word = std::string(argv[i]).substr(0, std::string(argv[i]).find('='));
        if (word.starts_with("--") && std::find(known.begin(), known.end(), word) == known.end()) {
            return fmt::format("there is no option '{}'; {}", word, advise(word, known));
        }
    }
    return {};
}

int run_program(int argc, char** argv) {
    CLI::App app{"Builds, runs and explains character locomotion from charts.", "cursimeter"};
    app.set_version_flag("--version", CURSIMETER_VERSION_TEXT);
    app.require_subcommand(1);
    app.failure_message(CLI::FailureMessage::help);
    const cursimeter::tool::Calls calls = cursimeter::tool::add_calls(app);
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        if (error.get_exit_code() == 0) {  // --help, --version
            return app.exit(error);
        }
        const CLI::App* asked = &app;
        for (const CLI::App* command : app.get_subcommands({})) {
            asked = command->parsed() ? command : asked;
        }
        const std::string unknown = unknown_word(app, argc, argv);
        fmt::print(stderr, "error: {}\n\n{}", unknown.empty() ? error.what() : unknown,
                   asked == &app ? app.help() : asked->help("cursimeter"));
        return unusable;
    }
    for (const auto& [command, run] : calls) {
        if (command->parsed()) {
            return run();
        }
    }
    return unusable;
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
