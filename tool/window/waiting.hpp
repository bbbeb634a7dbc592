#pragma once

#include <memory>

#include "window/session.hpp"

namespace cursimeter::tool {

/// A session for these files. If the chart has mistakes, a window shows them and waits until the file is saved anew; nothing if it
/// was closed. Throws ChartError for everything else that is wrong, and for mistakes as well where there is nobody to wait for
/// (--frames) or no display.
[[nodiscard]] std::unique_ptr<Session> begin_session(const TryOptions& options);

}  // namespace cursimeter::tool
