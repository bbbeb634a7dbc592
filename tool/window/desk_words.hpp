#pragma once

#include <imgui.h>

#include <cursimeter/panels/style.hpp>
#include <string>

namespace cursimeter::tool {

inline void say(const std::string& text) {
    ImGui::TextUnformatted(text.c_str());
}
inline void say_faint(const std::string& text) {
    ImGui::PushStyleColor(ImGuiCol_Text, panels::packed(tryout::faint));
    ImGui::PushTextWrapPos(0.0F);
    say(text);
    ImGui::PopTextWrapPos();
    ImGui::PopStyleColor();
}

}  // namespace cursimeter::tool
