#include "survey/require/requirement.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cursimeter/diagnostics.hpp>

#include "core/chart/findings.hpp"
#include "survey/trimmed.hpp"

namespace cursimeter::survey {
namespace {

constexpr const char* forms =
    "write \"never STATE with TERM, TERM\", \"never TERM\", \"STATE ends within T s\" or \"STATE possible "
    "within "
    "T s\"";

[[noreturn]] void refuse(std::string what, std::string mend) {
    throw ChartError({{"require", std::move(what), std::move(mend), {}, 0, 0}});
}

std::vector<std::string> split(const std::string& text) {
    std::vector<std::string> parts;
    for (std::size_t begin = 0; begin <= text.size();) {
        const std::size_t end = std::min(text.find(',', begin), text.size());
        parts.push_back(trimmed(std::string_view(text).substr(begin, end - begin)));
        begin = end + 1;
    }
    return parts;
}

bool is_state(const ChartSpec& spec, const std::string& name) {
    return std::any_of(spec.states.begin(), spec.states.end(),
                       [&](const StateSpec& state) { return state.name == name; });
}

std::string state_of(const ChartSpec& spec, const std::string& name) {
    if (!is_state(spec, name)) {
        refuse(fmt::format("the chart has no state '{}'", name),
               detail::advise_name(name, detail::names_of(spec.states)));
    }
    return name;
}

/// "2 s".
double seconds_of(const std::string& text) {
    double value = 0.0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    const std::string unit =
        trimmed(std::string_view(end, static_cast<std::size_t>(text.data() + text.size() - end)));
    if (error != std::errc() || unit != "s" || !(value >= 0.0 && value <= 600.0)) {
        refuse(fmt::format("'{}' is no time", text),
               "write a number of seconds, from 0 to 600, and \"s\": \"2 s\"");
    }
    return value;
}

Requirement read_never(const std::string& rest, const ChartSpec& spec) {
    Requirement requirement;
    const std::size_t with = rest.find(" with ");
    if (with != std::string::npos) {
        requirement.state = state_of(spec, trimmed(rest.substr(0, with)));
        requirement.terms = split(rest.substr(with + 6));
    } else if (is_state(spec, rest)) {
        requirement.state = rest;
    } else {
        requirement.terms = split(rest);
    }
    for (const std::string& term : requirement.terms) {
        if (term.empty()) {
            refuse("a term is missing", "write terms as conditions have them, with a comma between two");
        }
        if (term.ends_with(" pressed") || term.ends_with(" released")) {
            refuse(fmt::format("'{}' is over in an instant", term), "ask for what lasts: \"sprint on\"");
        }
    }
    return requirement;
}

}  // namespace

Requirement read_requirement(const std::string& text, const ChartSpec& spec) {
    std::string rest = trimmed(text);
    if (rest.starts_with("never ")) {
        return read_never(trimmed(rest.substr(6)), spec);
    }
    Requirement requirement;
    if (constexpr std::string_view any = "from any state"; rest.starts_with(any)) {
        rest = trimmed(rest.substr(any.size()));
        rest = rest.starts_with(',') || rest.starts_with(':') ? trimmed(rest.substr(1)) : rest;
    } else if (rest.starts_with("from ") && rest.find(':') != std::string::npos) {
        const std::size_t colon = rest.find(':');
        for (const std::string& name : split(rest.substr(5, colon - 5))) {
            requirement.from.push_back(state_of(spec, name));
        }
        rest = trimmed(rest.substr(colon + 1));
    }
    if (constexpr std::string_view whatever = " whatever is pressed"; rest.ends_with(whatever)) {
        rest.resize(rest.size() - whatever.size());
    }
    for (const auto& [words, kind] :
         {std::pair(std::string(" ends within "), RequirementKind::ends),
          std::pair(std::string(" possible within "), RequirementKind::possible)}) {
        const std::size_t at = rest.find(words);
        if (at != std::string::npos && (kind == RequirementKind::possible || requirement.from.empty())) {
            requirement.kind = kind;
            requirement.state = state_of(spec, trimmed(rest.substr(0, at)));
            requirement.seconds = seconds_of(trimmed(rest.substr(at + words.size())));
            return requirement;
        }
    }
    refuse(fmt::format("'{}' is no requirement", text), forms);
}

}  // namespace cursimeter::survey
