#include "call_errors.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <limits>
#include <optional>
#include <regex>
#include <sstream>
#include <string>
#include <vector>

namespace cursimeter::tool {
namespace {

std::string advise(const std::string& word, const std::vector<std::string>& known) {
    const std::string_view near = nearest_name(word, known);
    return near.empty() ? fmt::format("known: {}", fmt::join(known, ", "))
                        : fmt::format("did you mean '{}'?", near);
}

/// The name of the command that is called, or nothing.
const CLI::App* called(const CLI::App& app) {
    for (const CLI::App* command : app.get_subcommands({})) {
        if (command->parsed()) {
            return command;
        }
    }
    return nullptr;
}

/// A word of the call that nothing knows, with the nearest that is known. CLI11
/// would rather complain of what is missing instead.
std::optional<Diagnostic> unknown_word(CLI::App& app, int argc, char** argv) {
    std::vector<std::string> known, all;  // some are known and not listed
    const CLI::App* command = &app;
    const std::string first = argc > 1 ? argv[1] : "";
    if (!first.empty() && first[0] != '-') {
        command = nullptr;
        for (const CLI::App* sub : app.get_subcommands({})) {
            command = sub->get_name() == first ? sub : command;
            all.push_back(sub->get_name());
            if (!sub->get_group().empty()) {
                known.push_back(sub->get_name());
            }
        }
        if (command == nullptr) {
            return Diagnostic{"",
                              fmt::format("there is no subcommand '{}'", first),
                              advise(first, nearest_name(first, all).empty() ? known : all),
                              {},
                              0,
                              0};
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
            const bool too_early = command == &app && argc > i + 1;
            return Diagnostic{
                "",
                fmt::format("there is no option '{}'{}", word, too_early ? " before the subcommand" : ""),
                too_early ? "options stand after it" : advise(word, known),
                {},
                0,
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
        const std::string given = parts[2];
        const bool large =
            option->get_type_name() == "UINT" && is_too_large(given, std::numeric_limits<unsigned>::max());
        const std::string what = missing ? "needs a value"
                                 : large ? fmt::format("{} is too large", given)
                                         : fmt::format("'{}' is not a {}", given, kind_of(*option));
        return Diagnostic{"", fmt::format("{}: {}", name, what), mend, {}, 0, 0};
    }
    return std::nullopt;
}

/// What CLI11 says otherwise, in the words that are ours.
std::optional<Diagnostic> in_our_words(const CLI::App& app, const CLI::ParseError& error) {
    const std::string text = error.what();
    std::smatch parts;
    const auto says = [&](const char* pattern) { return std::regex_match(text, parts, std::regex(pattern)); };
    const auto diagnostic = [](std::string what, std::string mend) {
        return Diagnostic{"", std::move(what), std::move(mend), {}, 0, 0};
    };
    if (says("(-.*): At Most 1 required but received (.*)")) {
        return diagnostic(fmt::format("{} is given {} times", parts[1].str(), parts[2].str()),
                          "give it once");
    }
    if (says("(.*) is required")) {
        return diagnostic(fmt::format("{} is missing", parts[1].str()), "");
    }
    if (says("(-.*) excludes (-.*)")) {
        return diagnostic(fmt::format("{} does not go with {}", parts[1].str(), parts[2].str()),
                          "leave one of them out");
    }
    if (says("(.*): (.*) not in \\{(.*)\\}")) {
        std::vector<std::string> known;
        std::istringstream names(parts[3]);
        for (std::string name; std::getline(names, name, ',');) {
            known.push_back(name);
        }
        return diagnostic(fmt::format("{}: there is no '{}'", parts[1].str(), parts[2].str()),
                          advise(parts[2], known));
    }
    if (says("(.*): Value (.*) not in range (.*) to (.*)")) {
        return diagnostic(fmt::format("{}: {} is out of range", parts[1].str(), parts[2].str()),
                          fmt::format("give {} to {}", parts[3].str(), parts[4].str()));
    }
    if (const CLI::App* command = called(app);
        command != nullptr && says("The following argument.* not expected: .*")) {
        const std::vector<std::string> more = command->remaining();
        const std::string word = more.empty() ? "" : more.front();
        return word.starts_with("-") ? diagnostic(fmt::format("there is no option '{}'", word), "")
                                     : diagnostic(fmt::format("'{}' is one word too many", word),
                                                  "write a name with spaces in quotes");
    }
    return std::nullopt;
}

}  // namespace

bool is_too_large(std::string_view digits, std::uint64_t most) {
    if (digits.empty() || digits.find_first_not_of("0123456789") != std::string_view::npos) {
        return false;
    }
    std::uint64_t value = 0;
    const auto [end, wrong] = std::from_chars(digits.data(), digits.data() + digits.size(), value);
    return wrong == std::errc::result_out_of_range || value > most;
}

Diagnostic error_of_call(CLI::App& app, const CLI::ParseError& error, int argc, char** argv) {
    const CLI::App* command = called(app);
    const std::string asked = command != nullptr ? command->get_name() + " " : "";
    std::optional<Diagnostic> known = unknown_word(app, argc, argv);
    known = known ? known : unusable_value(app, error);
    known = known ? known : in_our_words(app, error);
    Diagnostic wrong = known.value_or(Diagnostic{"", error.what(), "", {}, 0, 0});
    wrong.mend += fmt::format("{}see cursimeter {}--help",
                              wrong.mend.empty()          ? ""
                              : wrong.mend.ends_with('?') ? " "
                                                          : "; ",
                              asked);
    return wrong;
}

}  // namespace cursimeter::tool
