#pragma once

#include "window/options.hpp"

namespace cursimeter::tool {

/// Opens the window and plays until it is closed. Throws ChartError if there is no display, or a file is not usable. Returns the
/// program's exit code.
int open_window(const TryOptions& options);

}  // namespace cursimeter::tool
