#pragma once

#include <cstdint>
#include <cursimeter/tryout/palette.hpp>

namespace cursimeter::panels {

/// Gives the present ImGui context the colours of the pictures, and sizes for text of a height: of a game's own look nothing
/// needs to change for the panels to work. `scale` is 1 for text of 16 pixels.
void apply_style(double scale = 1.0);

/// As ImGui packs it.
[[nodiscard]] std::uint32_t packed(const tryout::Colour& colour);

}  // namespace cursimeter::panels
