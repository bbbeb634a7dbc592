#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/survey/values.hpp>

#include "core/chart/facts.hpp"
#include "survey/check/checker.hpp"

/// Findings about amounts: costs, meters, cooldowns, modifiers, things that nothing reads, odd numbers.
namespace cursimeter::survey {
namespace {

namespace fact = detail::fact;
using detail::Quantity;

std::string joined(const std::vector<std::string>& parts) {
    return fmt::format("{}", fmt::join(parts, ", "));
}

}  // namespace

/// Whether anything in the chart ever fills the meter again.
bool Checker::comes_back(std::uint8_t index) const {
    const detail::CompiledMeter& meter = data_.meters[index];
    if (meter.refill_rate <= 0.0) {
        return false;
    }
    for (std::uint8_t state = 0; state < data_.states.size(); ++state) {
        const bool drains = (data_.states[state].drained >> index & 1U) != 0 &&
                            data_.states[state].drain_gate == std::nullopt;  // even while standing still
        if ((map_.reachable() >> state & 1U) == 0 || (meter.refill_in >> state & 1U) == 0 || drains) {
            continue;
        }
        for (const AllOf& way : ways_of(data_, meter.refill_when)) {
            if (map_.solver().possible(way)) {
                return true;
            }
        }
    }
    return false;
}

void Checker::meters() {
    for (std::uint8_t index = 0; index < data_.meters.size(); ++index) {
        const detail::CompiledMeter& meter = data_.meters[index];
        if (comes_back(index)) {
            continue;
        }
        std::vector<std::string> using_up, needing;
        std::vector<std::string> paths{
            fmt::format("meters.{}{}", meter.name, meter.refill_rate > 0.0 ? ".refill" : "")};
        for (const detail::CompiledState& state : data_.states) {
            const bool drains = (state.drained >> index & 1U) != 0, costs = state.costs[index] > 0.0;
            bool needs = costs || (drains && meter.spent && meter.spent->bars);
            for (std::uint16_t i = 0; i < state.enter.clause_count; ++i) {
                const detail::Clause& clause =
                    data_.clauses[static_cast<std::size_t>(state.enter.first_clause) + i];
                for (unsigned bit = 0; bit < data_.derived_facts.size(); ++bit) {
                    const detail::DerivedFact& derived = data_.derived_facts[bit];
                    needs = needs || (clause.want.derived.test(bit) && derived.quantity == Quantity::meter &&
                                      derived.index == index && derived.from > 0.0);
                }
            }
            if (drains || costs) {
                using_up.push_back(state.name);
                paths.push_back(
                    fmt::format("states.{}.{}.{}", state.name, costs ? "cost" : "drain", meter.name));
            }
            if (needs) {
                needing.push_back(state.name);
            }
        }
        if (using_up.empty() || needing.empty()) {
            continue;
        }
        const char* mend = meter.refill_rate > 0.0
                               ? "let it refill in a state that can be entered and does not drain it"
                               : "give it a refill = { rate = ... }";
        const bool latched = meter.spent && meter.spent->bars;
        add({Severity::error,
             latched ? FindingKind::latch_never_opens : FindingKind::never_refills,
             paths,
             latched
                 ? fmt::format(
                       "once {} is spent it stays spent: nothing refills it to {}, and {} can never be "
                       "entered again",
                       meter.name, meter.spent->until, joined(needing))
                 : fmt::format("{} is used up by {} and never refills: then {} can never be entered again",
                               meter.name, joined(using_up), joined(needing)),
             mend,
             needing,
             {},
             {}});
    }
}

void Checker::cooldowns() {
    for (const detail::CompiledState& state : data_.states) {
        if (state.cooldown == detail::no_cooldown) {
            continue;
        }
        const detail::CompiledCooldown& cooldown = data_.cooldowns[state.cooldown];
        const double seconds = state.kind == StateKind::burst  ? state.burst.seconds
                               : state.kind == StateKind::wall ? state.wall.seconds
                                                               : 0.0;
        if (!cooldown.from_end && cooldown.seconds <= seconds) {
            add({Severity::warning,
                 FindingKind::short_cooldown,
                 {fmt::format("cooldowns.{}.seconds", cooldown.name),
                  fmt::format("states.{}.cooldown", state.name)},
                 fmt::format("cooldown {} is over after {} s, {} lasts {} s: it keeps nobody from anything",
                             cooldown.name, cooldown.seconds, state.name, seconds),
                 "make it longer, or let it begin at the state's end: begins = \"end\"",
                 {state.name},
                 {},
                 {}});
        }
    }
}

void Checker::modifiers() {
    for (std::uint8_t index = 0; index < data_.modifiers.size(); ++index) {
        const detail::CompiledModifier& modifier = data_.modifiers[index];
        const std::string path = "modifiers." + modifier.name;
        std::vector<std::string> ring{modifier.name};
        for (std::uint8_t next = modifier.then;
             next != detail::no_modifier && ring.size() <= data_.modifiers.size();
             next = data_.modifiers[next].then) {
            if (next == index) {
                add({Severity::warning,
                     FindingKind::endless,
                     {path + ".then"},
                     fmt::format("{} follow one another for ever", joined(ring)),
                     "let one of them end without another",
                     {},
                     {},
                     {}});
                break;
            }
            if (next < index) {
                break;  // told of from there
            }
            ring.push_back(data_.modifiers[next].name);
        }
        for (const detail::CompiledMeter& meter : data_.meters) {
            if (meter.grants != index || !meter.spent) {
                continue;
            }
            const std::string grants = fmt::format("meters.{}.spent.grants", meter.name);
            if (modifier.seconds <= 0.0 && !modifier.conditional) {
                add({Severity::warning,
                     FindingKind::endless,
                     {grants, path},
                     fmt::format("once {} is spent, {} is at work for ever: it has no seconds", meter.name,
                                 modifier.name),
                     "give it seconds",
                     {},
                     {},
                     {}});
            }
            // The soonest that the meter can be spent again: the wait and the refill to the latch.
            const double soonest =
                meter.refill_wait + (meter.spent->until - meter.spent->at) / meter.refill_rate;
            const bool piles =
                modifier.stacking == Stacking::extend || modifier.stacking == Stacking::separate;
            if (piles && meter.refill_rate > 0.0 && modifier.seconds > soonest) {
                add({Severity::warning,
                     FindingKind::piles_up,
                     {path + ".seconds", grants},
                     fmt::format("{} lasts {} s and can be granted again after {:.3g} s: {}", modifier.name,
                                 modifier.seconds, soonest,
                                 modifier.stacking == Stacking::extend ? "its time grows without end"
                                                                       : "it fills all places for modifiers"),
                     "let it stack by \"refresh\" or \"count\", or last shorter than that",
                     {},
                     {},
                     {}});
            }
        }
        if (modifier.stacking == Stacking::separate && modifier.seconds <= 0.0 && !modifier.conditional) {
            add({Severity::warning,
                 FindingKind::piles_up,
                 {path + ".stacking", path},
                 fmt::format("{} is granted again and again beside itself and never ends by itself",
                             modifier.name),
                 "give it seconds, or another stacking",
                 {},
                 {},
                 {}});
        }
    }
}

void Checker::unused() {
    detail::ActionMask read = 0;
    for (const detail::Clause& clause : data_.clauses) {
        const detail::FixedFacts& care = clause.care.fixed;
        read |= fact::on_of(care) | fact::pressed_of(care) | fact::released_of(care);
    }
    const auto reads = [&](std::uint8_t action) {
        if (action != detail::no_action) {
            read |= key_bit(ActionId{action});
        }
    };
    std::uint32_t drained = 0, cooled = 0;
    for (const detail::CompiledState& state : data_.states) {
        reads(state.launch.by);
        reads(state.fly.up);
        reads(state.fly.down);
        drained |= state.drained;
        for (std::size_t i = 0; i < data_.meters.size(); ++i) {
            drained |= state.costs[i] > 0.0 ? 1U << i : 0U;
        }
        cooled |= state.cooldown != detail::no_cooldown ? 1U << state.cooldown : 0U;
    }
    for (std::size_t i = 0; i < data_.cooldowns.size(); ++i) {
        const std::uint8_t also = data_.cooldowns[i].also;
        cooled |= also != detail::no_cooldown ? 1U << also : 0U;
    }
    for (std::size_t i = 0; i < data_.meters.size(); ++i) {
        for (const auto* scales : {&data_.meters[i].refill_scale, &data_.meters[i].drain_scale}) {
            for (const detail::Scale& scale : *scales) {
                drained |= 1U << scale.by;
            }
        }
    }
    for (const detail::DerivedFact& derived : data_.derived_facts) {
        drained |= derived.quantity == Quantity::meter ? 1U << derived.index : 0U;
        cooled |= derived.quantity == Quantity::ready ? 1U << derived.index : 0U;
    }
    const auto tell = [&](const std::string& path, const std::string& what) {
        add({Severity::warning,
             FindingKind::unused,
             {path},
             what,
             "take it out, or let a state read it",
             {},
             {},
             {}});
    };
    for (std::size_t i = 0; i < data_.actions.size(); ++i) {
        if ((read >> i & 1U) == 0) {
            tell("actions." + data_.actions[i].name,
                 fmt::format("nothing reads action {}", data_.actions[i].name));
        }
    }
    for (std::size_t i = 0; i < data_.meters.size(); ++i) {
        if ((drained >> i & 1U) == 0) {
            tell("meters." + data_.meters[i].name,
                 fmt::format("no state drains, costs or reads meter {}", data_.meters[i].name));
        }
    }
    for (std::size_t i = 0; i < data_.cooldowns.size(); ++i) {
        if ((cooled >> i & 1U) == 0) {
            tell("cooldowns." + data_.cooldowns[i].name,
                 fmt::format("no state uses cooldown {}", data_.cooldowns[i].name));
        }
    }
}

namespace {

/// What characters do, generously. By the last part of a value's path.
struct Plausible {
    std::string_view ending;
    double least, most;
    const char* unit;
};
constexpr Plausible plausible[] = {
    {".speed.forward", 0.0, 60.0, "m/s"},
    {".speed.side", 0.0, 60.0, "m/s"},
    {".speed.back", 0.0, 60.0, "m/s"},
    {".gain.up", 0.5, 1000.0, "m/s^2"},
    {".gain.down", 0.5, 1000.0, "m/s^2"},
    {".gain.idle", 0.5, 1000.0, "m/s^2"},
    {".gain.up_half_life", 0.0, 2.0, "s"},
    {".gain.down_half_life", 0.0, 2.0, "s"},
    {".gain.idle_half_life", 0.0, 2.0, "s"},
    {".rise_gravity", 1.0, 200.0, "m/s^2"},
    {".fall_gravity", 1.0, 200.0, "m/s^2"},
    {"body.gravity", 1.0, 200.0, "m/s^2"},
    {".launch.heights[1]", 0.05, 20.0, "m"},
    {".burst.seconds", 0.0, 5.0, "s"},
    {".burst.metres", 0.0, 100.0, "m"},
    {".burst.speed", 0.0, 1000.0, "m/s"},
    {".buffer", 0.0, 0.5, "s"},
    {"body.coyote", 0.0, 0.4, "s"},
    {"body.height", 0.3, 5.0, "m"},
    {"body.step_height", 0.0, 1.0, "m"},
    {".wall.seconds", 0.0, 20.0, "s"},
};

}  // namespace

void Checker::implausible() {
    for (const ChartValue& value : chart_values(spec_)) {
        for (const Plausible& usual : plausible) {
            const bool odd = value.said && value.value && value.path.ends_with(usual.ending) &&
                             (*value.value < usual.least || *value.value > usual.most);
            if (odd) {
                add({Severity::advice,
                     FindingKind::implausible,
                     {value.path},
                     fmt::format("{} {} is out of the ordinary for a character", *value.value, usual.unit),
                     fmt::format("usual are {} to {} {}", usual.least, usual.most, usual.unit),
                     {},
                     {},
                     {}});
            }
        }
    }
}

std::vector<Finding> Checker::run() {
    states_never_entered();
    states_never_left();
    restless_states();
    restless_levels();
    terms();
    alternatives();
    outranked_alternatives();
    meters();
    cooldowns();
    modifiers();
    unused();
    implausible();
    std::stable_sort(findings_.begin(), findings_.end(),
                     [](const Finding& a, const Finding& b) { return a.severity < b.severity; });
    return std::move(findings_);
}

detail::StateMask Checker::restless() {
    restless_states();
    restless_levels();
    detail::StateMask found = 0;
    for (const Finding& finding : findings_) {
        for (const std::string& name : finding.states) {
            found |= detail::StateMask{1} << chart_.state(name).index;
        }
    }
    return found;
}

std::vector<Finding> check(const ChartSpec& spec) {
    return Checker(spec).run();
}

std::string_view to_string(Severity severity) {
    switch (severity) {
        case Severity::error:
            return "error";
        case Severity::warning:
            return "warning";
        case Severity::advice:
            return "advice";
    }
    return "";
}

std::string_view to_string(FindingKind kind) {
    switch (kind) {
        case FindingKind::never_entered:
            return "never entered";
        case FindingKind::hidden:
            return "hidden";
        case FindingKind::never_left:
            return "never left";
        case FindingKind::flicker:
            return "flicker";
        case FindingKind::left_at_once:
            return "left at once";
        case FindingKind::never_true:
            return "never true";
        case FindingKind::always_true:
            return "always true";
        case FindingKind::contradiction:
            return "contradiction";
        case FindingKind::needless:
            return "needless";
        case FindingKind::never_refills:
            return "never refills";
        case FindingKind::latch_never_opens:
            return "latch never opens";
        case FindingKind::short_cooldown:
            return "short cooldown";
        case FindingKind::piles_up:
            return "piles up";
        case FindingKind::endless:
            return "endless";
        case FindingKind::unused:
            return "unused";
        case FindingKind::implausible:
            return "implausible";
    }
    return "";
}

}  // namespace cursimeter::survey
