#pragma once

#include <toml++/toml.h>
#include <cursimeter/chartfile/file_kind.hpp>
#include <cursimeter/chartfile/source_map.hpp>
#include <cursimeter/diagnostics.hpp>
#include <functional>
#include <string>
#include <string_view>
#include <vector>

namespace cursimeter::chartfile {

/// Parses TOML that ought to be of a kind. Throws ChartError at the place of the parser's complaint, for a file of
/// another kind, and for one too large or nested too deeply for the parser.
[[nodiscard]] toml::table parse_toml(std::string_view text, const std::string& name, FileKind kind);

/// Gives diagnostics their file, line and column, in the order of the file, and throws them as one.
[[noreturn]] void throw_located(std::vector<Diagnostic> diagnostics, const SourceMap& sources,
                                const std::string& name);

/// Runs `compile` (which may throw ChartError) after a file's keys were read with `reading` wrong.
/// Throws everything together; what the reading has said of a key, compiling does not say again. A
/// diagnostic of reading whose `what` is empty only silences those of compiling.
void compile_located(std::vector<Diagnostic> reading, const SourceMap& sources, const std::string& name,
                     const std::function<void()>& compile);

}  // namespace cursimeter::chartfile
