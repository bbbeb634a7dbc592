#include "call_errors.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <optional>
#include <regex>
#include <string>
#include <vector>

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

/// What a call's option takes, in words.
std::string kind_of(const CLI::Option& option) {
    const std::string type = option.get_type_name();
    return option.get_expected_max() > 1 ? "list of numbers"
           : type == "UINT"              ? "whole number from 0 up"
           : type == "INT"               ? "whole number"
                                         : "number";
}

/// A value that is no number of the kind that its option takes, or that is not there. CLI11 says so as "Could not convert: --rate = fast"
/// and "--rate: 1 required FLOAT missing".
std::optional<Diagnostic> unusable_value(const CLI::App& app, const CLI::ParseError& error) {
    const std::string text = error.what();
    std::smatch parts;
    const bool missing = std::regex_match(text, parts, std::regex("(-[^:]*): 1 required .* missing"));
    if (!missing && !std::regex_match(text, parts, std::regex("Could not convert: (\\S+) = (.*)"))) {
        return std::nullopt;
    }
    const std::string name = parts[1];
    for (const CLI::App* command : app.get_subcommands({})) {
        const CLI::Option* option = command->parsed() ? command->get_option_no_throw(name) : nullptr;
        if (option == nullptr) {
            continue;
        }
        const std::string fallback = option->get_default_str();
        const bool several = option->get_expected_max() > 1;
        const std::string mend = several            ? (missing ? "" : "write them with commas between")
                                 : fallback.empty() ? ""
                                                    : fmt::format("write one such as {}", fallback);
        const std::string what =
            missing ? "needs a value" : fmt::format("'{}' is not a {}", parts[2].str(), kind_of(*option));
        return Diagnostic{"", fmt::format("{}: {}", name, what), mend, {}, 0, 0};
    }
    return std::nullopt;
}

}  // namespace

Diagnostic error_of_call(CLI::App& app, const CLI::ParseError& error, int argc, char** argv) {
    std::string asked;
    for (const CLI::App* command : app.get_subcommands({})) {
        asked = command->parsed() ? command->get_name() + " " : asked;
    }
    std::optional<Diagnostic> known = unknown_word(app, argc, argv);
    known = known ? known : unusable_value(app, error);
    Diagnostic wrong = known.value_or(Diagnostic{"", error.what(), "", {}, 0, 0});
    wrong.mend += fmt::format("{}see cursimeter {}--help",
                              wrong.mend.empty()          ? ""
                              : wrong.mend.ends_with('?') ? " "
                                                          : "; ",
                              asked);
    return wrong;
}

}  // namespace cursimeter::tool
