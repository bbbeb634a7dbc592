#pragma once

#include <SDL.h>

#include <string>

namespace cursimeter::tool {

/// A window with OpenGL 3.3 and a Dear ImGui context, for as long as it lives. Throws ChartError if there is no display, or no
/// such OpenGL.
class Display {
  public:
    struct Options {
        std::string title;
        int width = 1280, height = 800;  ///< of the window's inside, in pixels
        double scale = 0.0;              ///< of text and panels; 0: by the display
        bool unseen = false;             ///< where there is no display: draw all the same, for pictures
    };
    explicit Display(const Options& options);
    Display(const Display&) = delete;
    Display& operator=(const Display&) = delete;
    ~Display();

    void begin_frame();
    /// Shows it. `picture`: writes it to this PNG file as well, if it names one; throws ChartError if that cannot be.
    void end_frame(const std::string& picture = {});
    [[nodiscard]] double scale() const { return scale_; }
    /// Inside, in pixels.
    [[nodiscard]] int width() const;
    [[nodiscard]] int height() const;

  private:
    void write_picture(const std::string& file) const;
    SDL_Window* window_ = nullptr;
    SDL_GLContext context_ = nullptr;
    double scale_ = 1.0;
};

}  // namespace cursimeter::tool
