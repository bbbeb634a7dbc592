#include <cmath>
#include <cursimeter/panels/time_panel.hpp>

#include "panels/words.hpp"

namespace cursimeter::panels {
namespace {

std::string pace_name(double pace) {
    const int part = static_cast<int>(std::lround(1.0 / pace));
    return part <= 1 ? std::string("full pace") : fmt::format("1/{} pace", part);
}

}  // namespace

void show_time(tryout::Tryout& tryout, tryout::TickClock& clock, Timeline& timeline) {
    const auto rate = static_cast<std::uint64_t>(std::lround(1.0 / clock.tick().value));
    if (ImGui::Button(clock.paused() ? "go on" : "pause")) {
        clock.pause(!clock.paused());
    }
    const auto leap = [&](const char* name, auto&& go) {
        same_line_if_room(name);
        ImGui::PushButtonRepeat(true);
        if (ImGui::Button(name)) {
            clock.pause(true);
            go();
        }
        ImGui::PopButtonRepeat();
    };
    leap("-5 s", [&] { tryout.step_back(5 * rate); });
    leap("-1 s", [&] { tryout.step_back(rate); });
    leap("- tick", [&] { tryout.step_back(); });
    leap("+ tick", [&] { tryout.step_on(); });
    leap("+1 s", [&] { tryout.step_on(rate); });
    same_line_if_room("newest");
    if (ImGui::Button("newest")) {
        tryout.go_to(tryout.history().end());
    }
    same_line_if_room("1/50 pace    ");
    ImGui::SetNextItemWidth(ImGui::GetTextLineHeight() * 7.0F);
    if (ImGui::BeginCombo("##pace", pace_name(clock.pace()).c_str())) {
        for (const double pace : tryout::TickClock::paces) {
            if (ImGui::Selectable(pace_name(pace).c_str(), pace == clock.pace())) {
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
