#include <fmt/format.h>
#include <imgui.h>

#include <algorithm>

#include "window/desk.hpp"
#include "window/desk_words.hpp"

/// What stands in the panels around the picture.
namespace cursimeter::tool {
namespace {

bool heading(const char* name, bool open = true) {
    return ImGui::CollapsingHeader(name, open ? ImGuiTreeNodeFlags_DefaultOpen : 0);
}

}  // namespace

void Desk::runner_panels(Session& session) {
    const bool net = session.net() != nullptr && session.net()->playing();
    const Runner& runner = net ? session.net()->own() : session.play.runner();
    const Chart& chart = session.play.chart();
    panels::show_state(chart, runner, session.history());
    if (const std::optional<tryout::GhostReading> ghost = session.play.ghost(); ghost && !net) {
        ImGui::Separator();
        panels::show_ghost(*ghost);
    }
    if (heading("rank")) {
        panels::show_rank(chart, runner);
    }
    if (heading("speed")) {
        panels::show_speed(chart, runner);
    }
    if (chart.meter_count() > 0 && heading("meters")) {
        panels::show_meters(chart, runner);
    }
    if (chart.cooldown_count() > 0 && heading("cooldowns")) {
        panels::show_cooldowns(chart, runner);
    }
    if ((chart.modifier_count() > 0 || chart.block_count() > 0) && heading("modifiers")) {
        panels::show_modifiers(chart, runner);
    }
}

void Desk::time_panels(Session& session) {
    if (session.is_on_network()) {
        say_faint("Over a network time goes on: no pause, no way back.");
        static_cast<void>(timeline_.show(session.history(), session.history().end()));
    } else {
        panels::show_time(session.play, session.clock, timeline_);
        const panels::Timeline::Choice choice = timeline_.show(session.play.history(), session.play.now());
        if (choice.moment) {
            session.clock.pause(true);
            session.play.end_loop();
            session.play.go_to(*choice.moment);
        }
    }
}

void Desk::tabs(Session& session, Devices& devices, bool with_runner) {
    const auto tab = [&](const char* name, auto&& show) {
        const bool to_open = open_tab_ == name;
        if (ImGui::BeginTabItem(name, nullptr, to_open ? ImGuiTabItemFlags_SetSelected : 0)) {
            if (to_open) {
                open_tab_.clear();
            }
            show();
            ImGui::EndTabItem();
        }
    };
    if (ImGui::BeginTabBar("tabs")) {
        if (with_runner) {
            tab("runner", [&] { runner_panels(session); });
            tab("time", [&] { time_panels(session); });
        }
        tab("numbers", [&] {
            const panels::TuningPanel::Choice choice = tuning_.show(session.tuning);
            if (choice.changed) {
                session.use_tuned_chart();
            }
            if (choice.save) {
                session.save();
            }
        });
        tab("keys", [&] { show_bindings(session, devices); });
        tab("record", [&] { show_record(session); });
        tab("network", [&] { show_net(session); });
        ImGui::EndTabBar();
    }
}

void Desk::show_bindings(Session& session, Devices& devices) {
    if (const std::optional<std::string> heard = devices.heard(); heard && listening_for_ >= 0) {
        if (*heard != "key.escape") {
            session.rebind(static_cast<std::size_t>(listening_for_), *heard);
        }
        listening_for_ = -1;
    }
    const ControlsSpec& spec = session.controls_spec();
    if (ImGui::BeginTable("bindings", 2, ImGuiTableFlags_RowBg)) {
        for (std::size_t i = 0; i < spec.bindings.size(); ++i) {
            ImGui::PushID(static_cast<int>(i));
            ImGui::TableNextRow();
            ImGui::TableNextColumn();
            ImGui::AlignTextToFramePadding();
            say(spec.bindings[i].action);
            ImGui::TableNextColumn();
            const bool waits = listening_for_ == static_cast<std::ptrdiff_t>(i);
            const std::string name = waits ? std::string("press one ...")
                                           : fmt::format("{}", fmt::join(spec.bindings[i].inputs, " + "));
            if (ImGui::Button(fmt::format("{}##key", name).c_str(), {-1.0F, 0.0F})) {
                listening_for_ = static_cast<std::ptrdiff_t>(i);
                devices.listen(true);
            }
            ImGui::PopID();
        }
        ImGui::EndTable();
    }
    if (ImGui::Button("save the keys")) {
        session.save_controls();
    }
    say_faint(
        "Press a button here, then the key, mouse or pad button that is to do it; Escape leaves it as it "
        "is.");
    say_faint(devices.has_pad() ? "A gamepad is at hand: left stick moves, right stick looks."
                                : "A gamepad is used as soon as one is plugged in.");
}

void Desk::show_record(Session& session) {
    const tryout::Moment begun = session.play.begun();
    const double since =
        session.play.history().size() > 0 ? session.play.time() - session.play.history().time(begun) : 0.0;
    say_faint("What you have played becomes files beside the chart, for run, replay, why, draw and report.");
    say(fmt::format("since the character began: {:.2f} s", since));
    if (ImGui::Button("save as a drill##begun")) {
        session.save_drill(begun);
    }
    ImGui::SameLine();
    if (ImGui::Button("save as a take##begun")) {
        session.save_take(begun);
    }
    if (timeline_.stretch()) {
        say("from the beginning of the chosen stretch to now:");
        if (ImGui::Button("save as a drill##stretch")) {
            session.save_drill(timeline_.stretch()->from);
        }
        ImGui::SameLine();
        if (ImGui::Button("save as a take##stretch")) {
            session.save_take(timeline_.stretch()->from);
        }
    } else {
        say_faint("Choose a stretch of the timeline with the right mouse button to save from there.");
    }
    for (const std::string& file : session.written()) {
        say_faint("wrote " + file);
    }
}

/// What the sliders say, whether they are to be seen or not.
void Desk::set_faults(Session& session) const {
    if (session.is_on_network()) {
        rehearsal::LinkFaults faults;
        faults.delay = Seconds{delay_ * 0.001};
        faults.jitter = Seconds{std::min(jitter_, delay_) * 0.001};
        faults.loss = loss_ * 0.01;
        faults.burst = Seconds{burst_ * 0.001};
        session.net()->set_faults(faults);
    }
}

void Desk::show_net(Session& session) {
    bool on = session.is_on_network();
    if (ImGui::Checkbox("over a network", &on)) {
        session.network(on);
    }
    ImGui::PushItemWidth(-ImGui::GetTextLineHeight() * 4.5F);
    ImGui::SliderFloat("delay", &delay_, 0.0F, 300.0F, "%.0f ms");
    ImGui::SliderFloat("jitter", &jitter_, 0.0F, 100.0F, "%.0f ms");
    ImGui::SliderFloat("loss", &loss_, 0.0F, 50.0F, "%.0f %%");
    ImGui::SliderFloat("bursts", &burst_, 0.0F, 300.0F, "%.0f ms");
    ImGui::PopItemWidth();
    if (!on) {
        say_faint(
            "The character runs over the library's own server and client: its owner's body, the server's, "
            "and what another "
            "player sees. Time cannot be turned back meanwhile.");
        return;
    }
    ImGui::Separator();
    if (!session.net()->playing()) {
        say_faint("joining ...");
        return;
    }
    panels::show_network(session.net()->client(), 1.0 / session.clock.tick().value);
}

}  // namespace cursimeter::tool
