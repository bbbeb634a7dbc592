#pragma once

#include <imgui.h>

#include <functional>
#include <string>

namespace support {

/// A Dear ImGui context without a window: what the panels write is read as text, and a mouse can be held to them.
class Screen {
  public:
    Screen() {
        ImGui::CreateContext();
        ImGuiIO& io = ImGui::GetIO();
        io.IniFilename = nullptr;
        io.DisplaySize = {800.0F, 900.0F};
        unsigned char* pixels = nullptr;
        int width = 0, height = 0;
        io.Fonts->GetTexDataAsRGBA32(&pixels, &width, &height);
        io.SetClipboardTextFn = [](void* user, const char* text) {
            static_cast<Screen*>(user)->text_ = text;
        };
        io.ClipboardUserData = this;
    }
    Screen(const Screen&) = delete;
    Screen& operator=(const Screen&) = delete;
    ~Screen() { ImGui::DestroyContext(); }

    /// A frame with one window; returns its text.
    std::string frame(const std::function<void()>& show) {
        ImGui::GetIO().DeltaTime = 1.0F / 60.0F;
        ImGui::NewFrame();
        ImGui::SetNextWindowPos({0.0F, 0.0F});
        ImGui::SetNextWindowSize({800.0F, 900.0F});
        ImGui::Begin("test", nullptr, ImGuiWindowFlags_NoTitleBar);
        ImGui::LogToClipboard(10);
        show();
        ImGui::LogFinish();
        ImGui::End();
        ImGui::Render();
        return text_;
    }
    static void mouse(float x, float y, bool left = false, bool right = false) {
        ImGuiIO& io = ImGui::GetIO();
        io.MousePos = {x, y};
        io.MouseDown[0] = left;
        io.MouseDown[1] = right;
    }

  private:
    std::string text_;
};

inline bool has(const std::string& text, const std::string& part) {
    return text.find(part) != std::string::npos;
}

}  // namespace support
