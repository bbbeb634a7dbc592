#pragma once

#include <cstdio>
#include <cursimeter/diagnostics.hpp>
#include <string>
#include <vector>

namespace cursimeter::tool {

/// One error as every command tells it, in the layout that editors read:
/// "bearer.toml:12:9: error: states.sprint.enter[2]: what is wrong; what would be right". The place is the program's
/// name where an error is of no file.
[[nodiscard]] std::string error_text(const Diagnostic& error, bool colours = false);
/// Whether a stream is a terminal whose user has not asked for no colours (NO_COLOR, or TERM=dumb).
[[nodiscard]] bool takes_colours(std::FILE* stream);
/// The same for a program: an object with a list "errors", each with file, line, column, path, what and mend.
[[nodiscard]] std::string errors_json(const std::vector<Diagnostic>& errors);

}  // namespace cursimeter::tool
