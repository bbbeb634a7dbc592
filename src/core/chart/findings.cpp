#include "core/chart/findings.hpp"

#include <fmt/format.h>

#include <algorithm>

namespace cursimeter::detail {

namespace {

/// Whether `path` is `part` or lies inside it. A part that begins with "*" may begin anywhere.
bool lies_in(std::string_view path, std::string_view part) {
    const bool anywhere = part.starts_with('*');
    part.remove_prefix(anywhere ? 1 : 0);
    const std::size_t at = anywhere ? path.find(part) : path.starts_with(part) ? 0 : std::string_view::npos;
    return at != std::string_view::npos && (path.size() == at + part.size() ||
                                            path[at + part.size()] == '.' || path[at + part.size()] == '[');
}

}  // namespace

void drop_followers(std::vector<Diagnostic>& list) {
    std::vector<std::string> wrong;
    for (const Diagnostic& one : list) {
        if (one.rests_on.empty()) {
            wrong.push_back(one.path);
        }
    }
    std::erase_if(list, [&](const Diagnostic& one) {
        return std::any_of(one.rests_on.begin(), one.rests_on.end(), [&](const std::string& part) {
            return std::any_of(wrong.begin(), wrong.end(),
                               [&](const std::string& path) { return lies_in(path, part); });
        });
    });
}

void Findings::drop_repeated(std::size_t count) {
    const auto first = list_.begin() + static_cast<std::ptrdiff_t>(count);
    const std::vector<Diagnostic> said(list_.begin(), first);
    list_.erase(std::remove_if(first, list_.end(),
                               [&](const Diagnostic& one) {
                                   return std::any_of(said.begin(), said.end(), [&](const Diagnostic& other) {
                                       return other.path == one.path && other.what == one.what;
                                   });
                               }),
                list_.end());
}

std::string advise_name(std::string_view name, const std::vector<std::string>& candidates) {
    const std::string_view near = nearest_name(name, candidates);
    if (!near.empty()) {
        return fmt::format("did you mean '{}'?", near);
    }
    std::string all;
    for (const std::string& candidate : candidates) {
        all += (all.empty() ? "" : ", ") + candidate;
    }
    return all.empty() ? "there is none yet" : "known: " + all;
}

std::string too_many(std::size_t have, std::size_t most) {
    return fmt::format("there can be {}: take {} out, or let one do the work of several", most, have - most);
}

}  // namespace cursimeter::detail
