#pragma once

#include <string>

#include "window/session.hpp"

namespace cursimeter::tool {

/// How the window's loop does.
struct LoopFigures {
    std::uint64_t frames = 0;
    double frame_ms = 0.0;  ///< median of the last frames, from one picture to the next
    double work_ms = 0.0;   ///< of it, without drawing: input, ticks, panels
};

/// What the window shows, for programs: docs/tool.md has the fields.
[[nodiscard]] std::string state_json(const Session& session, const LoopFigures& figures,
                                     const std::string& view, bool holds_mouse);

}  // namespace cursimeter::tool
