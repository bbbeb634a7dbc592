#include <algorithm>
#include <array>
#include <cstdint>
#include <cursimeter/chartfile/file_kind.hpp>
#include <set>
#include <string>

#include "controls/controls_keys.hpp"
#include "core/chart/chart_keys.hpp"
#include "course/course_keys.hpp"
#include "drill/drill_keys.hpp"
#include "drill/trials_keys.hpp"

namespace cursimeter {
namespace {

constexpr std::size_t most_bytes = 65536;

struct Opening {
    std::string_view bytes;
    FileKind kind;
};
/// The first that fits counts. Results are as `cursimeter trial` writes them.
constexpr Opening openings[] = {
    {"<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<testsuites>", FileKind::results},
    {"curstake", FileKind::take},
    {"curmatch", FileKind::match},
    {"\x89PNG", FileKind::png},
    {"<?xml", FileKind::svg},
    {"<svg", FileKind::svg},
    {"<!doctype html", FileKind::html},
    {"<!DOCTYPE html", FileKind::html}};

bool is_word(char c) {
    return (c >= 'a' && c <= 'z') || c == '_';
}

/// The keys of a TOML file's root, as its lines name them: `name = `, `[states.walk]`, `[[box]]`.
std::set<std::string, std::less<>> root_keys(std::string_view text) {
    std::set<std::string, std::less<>> keys;
    bool in_root = true;
    while (!text.empty()) {
        const std::size_t end = std::min(text.find('\n'), text.size());
        std::string_view line = text.substr(0, end);
        text.remove_prefix(std::min(end + 1, text.size()));
        line.remove_prefix(std::min(line.find_first_not_of(" \t"), line.size()));
        const bool heading = line.starts_with('[');
        in_root = in_root && !heading;
        line.remove_prefix(std::min(line.find_first_not_of("[ "), line.size()));
        const auto word_end = std::find_if_not(line.begin(), line.end(), is_word);
        const std::string_view word = line.substr(0, static_cast<std::size_t>(word_end - line.begin()));
        std::string_view rest = line.substr(word.size());
        rest.remove_prefix(std::min(rest.find_first_not_of(' '), rest.size()));
        const std::string_view wanted = heading ? ".]" : ".=";
        if ((in_root || heading) && !word.empty() && !rest.empty() &&
            wanted.find(rest.front()) != std::string_view::npos) {
            keys.emplace(word);
        }
    }
    return keys;
}

/// How many of the keys belong to a kind of file. Those that every kind has do not tell.
std::size_t count(const std::set<std::string, std::less<>>& keys, const keys::Rows& rows) {
    return static_cast<std::size_t>(std::count_if(rows.begin(), rows.end(), [&](const keys::Row& row) {
        return row.key.name != "name" && keys.find(row.key.name) != keys.end();
    }));
}

FileKind kind_of_toml(std::string_view text) {
    const auto keys = root_keys(text);
    const std::array<std::pair<std::size_t, FileKind>, 5> kinds{
        {{count(keys, keys::chart_table().rows), FileKind::chart},
         {count(keys, keys::drill_table().rows), FileKind::drill},
         {count(keys, keys::course_table().rows), FileKind::course},
         {count(keys, keys::controls_table().rows), FileKind::controls},
         {count(keys, keys::trials_table().rows), FileKind::trials}}};
    const auto best = std::max_element(kinds.begin(), kinds.end(),
                                       [](const auto& a, const auto& b) { return a.first < b.first; });
    const auto as_good =
        std::count_if(kinds.begin(), kinds.end(), [&](const auto& one) { return one.first == best->first; });
    return best->first > 0 && as_good == 1 ? best->second : FileKind::unknown;
}

/// Whether the first line is a row of names: the tables that the tools write.
bool is_table(std::string_view text) {
    const std::string_view line = text.substr(0, text.find('\n'));
    const auto plain = [](char c) {
        return is_word(c) || (c >= '0' && c <= '9') ||
               std::string_view(",.()[] ").find(c) != std::string_view::npos;
    };
    return line.find(',') != std::string_view::npos && std::all_of(line.begin(), line.end(), plain);
}

}  // namespace

FileKind kind_of_file(std::string_view bytes) {
    bytes = bytes.substr(0, most_bytes);
    for (const Opening& opening : openings) {
        if (bytes.starts_with(opening.bytes)) {
            return opening.kind;
        }
    }
    return is_table(bytes) ? FileKind::table : kind_of_toml(bytes);
}

std::string_view to_string(FileKind kind) {
    switch (kind) {
        case FileKind::unknown:
            return "something else";
        case FileKind::chart:
            return "a chart file";
        case FileKind::drill:
            return "a drill file";
        case FileKind::course:
            return "a course file";
        case FileKind::controls:
            return "a controls file";
        case FileKind::trials:
            return "a trials file";
        case FileKind::take:
            return "a take";
        case FileKind::match:
            return "a match";
        case FileKind::png:
            return "a PNG picture";
        case FileKind::svg:
            return "an SVG picture";
        case FileKind::html:
            return "an HTML page";
        case FileKind::table:
            return "a table";
        case FileKind::results:
            return "test results";
    }
    return "";
}

}  // namespace cursimeter
