#include "chartfile/toml_document.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <fstream>
#include <sstream>

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

}  // namespace

std::string read_text(const std::filesystem::path& file) {
    std::error_code error;
    if (std::filesystem::is_directory(file, error)) {
        throw ChartError({{"", "is a directory", "name a file", file.string(), 0, 0}});
    }
    std::ifstream in(file, std::ios::binary);
    std::ostringstream text;
    if (in) {
        text << in.rdbuf();
    }
    if (!in) {
        throw ChartError({{"", fmt::format("cannot be read: {}", std::strerror(errno)),
                           "check the path and its permissions", file.string(), 0, 0}});
    }
    return text.str();
}

toml::table parse_toml(std::string_view text, const std::string& name) {
    try {
        return toml::parse(text, std::string_view(name));
    } catch (const toml::parse_error& error) {
        const toml::source_position at = error.source().begin;
        std::string_view complaint = error.description();
        constexpr std::string_view opening = "Error while parsing ";
        complaint.remove_prefix(complaint.starts_with(opening) ? opening.size() : 0);
        throw ChartError(
            {{"", fmt::format("is not TOML: {}", complaint), "mend it there; nothing after it was read", name,
              static_cast<int>(at.line), static_cast<int>(at.column)}});
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
    std::erase_if(reading, [](const Diagnostic& diagnostic) { return diagnostic.what.empty(); });
    if (!reading.empty()) {
        throw_located(std::move(reading), sources, name);
    }
}

}  // namespace chartfile
}  // namespace cursimeter
