#include <array>
#include <cmath>
#include <cursimeter/panels/time_panel.hpp>

#include "panels/words.hpp"

namespace cursimeter::panels {
namespace {

constexpr std::array<int, 6> slower{1, 2, 5, 10, 20, 50};

std::string pace_name(double pace) {
    const int part = static_cast<int>(std::lround(1.0 / pace));
    return part <= 1 ? std::string("full pace") : fmt::format("1/{} pace", part);
}

}  // namespace

void show_time(tryout::Tryout& tryout, tryout::TickClock& clock, Timeline& timeline) {
    const auto rate = static_cast<int>(std::lround(1.0 / clock.tick().value));
    if (ImGui::Button(clock.paused() ? "go on" : "pause")) {
        clock.pause(!clock.paused());
    }
    const auto leap = [&](const char* name, int ticks) {
        same_line_if_room(name);
        ImGui::PushButtonRepeat(true);
        if (ImGui::Button(name)) {
            clock.pause(true);
            tryout.step(ticks);
        }
        ImGui::PopButtonRepeat();
    };
    leap("-5 s", -5 * rate);
    leap("-1 s", -rate);
    leap("- tick", -1);
    same_line_if_room("+ tick");
    ImGui::PushButtonRepeat(true);
    if (ImGui::Button("+ tick")) {
        clock.pause(true);
        if (tryout.now() < tryout.history().end()) {
            tryout.step(1);
        } else {
            tryout.tick(tryout.present_hands());
        }
    }
    ImGui::PopButtonRepeat();
    leap("+1 s", rate);
    same_line_if_room("newest");
    if (ImGui::Button("newest")) {
        tryout.go_to(tryout.history().end());
    }
    same_line_if_room("1/50 pace    ");
    ImGui::SetNextItemWidth(ImGui::GetTextLineHeight() * 7.0F);
    if (ImGui::BeginCombo("##pace", pace_name(clock.pace()).c_str())) {
        for (const int part : slower) {
            const double pace = 1.0 / part;
            if (ImGui::Selectable(pace_name(pace).c_str(), std::fabs(pace - clock.pace()) < 1e-9)) {
                clock.set_pace(pace);
            }
        }
        ImGui::EndCombo();
    }
    if (const std::optional<tryout::Tryout::Stretch> looped = tryout.looped()) {
        same_line_if_room("end the loop");
        if (ImGui::Button("end the loop")) {
            tryout.end_loop();
        }
    } else if (timeline.stretch()) {
        same_line_if_room("loop the stretch");
        if (ImGui::Button("loop the stretch") &&
            tryout.loop(timeline.stretch()->from, timeline.stretch()->until)) {
            clock.pause(false);
        }
    }
    const std::string text = fmt::format("{:.3f} s, tick {}", tryout.time(), tryout.now().value);
    same_line_if_room(text);
    say(text, tryout::faint);
}

}  // namespace cursimeter::panels
