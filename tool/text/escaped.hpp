#pragma once

#include <string>

namespace cursimeter::tool {

/// Text as it stands in XML and HTML, in attributes as well. What XML cannot hold at all becomes a question mark.
inline std::string escaped(const std::string& text) {
    std::string safe;
    for (const char c : text) {
        const bool control = static_cast<unsigned char>(c) < 0x20;
        safe += c == '&'    ? "&amp;"
                : c == '<'  ? "&lt;"
                : c == '>'  ? "&gt;"
                : c == '"'  ? "&quot;"
                : c == '\n' ? "&#10;"
                : control   ? "?"
                            : std::string(1, c);
    }
    return safe;
}

}  // namespace cursimeter::tool
