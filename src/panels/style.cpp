#include <imgui.h>

#include <algorithm>
#include <cursimeter/panels/style.hpp>

namespace cursimeter::panels {
namespace {

ImVec4 colour(const tryout::Colour& from, double alpha = 1.0) {
    return {static_cast<float>(from.red), static_cast<float>(from.green), static_cast<float>(from.blue),
            static_cast<float>(alpha)};
}

}  // namespace

std::uint32_t packed(const tryout::Colour& from) {
    const auto byte = [](double part) {
        return static_cast<std::uint32_t>(std::clamp(part, 0.0, 1.0) * 255.0 + 0.5);
    };
    return byte(from.red) << IM_COL32_R_SHIFT | byte(from.green) << IM_COL32_G_SHIFT |
           byte(from.blue) << IM_COL32_B_SHIFT | byte(from.alpha) << IM_COL32_A_SHIFT;
}

void apply_style(double scale) {
    using tryout::faint, tryout::grid, tryout::ink, tryout::lantern, tryout::paper, tryout::panel;
    ImGuiStyle style;
    ImGui::StyleColorsLight(&style);
    style.WindowRounding = style.FrameRounding = style.GrabRounding = style.ScrollbarRounding = 2.0F;
    style.WindowBorderSize = 1.0F;
    style.FrameBorderSize = 0.0F;
    style.WindowPadding = {10.0F, 8.0F};
    style.ItemSpacing = {8.0F, 5.0F};
    style.Colors[ImGuiCol_Text] = colour(ink);
    style.Colors[ImGuiCol_TextDisabled] = colour(faint);
    style.Colors[ImGuiCol_WindowBg] = colour(paper, 0.96);
    style.Colors[ImGuiCol_PopupBg] = colour(panel);
    style.Colors[ImGuiCol_ChildBg] = colour(panel, 0.0);
    style.Colors[ImGuiCol_Border] = colour(grid);
    style.Colors[ImGuiCol_FrameBg] = colour(panel);
    style.Colors[ImGuiCol_FrameBgHovered] = colour(lantern, 0.18);
    style.Colors[ImGuiCol_FrameBgActive] = colour(lantern, 0.32);
    style.Colors[ImGuiCol_TitleBg] = style.Colors[ImGuiCol_TitleBgCollapsed] = colour(grid);
    style.Colors[ImGuiCol_TitleBgActive] = colour(grid);
    style.Colors[ImGuiCol_Button] = colour(grid, 0.75);
    style.Colors[ImGuiCol_ButtonHovered] = style.Colors[ImGuiCol_HeaderHovered] = colour(lantern, 0.45);
    style.Colors[ImGuiCol_ButtonActive] = style.Colors[ImGuiCol_HeaderActive] = colour(lantern, 0.7);
    style.Colors[ImGuiCol_Header] = colour(grid, 0.5);
    style.Colors[ImGuiCol_Tab] = style.Colors[ImGuiCol_TabUnfocused] = colour(grid, 0.6);
    style.Colors[ImGuiCol_TabActive] = style.Colors[ImGuiCol_TabUnfocusedActive] = colour(lantern, 0.55);
    style.Colors[ImGuiCol_TabHovered] = colour(lantern, 0.45);
    style.Colors[ImGuiCol_PlotHistogram] = colour(lantern);
    style.Colors[ImGuiCol_SliderGrab] = colour(lantern);
    style.Colors[ImGuiCol_SliderGrabActive] = colour(tryout::alarm);
    style.Colors[ImGuiCol_CheckMark] = colour(tryout::sea);
    style.Colors[ImGuiCol_Separator] = colour(grid);
    style.Colors[ImGuiCol_ScrollbarBg] = colour(grid, 0.3);
    style.Colors[ImGuiCol_ScrollbarGrab] = colour(faint, 0.4);
    style.Colors[ImGuiCol_NavHighlight] = colour(tryout::sea);
    style.Colors[ImGuiCol_TableRowBgAlt] = colour(grid, 0.25);
    style.ScaleAllSizes(static_cast<float>(scale));
    ImGui::GetStyle() = style;
}

}  // namespace cursimeter::panels
