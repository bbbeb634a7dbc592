#include <fmt/format.h>

#include <algorithm>
#include <cursimeter/chart.hpp>

#include "core/chart/chart_data.hpp"
#include "core/chart/findings.hpp"
#include "core/runner/pair.hpp"

namespace cursimeter {
namespace {

template <class Named>
std::uint8_t index_of(const std::vector<Named>& list, std::string_view name, const char* kind) {
    if (const auto place = detail::place_of(list, name)) {
        return *place;
    }
    throw ChartError({{"",
                       fmt::format("the chart has no {} named '{}'", kind, name),
                       detail::advise_name(name, detail::names_of(list)),
                       {},
                       0,
                       0}});
}

}  // namespace

const std::string& Chart::name() const {
    return data_->name;
}
std::size_t Chart::state_count() const {
    return data_->states.size();
}
std::size_t Chart::action_count() const {
    return data_->actions.size();
}
std::size_t Chart::meter_count() const {
    return data_->meters.size();
}
std::size_t Chart::cooldown_count() const {
    return data_->cooldowns.size();
}

const std::string& Chart::name(StateId id) const {
    return detail::named(data_->states, id.index, "state").name;
}
const std::string& Chart::name(ActionId id) const {
    return detail::named(data_->actions, id.index, "action").name;
}
const std::string& Chart::name(MeterId id) const {
    return detail::named(data_->meters, id.index, "meter").name;
}
const std::string& Chart::name(CooldownId id) const {
    return detail::named(data_->cooldowns, id.index, "cooldown").name;
}

std::size_t Chart::modifier_count() const {
    return data_->modifiers.size();
}
std::size_t Chart::block_count() const {
    return data_->blocks.size();
}
const std::string& Chart::name(ModifierId id) const {
    return detail::named(data_->modifiers, id.index, "modifier").name;
}
const std::string& Chart::name(BlockId id) const {
    return detail::named(data_->blocks, id.index, "block").name;
}

StateId Chart::state(std::string_view name) const {
    return {index_of(data_->states, name, "state")};
}
ActionId Chart::action(std::string_view name) const {
    return {index_of(data_->actions, name, "action")};
}
MeterId Chart::meter(std::string_view name) const {
    return {index_of(data_->meters, name, "meter")};
}
CooldownId Chart::cooldown(std::string_view name) const {
    return {index_of(data_->cooldowns, name, "cooldown")};
}

ModifierId Chart::modifier(std::string_view name) const {
    return {index_of(data_->modifiers, name, "modifier")};
}
BlockId Chart::block(std::string_view name) const {
    return {index_of(data_->blocks, name, "block")};
}

const std::vector<std::string>& Chart::zones() const {
    return data_->zones;
}
Capsule Chart::body(StateId id) const {
    const bool low = detail::named(data_->states, id.index, "state").low;
    return {data_->body.radius, low ? data_->body.low_height : data_->body.height};
}
StateKind Chart::kind(StateId id) const {
    return detail::named(data_->states, id.index, "state").kind;
}

double Chart::capacity(MeterId id) const {
    return detail::named(data_->meters, id.index, "meter").capacity;
}
std::vector<MeterThreshold> Chart::thresholds(MeterId id) const {
    std::vector<MeterThreshold> thresholds;
    for (const detail::Mark& mark : detail::named(data_->meters, id.index, "meter").marks) {
        const auto reads = [&](const detail::Term& term) { return term.derived && mark.bit == term.bit; };
        const auto term = std::find_if(data_->terms.begin(), data_->terms.end(), reads);
        if (term != data_->terms.end()) {
            thresholds.push_back({mark.level, term->text});
        }
    }
    return thresholds;
}

std::optional<SpentSpec> Chart::spent(MeterId id) const {
    return detail::named(data_->meters, id.index, "meter").spent;
}
const std::vector<LevelSpec>& Chart::named_levels(MeterId id) const {
    return detail::named(data_->meters, id.index, "meter").thresholds;
}
PressMode Chart::press_mode(ActionId id) const {
    return detail::named(data_->actions, id.index, "action").press;
}
std::uint32_t Chart::naming() const {
    return data_->naming;
}

std::uint64_t Chart::digest() const {
    return data_->digest;
}

std::string Chart::describe(Cause cause) const {
    switch (cause.kind) {
        case CauseKind::start:
            return "start";
        case CauseKind::enter:
            return "enter: " + data_->terms.at(cause.term).text;
        case CauseKind::stay:
            return "stay failed: " + data_->terms.at(cause.term).text;
        case CauseKind::follows:
            return "follows";
        case CauseKind::blocked:
            return "blocked: " + data_->blocks.at(cause.term).name;
        case CauseKind::from:
            return "not from: " + data_->states.at(cause.term).name;
        case CauseKind::forced:
            return "forced";
        case CauseKind::fails:
            return "fails: " + data_->terms.at(cause.term).text;
    }
    return "unknown";
}

std::string Chart::term_path(Cause cause) const {
    const bool has_term =
        cause.kind == CauseKind::enter || cause.kind == CauseKind::stay || cause.kind == CauseKind::fails;
    return has_term ? data_->terms.at(cause.term).path : std::string();
}

}  // namespace cursimeter
