#include "window/desk.hpp"

#include <fmt/format.h>
#include <imgui.h>

#include <algorithm>

#include "window/desk_words.hpp"
#include "window/shortcuts.hpp"

namespace cursimeter::tool {
namespace {

constexpr ImGuiWindowFlags column = ImGuiWindowFlags_NoMove | ImGuiWindowFlags_NoResize |
                                    ImGuiWindowFlags_NoCollapse | ImGuiWindowFlags_NoTitleBar |
                                    ImGuiWindowFlags_NoBringToFrontOnFocus;

}  // namespace

Desk::Desk(const TryOptions& options, double scale) : scale_(scale), open_tab_(options.tab) {
    tuning_.look_for(options.look_for);
}

void Desk::search() {
    open_tab_ = "numbers";
    tuning_.search();
}

Desk::Answer Desk::answer() {
    const Answer told = answer_;
    answer_ = Answer::none;
    return told;
}

/// Whether there is no room for columns beside the picture.
bool Desk::is_narrow(int width) const {
    return width < 900.0 * scale_;
}

Desk::Room Desk::picture(int width, int height) const {
    if (is_narrow(width)) {  // the picture above, everything else below it
        return {0, 0, width, height * 45 / 100};
    }
    // Columns take what their text needs, and never more than their part of the window.
    const double left = std::min(290.0 * scale_, 0.30 * width),
                 right = std::min(370.0 * scale_, 0.34 * width),
                 below = std::min(250.0 * scale_, 0.38 * height);
    Room room;
    room.x = static_cast<int>(left);
    room.width = width - static_cast<int>(left) - static_cast<int>(right);
    room.height = height - static_cast<int>(below);
    return room;
}

void Desk::place(float x, float y, float width, float height) const {
    ImGui::SetNextWindowPos({x, y});
    ImGui::SetNextWindowSize({width, height});
}

/// Over the picture: what happened last, what is pressed for what.
void Desk::show_hints(Session& session, const Devices& devices, View view, int width, int height) {
    const Room room = picture(width, height);
    ImDrawList* draw = ImGui::GetBackgroundDrawList();
    const float text = ImGui::GetTextLineHeight();
    const auto write = [&](float y, const std::string& words, const tryout::Colour& colour) {
        const float wrap = static_cast<float>(room.width) - 2.0F * text;
        const ImVec2 size = ImGui::GetFont()->CalcTextSizeA(ImGui::GetFontSize(), 1e9F, wrap, words.c_str());
        const float left = static_cast<float>(room.x) + text;
        draw->AddRectFilled({left - 5.0F, y - 2.0F}, {left + size.x + 5.0F, y + size.y + 3.0F},
                            panels::packed(tryout::panel.faded(0.85)), 2.0F);
        draw->AddText(ImGui::GetFont(), ImGui::GetFontSize(), {left, y}, panels::packed(colour),
                      words.c_str(), nullptr, wrap);
        return y + size.y + 9.0F;
    };
    float y = 0.6F * text;
    std::string first = fmt::format("F1 help   camera {}   ", name_of(view));
    first += devices.holds_mouse() ? "Tab gives the mouse back" : "Tab gives the mouse to the character";
    y = write(y, first, tryout::faint);
    std::string keys;
    for (const BindingSpec& binding : session.controls_spec().bindings) {
        if (binding.inputs.size() == 1 && binding.inputs[0].starts_with("key.") &&
            !binding.action.starts_with("move_")) {
            std::string key = binding.inputs[0].substr(4);
            std::replace(key.begin(), key.end(), '_', ' ');
            keys += fmt::format("{} {}   ", key, binding.action);
        }
    }
    if (!is_narrow(width)) {
        y = write(y, keys, tryout::faint);
    }
    if (session.clock.paused() && !session.is_on_network()) {
        y = write(y, "paused", tryout::alarm);
    }
    if (keys_to_panels) {
        y = write(y, "the keyboard is the panels'; F10 gives it back", tryout::alarm);
    }
    if (session.play.fell_out()) {
        y = write(y, "fell out of the world: press R to begin again", tryout::alarm);
    }
    if (!session.file_errors().empty()) {
        y = write(y, session.file_errors() + "\nthe last good chart stays at work", tryout::alarm);
    }
    constexpr double word_seconds = 8.0;
    if (!session.word().text.empty() && session.now() - session.word().at < word_seconds) {
        write(y, session.word().text, session.word().wrong ? tryout::alarm : tryout::sea);
    }
}

void Desk::show_help(const Session& session, int width, int height) {
    const float text = ImGui::GetTextLineHeight();
    const float wide = std::min(44.0F * text, static_cast<float>(width) * 0.94F);
    ImGui::SetNextWindowPos({0.5F * static_cast<float>(width), 0.45F * static_cast<float>(height)}, 0,
                            {0.5F, 0.5F});
    ImGui::SetNextWindowSize({wide, 0.0F});
    if (ImGui::Begin("help", &help_, ImGuiWindowFlags_NoCollapse | ImGuiWindowFlags_NoResize)) {
        if (ImGui::BeginTable("keys", 2)) {
            ImGui::TableSetupColumn("key", ImGuiTableColumnFlags_WidthFixed, 8.0F * text);
            ImGui::TableSetupColumn("what");
            for (const ShortcutKey& line : shortcut_keys) {
                ImGui::TableNextRow();
                ImGui::TableNextColumn();
                say(line.name);
                ImGui::TableNextColumn();
                ImGui::TextWrapped("%s", line.what);
            }
            ImGui::EndTable();
        }
        ImGui::Separator();
        say_faint(
            "On the timeline: left button, go there; right button, choose a stretch to loop; wheel, more or "
            "less time.");
        say_faint(fmt::format("The character's own keys stand at the right under \"keys\". The chart is {}.",
                              session.chart_file()));
    }
    ImGui::End();
}

void Desk::show_question(Session& session) {
    if (asking_) {
        ImGui::OpenPopup("unsaved numbers");
        asking_ = false;
    }
    const ImGuiViewport* all = ImGui::GetMainViewport();
    ImGui::SetNextWindowPos(all->GetCenter(), ImGuiCond_Appearing, {0.5F, 0.5F});
    if (ImGui::BeginPopupModal("unsaved numbers", nullptr, ImGuiWindowFlags_AlwaysAutoResize)) {
        const std::size_t count = session.tuning.changed().size();
        say(fmt::format("{} {} from {}:", count, count == 1 ? "number differs" : "numbers differ",
                        session.chart_file()));
        std::size_t lines = 0;
        for (const tryout::ChangedValue& change : session.tuning.changed()) {
            if (++lines > 8) {
                say_faint("...");
                break;
            }
            say_faint(change.path);
        }
        const auto choose = [&](const char* name, Answer answer) {
            if (ImGui::Button(name)) {
                answer_ = answer;
                ImGui::CloseCurrentPopup();
            }
        };
        choose("save and close (Enter)", Answer::save);
        ImGui::SameLine();
        choose("close without saving (N)", Answer::leave);
        ImGui::SameLine();
        choose("stay (Escape)", Answer::stay);
        const auto key = [&](ImGuiKey one, Answer answer) {
            if (ImGui::IsKeyPressed(ImGui::GetKeyIndex(one), false)) {
                answer_ = answer;
                ImGui::CloseCurrentPopup();
            }
        };
        key(ImGuiKey_Enter, Answer::save);
        key(ImGuiKey_Escape, Answer::stay);
        if (ImGui::IsKeyPressed(SDL_SCANCODE_N, false)) {
            answer_ = Answer::leave;
            ImGui::CloseCurrentPopup();
        }
        ImGui::EndPopup();
    }
}

void Desk::show(Session& session, Devices& devices, View view, int width, int height) {
    set_faults(session);
    const Room room = picture(width, height);
    const auto part = [&](const char* name, int x, int y, int right, int bottom, auto&& show) {
        place(static_cast<float>(x), static_cast<float>(y), static_cast<float>(right - x),
              static_cast<float>(bottom - y));
        // The display was cleared to paper, which software does quicker than it draws a sheet of it.
        ImGui::PushStyleColor(ImGuiCol_WindowBg, 0U);
        const bool open = ImGui::Begin(name, nullptr, column);
        ImGui::PopStyleColor();
        if (open) {
            show();
        }
        ImGui::End();
    };
    if (is_narrow(width)) {
        part("desk", 0, room.height, width, height, [&] { tabs(session, devices, true); });
    } else {
        part("runner", 0, 0, room.x, height, [&] { runner_panels(session); });
        part("desk", room.x + room.width, 0, width, height, [&] { tabs(session, devices, false); });
        part("time", room.x, room.height, room.x + room.width, height, [&] { time_panels(session); });
    }
    show_hints(session, devices, view, width, height);
    if (help_) {
        show_help(session, width, height);
    }
    show_question(session);
}

}  // namespace cursimeter::tool
