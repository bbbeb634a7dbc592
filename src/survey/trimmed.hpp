#pragma once

#include <string>
#include <string_view>

namespace cursimeter::survey {

/// What somebody wrote, without the blanks around it.
inline std::string trimmed(std::string_view text) {
    const std::size_t first = text.find_first_not_of(" \t"), last = text.find_last_not_of(" \t");
    return first == std::string_view::npos ? std::string()
                                           : std::string(text.substr(first, last - first + 1));
}

}  // namespace cursimeter::survey
