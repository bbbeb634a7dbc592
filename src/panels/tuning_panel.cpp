#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/panels/tuning_panel.hpp>

#include "panels/words.hpp"

namespace cursimeter::panels {
namespace {

using tryout::alarm, tryout::faint, tryout::ink, tryout::sea;

/// As people write numbers: with four digits that count.
double tidy(double value) {
    if (value == 0.0 || !std::isfinite(value)) {
        return value;
    }
    const double unit = std::pow(10.0, std::floor(std::log10(std::fabs(value))) - 3.0);
    return std::strtod(fmt::format("{:.4g}", std::round(value / unit) * unit).c_str(), nullptr);
}

std::string range_of(const survey::ChartValue& value) {
    const std::string unit = value.unit.empty() ? std::string() : " " + value.unit;
    if (std::isinf(value.most)) {
        return std::isinf(value.least)
                   ? std::string("any number") + unit
                   : fmt::format("{} {:g}{}", value.above_least ? "above" : "from", value.least, unit);
    }
    return fmt::format("{}{:g} to {:g}{}", value.above_least ? "above " : "", value.least, value.most, unit);
}

/// Of a path that is too long for its column the end tells most.
std::string ending_that_fits(const std::string& path) {
    const float room = ImGui::GetContentRegionAvail().x;
    std::string ending = path;
    while (ending.size() > 4 && ImGui::CalcTextSize(ending.c_str()).x > room) {
        ending = ".." + ending.substr(ending.starts_with("..") ? 3 : 1);
    }
    return ending;
}

std::string number_text(double value) {
    return std::isnan(value) ? std::string("none") : fmt::format("{:.4g}", value);
}

}  // namespace

void TuningPanel::tell(std::string text, bool wrong) {
    told_ = std::move(text);
    told_wrong_ = wrong;
}

void TuningPanel::look_for(const std::string& words) {
    const std::size_t count = std::min(words.size(), words_.size() - 1);
    std::copy_n(words.begin(), count, words_.begin());
    words_[count] = '\0';
}

bool TuningPanel::show_value(tryout::Tuning& tuning, const survey::ChartValue& value) {
    bool turned = false;
    const bool changed = tuning.is_changed(value.path);
    ImGui::PushID(value.path.c_str());
    ImGui::TableNextRow();
    ImGui::TableNextColumn();
    // States are most of it and need no word for it; whoever points at a path reads the whole of it.
    constexpr std::string_view states = "states.";
    ImGui::AlignTextToFramePadding();
    const std::string path = value.path.starts_with(states) ? value.path.substr(states.size()) : value.path;
    say(ending_that_fits(path), changed ? alarm : value.value ? ink : faint);
    if (ImGui::IsItemHovered()) {
        ImGui::BeginTooltip();
        say(value.path, ink);
        say(value.meaning, ink);
        say(range_of(value), faint);
        if (!value.fallback.empty()) {
            say("default: " + value.fallback, faint);
        }
        ImGui::EndTooltip();
    }
    ImGui::TableNextColumn();
    double now = value.value.value_or(std::strtod(value.fallback.c_str(), nullptr));
    const double before = now;
    ImGui::SetNextItemWidth(-1.0F);
    const auto speed = static_cast<float>(value.whole ? 0.05 : std::max(std::fabs(now), 0.1) * 0.004);
    const std::string unit = value.unit.empty() ? std::string() : " " + value.unit;
    const std::string format =
        value.value ? "%.4g" + unit : "(" + (value.fallback.empty() ? "not said" : value.fallback) + ")";
    const double least = value.least, most = value.most;
    const bool bounded = std::isfinite(least) && std::isfinite(most);
    const auto turn = [&] {
        return ImGui::DragScalar("##value", ImGuiDataType_Double, &now, speed, bounded ? &least : nullptr,
                                 bounded ? &most : nullptr, format.c_str());
    };
    const bool moved = turn();
    if (ImGui::IsItemActivated()) {
        tuning.end_turn();
    }
    if (moved && now != before) {
        try {
            tuning.set(value.path, value.whole ? std::round(now) : tidy(now));
            told_.clear();
            turned = true;
        } catch (const ChartError& error) {
            tell(error.diagnostics().front().text(), true);
        }
    }
    if (ImGui::IsItemDeactivated()) {
        tuning.end_turn();
    }
    ImGui::TableNextColumn();
    if (changed && ImGui::SmallButton("back")) {
        try {
            turned = tuning.revert(value.path) || turned;
        } catch (const ChartError& error) {
            tell(error.diagnostics().front().text(), true);
        }
    }
    ImGui::PopID();
    return turned;
}

void TuningPanel::show_figures(tryout::Tuning& tuning) {
    if (!asked_ || asked_edition_ != tuning.edition()) {
        figures_.ask(tuning.saved().spec, tuning.spec());
        asked_edition_ = tuning.edition();
        asked_ = true;
    }
    const tryout::FigureWatch::Answer answer = figures_.answer();
    say(answer.whole
            ? fmt::format("{} of {} figures differ from the file's", answer.changes.size(), answer.figures)
            : std::string("figures are being found ..."),
        faint);
    for (const tryout::FigureChange& change : answer.changes) {
        say(fmt::format("{}  {} -> {} {}", change.name, number_text(change.before), number_text(change.after),
                        change.unit),
            ink);
        if (ImGui::IsItemHovered()) {
            ImGui::SetTooltip("%s", change.meaning.c_str());
        }
    }
}

TuningPanel::Choice TuningPanel::show(tryout::Tuning& tuning) {
    Choice choice;
    ImGui::PushID(this);  // a window may have several
    const auto button = [](const char* name, bool possible) {
        ImGui::BeginDisabled(!possible);
        const bool pressed = ImGui::Button(name);
        ImGui::EndDisabled();
        return pressed;
    };
    const std::vector<tryout::ChangedValue> changed = tuning.changed();  // as the frame began
    choice.save = button("save", !changed.empty());
    same_line_if_room("undo");
    if (button("undo", tuning.can_undo())) {
        choice.changed = tuning.undo();
    }
    same_line_if_room("redo");
    if (button("redo", tuning.can_redo())) {
        choice.changed = tuning.redo();
    }
    same_line_if_room("all back");
    if (button("all back", !changed.empty())) {
        choice.changed = tuning.revert_all();
    }
    same_line_if_room("00 changed");
    say(changed.empty() ? std::string("as saved") : fmt::format("{} changed", changed.size()),
        changed.empty() ? faint : alarm);
    if (!told_.empty()) {
        say_wrapped(told_, told_wrong_ ? alarm : sea);
    }
    if (take_focus_) {
        ImGui::SetKeyboardFocusHere();
        take_focus_ = false;
    }
    ImGui::SetNextItemWidth(-ImGui::GetTextLineHeight() * 7.0F);
    ImGui::InputTextWithHint("##words", "part of a name: sprint speed", words_.data(), words_.size());
    ImGui::SameLine();
    ImGui::Checkbox("unsaid too", &all_);
    const float figures = changed.empty() ? 0.0F : ImGui::GetTextLineHeightWithSpacing() * 7.0F;
    const float rows =
        std::max(ImGui::GetContentRegionAvail().y - figures, ImGui::GetTextLineHeight() * 6.0F);
    if (ImGui::BeginTable("values", 3,
                          ImGuiTableFlags_ScrollY | ImGuiTableFlags_RowBg | ImGuiTableFlags_SizingFixedFit,
                          {0.0F, rows})) {
        ImGui::TableSetupColumn("path", ImGuiTableColumnFlags_WidthStretch, 2.0F);
        ImGui::TableSetupColumn("value", ImGuiTableColumnFlags_WidthStretch, 1.0F);
        ImGui::TableSetupColumn("back", ImGuiTableColumnFlags_WidthFixed, ImGui::GetTextLineHeight() * 2.6F);
        const auto listed = [&] {
            std::vector<const survey::ChartValue*> found = tuning.find(words_.data());
            std::erase_if(found, [&](const survey::ChartValue* value) { return !value->value && !all_; });
            return found;
        };
        std::vector<const survey::ChartValue*> shown = listed();
        ImGuiListClipper clipper;
        clipper.Begin(static_cast<int>(shown.size()));
        while (clipper.Step()) {
            for (auto i = static_cast<std::size_t>(clipper.DisplayStart);
                 i < std::min(static_cast<std::size_t>(clipper.DisplayEnd), shown.size()); ++i) {
                if (show_value(tuning, survey::ChartValue(*shown[i]))) {
                    choice.changed = true;
                    shown = listed();  // a turn makes all values anew
                }
            }
        }
        ImGui::EndTable();
    }
    if (!changed.empty()) {
        ImGui::Separator();
        if (ImGui::BeginChild("figures")) {
            show_figures(tuning);
        }
        ImGui::EndChild();
    }
    ImGui::PopID();
    return choice;
}

}  // namespace cursimeter::panels
