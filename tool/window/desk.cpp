#include "window/desk.hpp"

#include <fmt/format.h>
#include <imgui.h>

#include <algorithm>

namespace cursimeter::tool {
namespace {

constexpr ImGuiWindowFlags column = ImGuiWindowFlags_NoMove | ImGuiWindowFlags_NoResize |
                                    ImGuiWindowFlags_NoCollapse | ImGuiWindowFlags_NoTitleBar |
                                    ImGuiWindowFlags_NoBringToFrontOnFocus;

void say(const std::string& text) {
    ImGui::TextUnformatted(text.c_str());
}
void say_faint(const std::string& text) {
    ImGui::PushStyleColor(ImGuiCol_Text, panels::packed(tryout::faint));
    ImGui::PushTextWrapPos(0.0F);
    say(text);
    ImGui::PopTextWrapPos();
    ImGui::PopStyleColor();
}

bool heading(const char* name, bool open = true) {
    return ImGui::CollapsingHeader(name, open ? ImGuiTreeNodeFlags_DefaultOpen : 0);
}

struct Help {
    const char *key, *what;
};
constexpr Help help_lines[] = {
    {"Tab", "mouse to the character and back; or hold the right button over the picture"},
    {"F2", "camera: behind, own eyes, side, above"},
    {"F3", "pause and go on"},
    {"F4, F5", "one tick back, one tick on"},
    {"F6, F7", "slower, faster: down to 1/50"},
    {"F8", "ghost of the chart as it is saved"},
    {"F9 or R", "begin again at the start"},
    {"F10", "keyboard to the panels and back: arrows, space, tab"},
    {"Ctrl F", "find a number"},
    {"Ctrl Z, Ctrl Y", "undo, redo a turn of a number"},
    {"Ctrl S", "save the chart's file: comments and layout stay"},
    {"Ctrl D, Ctrl T", "save what was played since the start as a drill, as a take"},
    {"Ctrl N", "over a network, and back"},
    {"Ctrl Q", "close"},
    {"timeline", "left button: go there; right button: choose a stretch to loop; wheel: more or less time"},
};

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

Desk::Room Desk::picture(int width, int height) const {
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

void Desk::show_left(Session& session, int width, int height) {
    const Room room = picture(width, height);
    place(0.0F, 0.0F, static_cast<float>(room.x), static_cast<float>(height));
    if (ImGui::Begin("runner", nullptr, column)) {
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
    ImGui::End();
}

void Desk::show_right(Session& session, Devices& devices, int width, int height) {
    const Room room = picture(width, height);
    const float left = static_cast<float>(room.x + room.width);
    place(left, 0.0F, static_cast<float>(width) - left, static_cast<float>(height));
    if (ImGui::Begin("desk", nullptr, column)) {
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
    ImGui::End();
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

void Desk::show_below(Session& session, int width, int height) {
    const Room room = picture(width, height);
    place(static_cast<float>(room.x), static_cast<float>(room.height), static_cast<float>(room.width),
          static_cast<float>(height - room.height));
    if (ImGui::Begin("time", nullptr, column)) {
        if (session.is_on_network()) {
            say_faint("Over a network time goes on: no pause, no way back.");
            static_cast<void>(timeline_.show(session.history(), session.history().end()));
        } else {
            panels::show_time(session.play, session.clock, timeline_);
            const panels::Timeline::Choice choice =
                timeline_.show(session.play.history(), session.play.now());
            if (choice.moment) {
                session.clock.pause(true);
                session.play.end_loop();
                session.play.go_to(*choice.moment);
            }
        }
    }
    ImGui::End();
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
    y = write(y, keys, tryout::faint);
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
            for (const Help& line : help_lines) {
                ImGui::TableNextRow();
                ImGui::TableNextColumn();
                say(line.key);
                ImGui::TableNextColumn();
                ImGui::TextWrapped("%s", line.what);
            }
            ImGui::EndTable();
        }
        ImGui::Separator();
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
    show_left(session, width, height);
    show_right(session, devices, width, height);
    show_below(session, width, height);
    show_hints(session, devices, view, width, height);
    if (help_) {
        show_help(session, width, height);
    }
    show_question(session);
}

}  // namespace cursimeter::tool
