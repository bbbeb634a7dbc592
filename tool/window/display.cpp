#include "window/display.hpp"

#include <backends/imgui_impl_opengl3.h>
#include <backends/imgui_impl_sdl.h>
#include <cairo.h>
#include <fmt/format.h>
#include <imgui.h>

#define GL_GLEXT_PROTOTYPES
#include <GL/gl.h>
#include <GL/glext.h>

#include <algorithm>
#include <array>
#include <cstdlib>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/panels/style.hpp>
#include <filesystem>
#include <memory>
#include <vector>

#include "files/files.hpp"
#include "files/png.hpp"

namespace cursimeter::tool {
namespace {

constexpr const char* fonts[] = {"/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf",
                                 "/usr/share/fonts/TTF/DejaVuSans.ttf",
                                 "/usr/share/fonts/dejavu-sans-fonts/DejaVuSans.ttf"};
constexpr double text_height = 15.0;  // pixels at scale 1

[[noreturn]] void refuse(const std::string& what, const std::string& mend) {
    throw ChartError({{"window", what, mend, {}, 0, 0}});
}

bool has_display() {
    const char *x = std::getenv("DISPLAY"), *wayland = std::getenv("WAYLAND_DISPLAY"),
               *driver = std::getenv("SDL_VIDEODRIVER");
    return (x != nullptr && *x != '\0') || (wayland != nullptr && *wayland != '\0') || driver != nullptr;
}

void load_font(double scale) {
    ImGuiIO& io = ImGui::GetIO();
    for (const char* font : fonts) {
        if (std::filesystem::exists(font)) {
            io.Fonts->AddFontFromFileTTF(font, static_cast<float>(text_height * scale));
            return;
        }
    }
    ImFontConfig config;
    config.SizePixels = static_cast<float>(text_height * scale);
    io.Fonts->AddFontDefault(&config);
}

}  // namespace

Display::Display(const Options& options) {
    if (!has_display()) {
        if (!options.unseen) {
            refuse("there is no display to open a window on",
                   "start it from a desktop, or give --frames N --shot FILE.png for a picture without one");
        }
        SDL_SetHint(SDL_HINT_VIDEODRIVER, "offscreen");
    }
    SDL_SetHint(SDL_HINT_VIDEO_X11_NET_WM_BYPASS_COMPOSITOR, "0");
    if (SDL_Init(SDL_INIT_VIDEO | SDL_INIT_GAMECONTROLLER) != 0) {
        refuse(fmt::format("cannot be opened: {}", SDL_GetError()), "check the display that DISPLAY names");
    }
    const std::string driver = SDL_GetCurrentVideoDriver();
    if (!options.unseen && (driver == "offscreen" || driver == "dummy") &&
        std::getenv("SDL_VIDEODRIVER") == nullptr) {
        SDL_Quit();
        refuse("cannot be opened: no display answers", "check what DISPLAY or WAYLAND_DISPLAY names");
    }
    SDL_GL_SetAttribute(SDL_GL_CONTEXT_MAJOR_VERSION, 3);
    SDL_GL_SetAttribute(SDL_GL_CONTEXT_MINOR_VERSION, 3);
    SDL_GL_SetAttribute(SDL_GL_CONTEXT_PROFILE_MASK, SDL_GL_CONTEXT_PROFILE_CORE);
    SDL_GL_SetAttribute(SDL_GL_DEPTH_SIZE, 24);
    window_ = SDL_CreateWindow(options.title.c_str(), SDL_WINDOWPOS_UNDEFINED, SDL_WINDOWPOS_UNDEFINED,
                               options.width, options.height,
                               SDL_WINDOW_OPENGL | SDL_WINDOW_RESIZABLE | SDL_WINDOW_ALLOW_HIGHDPI);
    context_ = window_ != nullptr ? SDL_GL_CreateContext(window_) : nullptr;
    if (context_ == nullptr) {
        const std::string why = SDL_GetError();
        SDL_Quit();
        refuse(fmt::format("cannot be opened with OpenGL 3.3: {}", why),
               "install libgl1-mesa-dri and libegl1");
    }
    SDL_SetWindowMinimumSize(window_, 480, 320);
    SDL_GL_SetSwapInterval(options.unseen ? 0 : 1);
    scale_ = options.scale;
    if (scale_ <= 0.0) {
        // By the picture's height: 1 up to 1,100 pixels, 2 at 2,160.
        scale_ = std::max(1.0, std::min(height() / 1080.0, width() / 1600.0));
    }
    IMGUI_CHECKVERSION();
    ImGui::CreateContext();
    ImGui::GetIO().IniFilename = nullptr;
    load_font(scale_);
    panels::apply_style(scale_);
    ImGui_ImplSDL2_InitForOpenGL(window_, context_);
    ImGui_ImplOpenGL3_Init("#version 330");
}

Display::~Display() {
    ImGui_ImplOpenGL3_Shutdown();
    ImGui_ImplSDL2_Shutdown();
    ImGui::DestroyContext();
    SDL_GL_DeleteContext(context_);
    SDL_DestroyWindow(window_);
    SDL_Quit();
}

void Display::begin_frame() {
    glClearColor(static_cast<float>(tryout::paper.red), static_cast<float>(tryout::paper.green),
                 static_cast<float>(tryout::paper.blue), 1.0F);
    glClear(GL_COLOR_BUFFER_BIT);
    ImGui_ImplOpenGL3_NewFrame();
    ImGui_ImplSDL2_NewFrame();
    ImGui::NewFrame();
}

void Display::end_frame(const std::string& picture) {
    ImGui::Render();
    ImGui_ImplOpenGL3_RenderDrawData(ImGui::GetDrawData());
    if (!picture.empty()) {
        write_picture(picture);
    }
    SDL_GL_SwapWindow(window_);
    glFinish();  // a software driver queues pictures without end otherwise, 36 MB each
}

int Display::width() const {
    int width = 0;
    SDL_GL_GetDrawableSize(window_, &width, nullptr);
    return width;
}
int Display::height() const {
    int height = 0;
    SDL_GL_GetDrawableSize(window_, nullptr, &height);
    return height;
}

void Display::write_picture(const std::string& file) const {
    const int columns = width(), rows = height();
    std::vector<unsigned char> pixels(static_cast<std::size_t>(columns) * static_cast<std::size_t>(rows) * 4);
    glReadBuffer(GL_BACK);
    glPixelStorei(GL_PACK_ALIGNMENT, 4);
    glReadPixels(0, 0, columns, rows, GL_BGRA, GL_UNSIGNED_INT_8_8_8_8_REV, pixels.data());
    cairo_surface_t* surface = cairo_image_surface_create(CAIRO_FORMAT_RGB24, columns, rows);
    unsigned char* into = cairo_image_surface_get_data(surface);
    const auto stride = static_cast<std::size_t>(cairo_image_surface_get_stride(surface));
    const std::size_t row_bytes = static_cast<std::size_t>(columns) * 4;
    for (std::size_t row = 0; row < static_cast<std::size_t>(rows); ++row) {
        std::copy_n(pixels.data() + (static_cast<std::size_t>(rows) - 1 - row) * row_bytes, row_bytes,
                    into + row * stride);
    }
    cairo_surface_mark_dirty(surface);
    const std::unique_ptr<cairo_surface_t, decltype(&cairo_surface_destroy)> owned(surface,
                                                                                   cairo_surface_destroy);
    write_text(file, png_of(surface, file));
}

}  // namespace cursimeter::tool
