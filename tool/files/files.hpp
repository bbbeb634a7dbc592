#pragma once

#include <string>
#include <string_view>

namespace cursimeter::tool {

/// The file's ending in lower case, ".png".
[[nodiscard]] std::string ending_of(const std::string& file);

/// A name beside `file` to write to first, so that an old file is replaced as a whole or not at all.
[[nodiscard]] std::string fresh_name(const std::string& file);
/// Puts the freshly written file in the place of `file`. Throws ChartError if `written` is false or
/// that cannot be done; then the old file is as it was.
void replace_file(const std::string& file, bool written);

/// The whole file, bytes as they are. Throws ChartError that names it if it cannot be read.
[[nodiscard]] std::string read_text(const std::string& file);
/// Replaces a file as a whole or not at all.
void write_text(const std::string& file, std::string_view text);

}  // namespace cursimeter::tool
