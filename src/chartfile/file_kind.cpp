#include <algorithm>
#include <array>
#include <cstdint>
#include <cursimeter/chartfile/file_kind.hpp>
#include <cursimeter/diagnostics.hpp>
#include <set>
#include <string>
#include <vector>

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

using RootKeys = std::set<std::string, std::less<>>;

/// The keys of a TOML file's root, as its lines name them: `name = `, `[states.walk]`, `[[box]]`.
RootKeys root_keys(std::string_view text) {
    RootKeys keys;
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

/// The kinds of TOML files, with the keys of their roots.
const std::array<std::pair<FileKind, keys::Rows>, 5>& kinds() {
    static const std::array<std::pair<FileKind, keys::Rows>, 5> all{
        {{FileKind::chart, keys::chart_table().rows},
         {FileKind::drill, keys::drill_table().rows},
         {FileKind::course, keys::course_table().rows},
         {FileKind::controls, keys::controls_table().rows},
         {FileKind::trials, keys::trials_table().rows}}};
    return all;
}

/// The keys of a kind of file for which these may be meant.
RootKeys meant_by(const RootKeys& misspelt, const keys::Rows& rows) {
    std::vector<std::string> known;
    for (const keys::Row& row : rows) {
        known.emplace_back(row.key.name);
    }
    RootKeys meant;
    for (const std::string& key : misspelt) {
        if (key != keys::format_key.name) {
            meant.emplace(nearest_name(key, known));
        }
    }
    return meant;
}

/// How many of the keys belong to a kind of file. Those that every kind has do not tell.
std::size_t count(const RootKeys& keys, const keys::Rows& rows) {
    return static_cast<std::size_t>(std::count_if(rows.begin(), rows.end(), [&](const keys::Row& row) {
        return row.key.name != "name" && keys.find(row.key.name) != keys.end();
    }));
}

/// The one kind that fits best; with several that fit as well it is unknown.
template <class Fits>
FileKind best_kind(const Fits& fits) {
    std::size_t best = 0;
    FileKind found = FileKind::unknown;
    for (const auto& [kind, rows] : kinds()) {
        const std::size_t now = fits(rows);
        if (now >= best) {
            found = now > best ? kind : FileKind::unknown;
            best = now;
        }
    }
    return found;
}

FileKind kind_of_toml(std::string_view text) {
    const RootKeys keys = root_keys(text);
    const bool any_known = std::any_of(kinds().begin(), kinds().end(),
                                       [&](const auto& kind) { return count(keys, kind.second) > 0; });
    return best_kind([&](const keys::Rows& rows) {
        // With `[[trials]]` for `[[trial]]` it is a trials file nevertheless.
        return count(any_known ? keys : meant_by(keys, rows), rows);
    });
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
