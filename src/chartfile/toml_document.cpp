#include "chartfile/toml_document.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cursimeter/chartfile/whole_file.hpp>

#include "chartfile/toml_complaint.hpp"
#include "core/chart/findings.hpp"
#include "core/chart/key.hpp"

namespace cursimeter {

SourcePosition SourceMap::find(std::string_view path) const {
    while (!path.empty()) {
        const auto found = positions_.find(path);
        if (found != positions_.end()) {
            return found->second;
        }
        const std::size_t cut = path.find_last_of(".[");
        path = cut == std::string_view::npos ? std::string_view() : path.substr(0, cut);
    }
    const auto root = positions_.find(path);
    return root != positions_.end() ? root->second : SourcePosition{};
}

namespace chartfile {
namespace {

/// Whether `path` is `part` or lies inside it.
bool inside(const std::string& path, const std::string& part) {
    return path.starts_with(part) &&
           (path.size() == part.size() || path[part.size()] == '.' || path[part.size()] == '[');
}

/// Whether a complaint of compiling only repeats one of reading: it is about the same part of the file or
/// a part of that, or about a named thing that lacks what could not be read.
bool repeats(const std::string& compiling, const std::string& reading) {
    const bool named_thing = compiling.find('.') != std::string::npos;
    return inside(compiling, reading) || (named_thing && inside(reading, compiling));
}

/// Length of the TOML string at the start of a text, quotes included; of the whole text if it does not end.
std::size_t string_length(std::string_view text) {
    const char quote = text.front();
    const std::string triple(3, quote);
    const bool multiline = text.starts_with(triple);
    std::size_t at = multiline ? 3 : 1;
    for (; at < text.size(); ++at) {
        if (quote == '"' && text[at] == '\\') {
            ++at;
        } else if (multiline ? text.substr(at).starts_with(triple) : text[at] == quote) {
            return at + (multiline ? 3 : 1);
        } else if (!multiline && text[at] == '\n') {
            return at;  // the parser complains of it
        }
    }
    return text.size();
}

/// Refuses keys of so many parts ("a.b.c") that the parser, which calls itself for each, would exhaust the stack. Its
/// own limit covers brackets only.
void refuse_deep_nesting(std::string_view text, const std::string& name) {
    constexpr int most_parts = 32;
    int line = 1, parts = 1;
    while (!text.empty()) {
        const char c = text.front();
        std::size_t length = 1;
        if (c == '"' || c == '\'') {
            length = string_length(text);
        } else if (c == '#') {
            length = std::min(text.find('\n'), text.size());
        } else if (c == '.') {
            ++parts;
        } else if (std::string_view("=,[]{}\n").find(c) != std::string_view::npos) {
            parts = 1;
        }
        if (parts > most_parts) {
            throw ChartError({{"", fmt::format("has a key of more than {} parts", most_parts),
                               "no key of these files has more than five", name, line, 1}});
        }
        line += static_cast<int>(
            std::count(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(length), '\n'));
        text.remove_prefix(length);
    }
}

/// What a newer version would say cannot be read for its mistakes: that it is newer is all there is to tell.
void refuse_newer_format(const toml::table& root, const std::string& name) {
    const toml::node* format = root.get(keys::format_key.name);
    const auto number = format == nullptr ? std::nullopt : format->value_exact<std::int64_t>();
    if (number && static_cast<double>(*number) > keys::format_key.most) {
        const toml::source_position at = format->source().begin;
        throw ChartError({{"format", fmt::format("is {}: the file is written for a newer version", *number),
                           fmt::format("this version reads format {}", keys::format_key.most), name,
                           static_cast<int>(at.line), static_cast<int>(at.column)}});
    }
}

}  // namespace

toml::table parse_toml(std::string_view text, const std::string& name, FileKind kind) {
    if (text.size() > most_text_bytes) {
        throw ChartError({{"", fmt::format("holds more than {} MB", most_text_bytes / 1'000'000),
                           "check that it is the file that you meant", name, 0, 0}});
    }
    const FileKind looks = kind_of_file(text);
    if (looks != kind && looks != FileKind::unknown && looks != FileKind::table) {
        throw ChartError({{"", fmt::format("is {}, not {}", to_string(looks), to_string(kind)),
                           "check which file goes where", name, 0, 0}});
    }
    refuse_deep_nesting(text, name);
    try {
        toml::table root = toml::parse(text, std::string_view(name));
        refuse_newer_format(root, name);
        return root;
    } catch (const toml::parse_error& error) {
        const toml::source_position at = error.source().begin;
        std::string_view complaint = error.description();
        constexpr std::string_view opening = "Error while parsing ";
        complaint.remove_prefix(complaint.starts_with(opening) ? opening.size() : 0);
        throw ChartError(
            {toml_diagnostic(complaint, name, static_cast<int>(at.line), static_cast<int>(at.column))});
    }
}

void throw_located(std::vector<Diagnostic> diagnostics, const SourceMap& sources, const std::string& name) {
    for (Diagnostic& diagnostic : diagnostics) {
        const SourcePosition position = sources.find(diagnostic.path);
        diagnostic.file = name;
        diagnostic.line = position.line;
        diagnostic.column = position.column;
    }
    std::stable_sort(diagnostics.begin(), diagnostics.end(), [](const Diagnostic& a, const Diagnostic& b) {
        return std::pair(a.line, a.column) < std::pair(b.line, b.column);
    });
    throw ChartError(std::move(diagnostics));
}

void compile_located(std::vector<Diagnostic> reading, const SourceMap& sources, const std::string& name,
                     const std::function<void()>& compile) {
    const std::size_t read_count = reading.size();
    try {
        compile();
    } catch (const ChartError& error) {
        for (const Diagnostic& diagnostic : error.diagnostics()) {
            const bool said = std::any_of(
                reading.begin(), reading.begin() + static_cast<std::ptrdiff_t>(read_count),
                [&](const Diagnostic& earlier) { return repeats(diagnostic.path, earlier.path); });
            if (!said) {
                reading.push_back(diagnostic);
            }
        }
    }
    detail::drop_followers(reading);
    std::erase_if(reading, [](const Diagnostic& diagnostic) { return diagnostic.what.empty(); });
    if (!reading.empty()) {
        throw_located(std::move(reading), sources, name);
    }
}

}  // namespace chartfile
}  // namespace cursimeter
