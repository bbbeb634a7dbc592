#include "window/waiting.hpp"

#include <backends/imgui_impl_sdl.h>
#include <imgui.h>

#define GL_GLEXT_PROTOTYPES
#include <GL/gl.h>

#include <algorithm>
#include <cursimeter/chartfile/saved_file.hpp>
#include <cursimeter/diagnostics.hpp>
#include <filesystem>

#include "window/desk_words.hpp"
#include "window/display.hpp"

namespace cursimeter::tool {
namespace {

/// Mistakes in a chart that is there: its author is at work on it.
bool can_be_mended(const TryOptions& options, const ChartError& error) {
    const std::vector<Diagnostic>& all = error.diagnostics();
    return options.frames == 0 && std::filesystem::exists(options.chart) &&
           std::all_of(all.begin(), all.end(),
                       [&](const Diagnostic& one) { return one.file == options.chart; });
}

/// Returns whether the file has been saved; false if the window was closed.
bool wait_for_file(const TryOptions& options, const ChartError& error, SavedFile& chart) {
    Display::Options wanted;
    wanted.title = "Cursimeter: " + options.chart;
    wanted.scale = options.scale;
    Display display(wanted);
    while (true) {
        SDL_Event event;
        while (SDL_PollEvent(&event) != 0) {
            ImGui_ImplSDL2_ProcessEvent(&event);
            if (event.type == SDL_QUIT) {
                return false;
            }
        }
        if (chart.news() == FileNews::saved) {
            return true;
        }
        display.begin_frame();
        glClearColor(0.93F, 0.94F, 0.945F, 1.0F);
        glClear(GL_COLOR_BUFFER_BIT);
        ImGui::SetNextWindowPos({0.0F, 0.0F});
        ImGui::SetNextWindowSize(ImGui::GetIO().DisplaySize);
        ImGui::Begin("mistakes", nullptr, ImGuiWindowFlags_NoDecoration | ImGuiWindowFlags_NoMove);
        ImGui::TextWrapped(
            "The chart has mistakes. Mend them and save the file: the window goes on by itself.");
        ImGui::Separator();
        for (const Diagnostic& one : error.diagnostics()) {
            ImGui::TextWrapped("%s", one.text().c_str());
        }
        ImGui::End();
        display.end_frame();
        SDL_Delay(30);
    }
}

}  // namespace

std::unique_ptr<Session> begin_session(const TryOptions& options) {
    while (true) {
        // Before it is read: what is saved while the window comes up, which may take seconds, is not missed.
        SavedFile chart(options.chart);
        try {
            return std::make_unique<Session>(options);
        } catch (const ChartError& error) {
            if (!can_be_mended(options, error)) {
                throw;
            }
            bool saved = false;
            try {
                saved = wait_for_file(options, error, chart);
            } catch (const ChartError& no_window) {  // the mistakes come first
                std::vector<Diagnostic> told = error.diagnostics();
                told.insert(told.end(), no_window.diagnostics().begin(), no_window.diagnostics().end());
                throw ChartError(std::move(told));
            }
            if (!saved) {
                return nullptr;
            }
        }
    }
}

}  // namespace cursimeter::tool
