#pragma once

#include <cursimeter/diagnostics.hpp>
#include <string>
#include <string_view>

namespace cursimeter::chartfile {

/// What the parser of TOML complains of, with what people usually mean who write so.
/// `complaint` is the parser's own: "key-value pair: expected '=', saw ':'".
[[nodiscard]] Diagnostic toml_diagnostic(std::string_view complaint, const std::string& file, int line,
                                         int column);

}  // namespace cursimeter::chartfile
