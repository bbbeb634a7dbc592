#pragma once

#include <fmt/format.h>
#include <imgui.h>

#include <cursimeter/panels/style.hpp>
#include <string>

/// Text in panels: what is formatted once needs no second formatting.
namespace cursimeter::panels {

inline void say(const std::string& text) {
    ImGui::TextUnformatted(text.data(), text.data() + text.size());
}
inline void say(const std::string& text, const tryout::Colour& colour) {
    ImGui::PushStyleColor(ImGuiCol_Text, packed(colour));
    say(text);
    ImGui::PopStyleColor();
}
inline void say_wrapped(const std::string& text, const tryout::Colour& colour) {
    ImGui::PushTextWrapPos(0.0F);
    say(text, colour);
    ImGui::PopTextWrapPos();
}

/// Goes on in the same line where the next text still fits into the window, else in a new one.
inline void same_line_if_room(const std::string& next) {
    const float right = ImGui::GetWindowPos().x + ImGui::GetWindowContentRegionMax().x;
    const float end = ImGui::GetItemRectMax().x + ImGui::GetStyle().ItemSpacing.x +
                      ImGui::CalcTextSize(next.data(), next.data() + next.size()).x +
                      2.0F * ImGui::GetStyle().FramePadding.x;
    if (end <= right) {
        ImGui::SameLine();
    }
}

}  // namespace cursimeter::panels
