#include <algorithm>
#include <cmath>
#include <cursimeter/effects.hpp>
#include <cursimeter/panels/readings.hpp>
#include <cursimeter/survey/why.hpp>

#include "panels/cause_text.hpp"
#include "panels/words.hpp"

namespace cursimeter::panels {
namespace {

using tryout::alarm, tryout::faint, tryout::grid, tryout::ink, tryout::sea;

/// A dot in the state's colour, in front of its name.
void state_name(const Chart& chart, StateId state, bool bold) {
    const ImVec2 at = ImGui::GetCursorScreenPos();
    const float size = ImGui::GetTextLineHeight();
    ImGui::GetWindowDrawList()->AddRectFilled({at.x, at.y + 0.2F * size},
                                              {at.x + 0.6F * size, at.y + 0.8F * size},
                                              packed(tryout::colour_of(state)));
    ImGui::Dummy({0.6F * size, size});
    ImGui::SameLine();
    say(chart.name(state), bold ? ink : faint);
}

std::string standing_text(const Chart& chart, StateId now, const survey::StateExplanation& told) {
    const survey::Standing& standing = told.standing;
    switch (standing.kind) {
        case survey::StandingKind::taken:
            return standing.state == now ? "is taken" : "comes next";
        case survey::StandingKind::fails: {
            if (!standing.failing) {
                return {};
            }
            for (std::size_t i = 0; i < standing.clauses.size(); ++i) {
                for (std::size_t k = 0; k < standing.clauses[i].size(); ++k) {
                    if (standing.clauses[i][k].term == standing.failing->term && !told.values[i][k].empty()) {
                        return fmt::format("{}, needs {}", told.values[i][k], standing.failing->text);
                    }
                }
            }
            return fmt::format("needs {}", standing.failing->text);
        }
        case survey::StandingKind::after:
            return "may not follow " + chart.name(now);
        case survey::StandingKind::banned:
            return "banned by a block";
        case survey::StandingKind::outranked:
            return fmt::format("holds, but {} comes first", chart.name(standing.first));
        case survey::StandingKind::held_back:
            return "was left a moment ago";
    }
    return {};
}

/// Where the reasons begin beside the states' names: behind the longest, if that leaves them half of the window. A longer name has
/// its reason in the line below.
float column_of_reasons(const Chart& chart) {
    const float line = ImGui::GetTextLineHeight();
    const float before = ImGui::GetTreeNodeToLabelSpacing() + 0.6F * line;
    float column = 7.5F * line;
    const float most = std::max(column, 0.5F * ImGui::GetWindowWidth());
    for (std::uint8_t i = 0; i < chart.state_count(); ++i) {
        const float name = ImGui::CalcTextSize(chart.name(StateId{i}).c_str()).x;
        column = std::max(column, std::min(most, before + name + 3.0F * ImGui::GetStyle().ItemSpacing.x));
    }
    return column;
}

void bar(double fraction, const tryout::Colour& colour, const std::string& text,
         const std::vector<double>& marks = {}) {
    const ImVec2 at = ImGui::GetCursorScreenPos();
    const float width = std::max(40.0F, ImGui::GetContentRegionAvail().x),
                height = ImGui::GetTextLineHeight() * 1.25F;
    ImDrawList* draw = ImGui::GetWindowDrawList();
    draw->AddRectFilled(at, {at.x + width, at.y + height}, packed(tryout::panel));
    draw->AddRectFilled(at,
                        {at.x + width * static_cast<float>(std::clamp(fraction, 0.0, 1.0)), at.y + height},
                        packed(colour.faded(0.65)));
    for (const double mark : marks) {
        const float x = at.x + width * static_cast<float>(mark);
        const float length = 0.25F * height;  // at both edges: the text between them stays readable
        draw->AddLine({x, at.y}, {x, at.y + length}, packed(ink), 1.0F);
        draw->AddLine({x, at.y + height - length}, {x, at.y + height}, packed(ink), 1.0F);
    }
    draw->AddRect(at, {at.x + width, at.y + height}, packed(grid));
    ImGui::SetCursorScreenPos({at.x + 0.4F * height, at.y + 0.1F * height});
    say(text);
    ImGui::SetCursorScreenPos({at.x, at.y + height + ImGui::GetStyle().ItemSpacing.y});
    ImGui::Dummy({0.0F, 0.0F});
}

}  // namespace

void show_state(const Chart& chart, const Runner& runner, const tryout::History& history) {
    state_name(chart, runner.state(), true);
    ImGui::SameLine();
    say(fmt::format("for {:.2f} s", runner.time_in_state().value), faint);
    say_wrapped(cause_text(history, runner), ink);
    const glm::dvec3 place = runner.position();
    say(fmt::format("at {:.2f}, {:.2f}, {:.2f} m{}{}{}", place.x, place.y, place.z,
                    runner.grounded() ? "" : ", in the air", runner.headroom() ? "" : ", no headroom",
                    runner.locked() ? ", locked" : ""),
        faint);
}

void show_rank(const Chart& chart, const Runner& runner) {
    ImGui::PushID(&runner);  // a window may have several
    const float reasons = column_of_reasons(chart);
    for (const survey::StateExplanation& told : survey::read_rank(chart, runner)) {
        const survey::Standing& standing = told.standing;
        const bool taken = standing.kind == survey::StandingKind::taken;
        const std::string id = chart.name(standing.state);
        ImGui::PushID(id.c_str());
        const bool open = ImGui::TreeNodeEx("##terms", ImGuiTreeNodeFlags_None);
        ImGui::SameLine();
        state_name(chart, standing.state, taken);
        if (ImGui::GetItemRectMax().x - ImGui::GetWindowPos().x < reasons) {
            ImGui::SameLine(reasons);
        } else {
            ImGui::SetCursorPosX(ImGui::GetItemRectMin().x - ImGui::GetWindowPos().x);  // below the name
        }
        say_wrapped(standing_text(chart, runner.state(), told), taken ? sea : ink);
        if (open) {
            for (std::size_t i = 0; i < standing.clauses.size(); ++i) {
                if (i > 0) {
                    say("or", faint);
                }
                for (std::size_t k = 0; k < standing.clauses[i].size(); ++k) {
                    const survey::TermReading& term = standing.clauses[i][k];
                    const std::string& value = told.values[i][k];
                    say(fmt::format("{} {}{}", term.holds ? "yes" : "no ", term.text,
                                    value.empty() ? "" : "   (" + value + ")"),
                        term.holds ? faint : alarm);
                }
            }
            if (standing.clauses.empty()) {
                say(standing.by_stay ? "stays until another comes first" : "always", faint);
            }
            ImGui::TreePop();
        }
        ImGui::PopID();
    }
    ImGui::PopID();
}

void show_meters(const Chart& chart, const Runner& runner) {
    for (std::uint8_t i = 0; i < chart.meter_count(); ++i) {
        const MeterId meter{i};
        const MeterReading reading = read_meter(chart, runner, meter);
        const double capacity = chart.capacity(meter);
        std::vector<double> marks;
        for (const MeterThreshold& threshold : chart.thresholds(meter)) {
            marks.push_back(threshold.level / capacity);
        }
        const std::optional<SpentSpec> spent = chart.spent(meter);
        if (spent && reading.spent) {
            marks.push_back(spent->until / capacity);
        }
        std::string text = fmt::format("{} {:.1f} of {:g}", chart.name(meter), reading.level, capacity);
        if (reading.spent) {
            text += fmt::format(", spent until {:g}", spent ? spent->until : 0.0);
        }
        bar(reading.fraction, reading.spent ? alarm : tryout::colour_of(meter), text, marks);
    }
    if (chart.meter_count() == 0) {
        say("the chart has no meters", faint);
    }
}

void show_cooldowns(const Chart& chart, const Runner& runner) {
    for (std::uint8_t i = 0; i < chart.cooldown_count(); ++i) {
        const CooldownReading reading = read_cooldown(chart, runner, CooldownId{i});
        const std::string& name = chart.name(CooldownId{i});
        std::string text = reading.left.value > 0.0 ? fmt::format("{} in {:.2f} s", name, reading.left.value)
                                                    : fmt::format("{} ready", name);
        if (reading.charges > 1 || (reading.ready && reading.left.value > 0.0)) {
            text += fmt::format(", {} in hand", reading.charges);
        }
        bar(reading.fraction, reading.ready ? sea : faint, text);
    }
    if (chart.cooldown_count() == 0) {
        say("the chart has no cooldowns", faint);
    }
}

void show_modifiers(const Chart& chart, const Runner& runner) {
    bool any = false;
    for (std::uint8_t i = 0; i < chart.modifier_count(); ++i) {
        const ModifierReading reading = read_modifier(chart, runner, ModifierId{i});
        if (!reading.active) {
            continue;
        }
        any = true;
        std::string text = fmt::format("{} {:.0f} %", chart.name(ModifierId{i}), reading.strength * 100.0);
        if (reading.stacks > 1) {
            text += fmt::format(", {} stacks", reading.stacks);
        }
        if (reading.left) {
            text += fmt::format(", {:.1f} s left", reading.left->value);
        }
        say(text);
    }
    for (std::uint8_t i = 0; i < chart.block_count(); ++i) {
        const int times = blocked(chart, runner, BlockId{i});
        if (times > 0) {
            any = true;
            say(fmt::format("block {}{}", chart.name(BlockId{i}),
                            times > 1 ? fmt::format(" x {}", times) : ""),
                alarm);
        }
    }
    if (!any) {
        say("no modifier or block is at work", faint);
    }
}

void show_speed(const Chart& chart, const Runner& runner) {
    const SpeedReading reading = read_speed(chart, runner);
    const double level = std::hypot(runner.velocity().x, runner.velocity().y);
    const double most = std::max({1.0, reading.target, level});
    bar(level / most, tryout::colour_of(runner.state()),
        fmt::format("{:.2f} of {:.2f} m/s, rise {:.2f}", level, reading.target, runner.velocity().z + 0.0),
        {reading.target / most});
    for (std::size_t i = 0; i < reading.count; ++i) {
        const SpeedPart& part = reading.parts[i];
        std::string name;
        switch (part.kind) {
            case SpeedPartKind::base:
                name = "base";
                break;
            case SpeedPartKind::stick:
                name = "stick";
                break;
            case SpeedPartKind::zone:
                name = "zone";
                break;
            case SpeedPartKind::slope:
                name = "slope";
                break;
            case SpeedPartKind::modifier:
                name = chart.name(part.modifier);
                break;
            case SpeedPartKind::limit:
                name = "limits";
                break;
        }
        std::string text = name;
        if (part.kind == SpeedPartKind::base) {
            text += fmt::format(" {:.2f} m/s", part.adds);
        } else if (part.adds != 0.0) {
            text += fmt::format(" {:+.2f} m/s", part.adds);
        }
        if (part.kind != SpeedPartKind::base && (part.times != 1.0 || part.adds == 0.0)) {
            text += fmt::format(" x {:.2f}", part.times);
        }
        if (i > 0) {
            same_line_if_room(text);
        }
        say(text, faint);
    }
}

void show_ghost(const tryout::GhostReading& ghost) {
    say(fmt::format("ghost: {}", ghost.name), ink);
    say(fmt::format("{:.2f} m apart; it has walked {:.2f} m {}", ghost.apart, std::fabs(ghost.ahead),
                    ghost.ahead >= 0.0 ? "more" : "less"),
        ink);
    if (ghost.earlier) {
        say(fmt::format("it is {:.3f} s {}", std::fabs(*ghost.earlier),
                        *ghost.earlier >= 0.0 ? "ahead" : "behind"),
            ink);
    }
    if (ghost.parting) {
        say(fmt::format("at {:.3f} s: {} here, {} there", ghost.parting->at, ghost.parting->own,
                        ghost.parting->ghost),
            alarm);
    } else {
        say("in the same states so far", faint);
    }
}

}  // namespace cursimeter::panels
