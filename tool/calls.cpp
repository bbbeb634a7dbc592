#include "calls.hpp"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <algorithm>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/version.hpp>
#include <optional>
#include <sstream>

#include "call_table.hpp"
#include "processes/processes.hpp"

namespace cursimeter::tool {
namespace {

std::string advise(const std::string& word, const std::vector<std::string>& known) {
    const std::string_view near = nearest_name(word, known);
    return near.empty() ? fmt::format("known: {}", fmt::join(known, ", "))
                        : fmt::format("did you mean '{}'?", near);
}

/// A word of the call that nothing knows, with the nearest that is known. CLI11
/// would rather complain of what is missing instead.
std::optional<Diagnostic> unknown_word(CLI::App& app, int argc, char** argv) {
    std::vector<std::string> known;
    const CLI::App* command = &app;
    const std::string first = argc > 1 ? argv[1] : "";
    if (!first.empty() && first[0] != '-') {
        command = nullptr;
        for (const CLI::App* sub : app.get_subcommands({})) {
            command = sub->get_name() == first ? sub : command;
            if (!sub->get_group().empty()) {
                known.push_back(sub->get_name());
            }
        }
        if (command == nullptr) {
            return Diagnostic{
                "", fmt::format("there is no subcommand '{}'", first), advise(first, known), {}, 0, 0};
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
            return Diagnostic{"", fmt::format("there is no option '{}'", word), advise(word, known), {}, 0,
                              0};
        }
    }
    return std::nullopt;
}

/// CLI11 reads -3 as a count of 2^64 - 3.
void refuse_negative_counts(CLI::App& app) {
    for (CLI::App* command : app.get_subcommands({})) {
        for (CLI::Option* option : command->get_options()) {
            if (option->get_type_name() == "UINT") {
                option->check([](const std::string& value) {
                    return value.starts_with('-') ? fmt::format("'{}' is not a whole number from 0 up", value)
                                                  : "";
                });
            }
        }
    }
}

/// A value that is no number of the kind that its option takes. CLI11 says so as "Could not convert: --rate = fast".
std::optional<Diagnostic> unreadable_value(const CLI::App& app, const CLI::ParseError& error) {
    constexpr std::string_view begin = "Could not convert: ", between = " = ";
    const std::string text = error.what();
    const std::size_t equals = text.find(between);
    if (!text.starts_with(begin) || equals == std::string::npos) {
        return std::nullopt;
    }
    const std::string name = text.substr(begin.size(), equals - begin.size());
    const std::string value = text.substr(equals + between.size());
    for (const CLI::App* command : app.get_subcommands({})) {
        const CLI::Option* option = command->parsed() ? command->get_option_no_throw(name) : nullptr;
        if (option == nullptr) {
            continue;
        }
        const std::string type = option->get_type_name();
        const bool several = option->get_expected_max() > 1;
        const std::string kind = type == "UINT"  ? "whole number from 0 up"
                                 : type == "INT" ? "whole number"
                                                 : "number";
        const std::string fallback = option->get_default_str();
        return Diagnostic{
            "",
            fmt::format("{}: '{}' is not a {}", name, value, several ? "list of numbers" : kind),
            several            ? "write them with commas between"
            : fallback.empty() ? ""
                               : fmt::format("write one such as {}", fallback),
            {},
            0,
            0};
    }
    return std::nullopt;
}

}  // namespace

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
    refuse_negative_counts(app);
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        if (error.get_exit_code() == 0) {  // --help, --version
            std::ostringstream told;
            static_cast<void>(app.exit(error, told, told));
            fmt::print("{}", told.str());
            return 0;
        }
        std::string asked;
        for (const CLI::App* command : app.get_subcommands({})) {
            asked = command->parsed() ? command->get_name() + " " : asked;
        }
        std::optional<Diagnostic> known = unknown_word(app, argc, argv);
        known = known ? known : unreadable_value(app, error);
        Diagnostic wrong = known.value_or(Diagnostic{"", error.what(), "", {}, 0, 0});
        wrong.mend += fmt::format("{}see cursimeter {}--help",
                                  wrong.mend.empty()          ? ""
                                  : wrong.mend.ends_with('?') ? " "
                                                              : "; ",
                                  asked);
        throw ChartError({wrong});
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
