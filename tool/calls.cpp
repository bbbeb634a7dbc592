#include "calls.hpp"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <algorithm>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/version.hpp>
#include <sstream>
#include <string>
#include <string_view>
#include <vector>

#include "call_errors.hpp"
#include "call_table.hpp"
#include "processes/processes.hpp"

namespace cursimeter::tool {

int run_program(int argc, char** argv) {
    std::vector<char*> words(argv, argv + argc);
    std::string help = "--help";
    if (argc > 1 && std::string_view(argv[1]) == "help") {  // `help run` is `run --help`
        words.erase(words.begin() + 1);
        words.insert(words.begin() + std::min<std::ptrdiff_t>(2, std::ssize(words)), help.data());
        argc = static_cast<int>(words.size());
        argv = words.data();
    }
    CLI::App app{"Builds, runs and explains character locomotion from charts.", "cursimeter"};
    app.set_version_flag("--version", CURSIMETER_VERSION_TEXT);
    app.require_subcommand(1);
    const Calls calls = add_calls(app);
    // A number that a word cannot hold would be taken for the largest.
    for (CLI::App* command : app.get_subcommands({})) {
        for (CLI::Option* option : command->get_options()) {
            if (option->get_type_name() == "UINT") {
                option->check([](const std::string& value) {
                    return is_too_large(value) ? value + " is too large" : std::string();
                });
            }
        }
    }
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        if (error.get_exit_code() == 0) {  // --help, --version
            std::ostringstream told;
            static_cast<void>(app.exit(error, told, told));
            fmt::print("{}", told.str());
            return 0;
        }
        throw ChartError({error_of_call(app, error, argc, argv)});
    }
    for (const auto& [command, run] : calls) {
        if (command->parsed()) {
            const Processes* const processes = processes_of_call();
            const std::string_view name = command->get_name();
            const bool deals = name == "sweep" || name == "scout" || name == "trial";
            if (processes != nullptr && !processes->leads() && !deals) {
                return 0;  // one is enough
            }
            return run();
        }
    }
    return unusable;
}

}  // namespace cursimeter::tool
