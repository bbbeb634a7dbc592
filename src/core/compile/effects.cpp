#include <fmt/format.h>

#include <algorithm>

#include "core/compile/compile.hpp"

/// What surrounds the states: cooldowns, modifiers, blocks, and what scales meters.
namespace cursimeter::detail {
namespace {

/// Index of a name, or `none` with a complaint.
std::uint8_t named(const std::string& name, const std::vector<std::string>& names, const std::string& path,
                   const char* what, std::uint8_t none, Findings& findings) {
    const auto found = std::find(names.begin(), names.end(), name);
    if (found == names.end()) {
        findings.add(path, fmt::format("no {} is named '{}'", what, name), advise_name(name, names));
        return none;
    }
    return static_cast<std::uint8_t>(found - names.begin());
}

class ModifierCompiler {
  public:
    ModifierCompiler(const ChartSpec& spec, Findings& findings)
        : findings_(findings),
          modifiers_(names_of(spec.modifiers)),
          meters_(names_of(spec.meters)),
          cooldowns_(names_of(spec.cooldowns)) {}

    CompiledModifier compile(const ModifierSpec& spec) {
        path_ = "modifiers." + spec.name;
        CompiledModifier modifier;
        modifier.name = spec.name;
        modifier.was = spec.was.value_or("");
        modifier.stacking = spec.stacking;
        modifier.seconds = spec.seconds.value_or(0.0);
        modifier.fade_in = spec.fade_in;
        modifier.fade_out = spec.fade_out;
        modifier.first = spec.first;
        modifier.build = spec.build.value_or(0.0);
        modifier.shed = spec.shed.value_or(0.0);
        modifier.most = static_cast<std::uint8_t>(std::clamp(spec.most, 1, int{limits::stacks}));
        modifier.conditional = spec.while_holds.has_value();
        check(spec);
        if (spec.then) {
            modifier.then =
                named(*spec.then, modifiers_, path_ + ".then", "modifier", no_modifier, findings_);
        }
        for (std::size_t i = 0; i < spec.affects.size(); ++i) {
            const std::string place = fmt::format("{}.affects[{}]", path_, i + 1);
            Effect effect = effect_of(place, spec.affects[i]);
            modifier.measures |= std::uint64_t{1} << effect.measure;
            modifier.effects.push_back(effect);
        }
        return modifier;
    }

  private:
    void check(const ModifierSpec& spec) {
        const bool conditional = spec.while_holds.has_value();
        if (conditional && spec.seconds) {
            findings_.add_relation(path_ + ".seconds",
                                   "a modifier that holds while something does has no time of its own",
                                   "take out `seconds` or `while`", {path_});
        }
        if (!conditional && (spec.build || spec.shed)) {
            findings_.add_relation(path_ + (spec.build ? ".build" : ".shed"),
                                   "stacks build and shed with `while` only",
                                   "say while = [...], or count stacks by granting", {path_});
        }
        if (spec.first > 0.0 && !spec.build) {
            findings_.add_relation(path_ + ".first", "is the wait for the first stack, and no stacks build",
                                   "say build = ..., or take it out", {path_});
        }
        if ((spec.build || spec.shed) && (spec.fade_in > 0.0 || spec.fade_out > 0.0)) {
            findings_.add_relation(path_ + (spec.fade_in > 0.0 ? ".fade_in" : ".fade_out"),
                                   "stacks that come and go one by one do not fade besides",
                                   "take out the fades, or build and shed", {path_});
        }
        if (spec.most > 1 && spec.stacking != Stacking::count && !spec.build) {
            findings_.add_relation(path_ + ".most", "only stacking \"count\", or `build`, has stacks",
                                   "say stacking = \"count\"", {path_});
        }
        if (spec.seconds && spec.fade_in > *spec.seconds) {
            findings_.add_relation(
                path_ + ".fade_in",
                fmt::format("{} is longer than its seconds, {}", spec.fade_in, *spec.seconds),
                "it would never be at full strength", {path_});
        }
        if (spec.stacking == Stacking::extend && (!spec.seconds || spec.fade_in > 0.0)) {
            findings_.add_relation(path_ + ".stacking", "\"extend\" adds seconds to what is left",
                                   "say seconds = ..., and no fade_in", {path_});
        }
    }

    Effect effect_of(const std::string& place, const AffectSpec& spec) {
        Effect effect;
        effect.measure = measure_of(place + ".what", spec.what);
        effect.adds = spec.adds.value_or(0.0);
        effect.times = spec.times.value_or(1.0);
        effect.sets = spec.sets;
        effect.least = spec.at_least.value_or(-never);
        effect.most = spec.at_most.value_or(never);
        if (!spec.adds && !spec.times && !spec.sets && !spec.at_least && !spec.at_most) {
            findings_.add_relation(place, "changes nothing", "say adds, times, sets, at_least or at_most");
        }
        return effect;
    }

    std::uint8_t measure_of(const std::string& path, const std::string& what) {
        const std::vector<std::string> plain{"speed", "gain", "jump", "gravity", "steer", "burst", "turn"};
        const auto found = std::find(plain.begin(), plain.end(), what);
        if (found != plain.end()) {
            return static_cast<std::uint8_t>(found - plain.begin());
        }
        const auto part = [&](std::string_view group, const std::vector<std::string>& names, const char* kind,
                              unsigned first, std::size_t limit) -> std::optional<std::uint8_t> {
            if (what.rfind(group, 0) != 0) {
                return std::nullopt;
            }
            const std::size_t index = named(what.substr(group.size()), names, path, kind, 0, findings_);
            return static_cast<std::uint8_t>(first +
                                             std::min(index, limit - 1));  // too many are told of elsewhere
        };
        if (const auto drain = part("drain.", meters_, "meter", measure::drain_first, limits::meters)) {
            return *drain;
        }
        if (const auto refill = part("refill.", meters_, "meter", measure::refill_first, limits::meters)) {
            return *refill;
        }
        if (const auto cooldown =
                part("cooldown.", cooldowns_, "cooldown", measure::cooldown_first, limits::cooldowns)) {
            return *cooldown;
        }
        std::vector<std::string> known = plain;
        for (const std::string& meter : meters_) {
            known.insert(known.end(), {"drain." + meter, "refill." + meter});
        }
        for (const std::string& cooldown : cooldowns_) {
            known.push_back("cooldown." + cooldown);
        }
        findings_.add(path, fmt::format("'{}' is nothing that can be changed", what),
                      advise_name(what, known));
        return 0;
    }

    Findings& findings_;
    std::vector<std::string> modifiers_, meters_, cooldowns_;
    std::string path_;
};

}  // namespace

void compile_cooldowns(const ChartSpec& spec, ChartData& chart, Findings& findings) {
    const std::vector<std::string> names = names_of(spec.cooldowns);
    for (const CooldownSpec& cooldown : spec.cooldowns) {
        const std::string path = "cooldowns." + cooldown.name;
        CompiledCooldown compiled;
        compiled.name = cooldown.name;
        compiled.was = cooldown.was.value_or("");
        compiled.seconds = cooldown.seconds;
        compiled.charges = static_cast<std::uint8_t>(std::clamp(cooldown.charges, 1, 15));
        compiled.together = cooldown.recharge == Recharge::all;
        compiled.from_end = cooldown.begins == Begins::end;
        if (cooldown.also) {
            compiled.also = named(*cooldown.also, names, path + ".also", "cooldown", no_cooldown, findings);
            const bool chained =
                compiled.also != no_cooldown && spec.cooldowns[compiled.also].also.has_value();
            if (chained) {
                findings.add(path + ".also",
                             *cooldown.also == cooldown.name
                                 ? "names itself"
                                 : fmt::format("'{}' has an `also` of its own", *cooldown.also),
                             "name a cooldown that begins no other");
            }
        }
        chart.cooldowns.push_back(std::move(compiled));
    }
}

void compile_scales(const ChartSpec& spec, const MeterSpec& meter, CompiledMeter& compiled,
                    Findings& findings) {
    const std::vector<std::string> meters = names_of(spec.meters);
    const std::string path = "meters." + meter.name;
    const auto compile = [&](const std::vector<ScaleSpec>& scales, const std::string& place) {
        std::vector<Scale> list;
        for (std::size_t i = 0; i < scales.size(); ++i) {
            const std::string here = fmt::format("{}[{}]", place, i + 1);
            Scale scale;
            scale.by = named(scales[i].by, meters, here + ".by", "meter", 0, findings);
            scale.at = scales[i].at.value_or(std::vector<double>{0.0, 1.0});
            scale.factors = scales[i].factors.value_or(std::vector<double>{});
            if (scales[i].by == meter.name) {
                findings.add(here + ".by", "names the meter itself", "name another meter");
            }
            const bool rises = std::adjacent_find(scale.at.begin(), scale.at.end(), [](double a, double b) {
                                   return a >= b;
                               }) == scale.at.end();
            if (scale.at.empty() || scale.at.size() != scale.factors.size() || !rises) {
                findings.add_relation(
                    here,
                    fmt::format("has {} fractions and {} factors", scale.at.size(), scale.factors.size()),
                    "give as many factors as fractions, and the fractions rising");
                continue;
            }
            list.push_back(std::move(scale));
        }
        return list;
    };
    compiled.drain_scale = compile(meter.drain_scale, path + ".drain_scale");
    if (!meter.refill) {
        return;
    }
    compiled.refill_scale = compile(meter.refill->scale, path + ".refill.scale");
    if (meter.refill->in) {
        const std::vector<std::string> states = names_of(spec.states);
        compiled.refill_in = 0;
        for (std::size_t i = 0; i < meter.refill->in->size(); ++i) {
            const std::uint8_t state =
                named((*meter.refill->in)[i], states, fmt::format("{}.refill.in[{}]", path, i + 1), "state",
                      0, findings);
            compiled.refill_in |= StateMask{1} << (state & 63U);
        }
    }
}

void compile_modifiers(const ChartSpec& spec, ChartData& chart, Findings& findings) {
    ModifierCompiler compiler(spec, findings);
    for (const ModifierSpec& modifier : spec.modifiers) {
        chart.modifiers.push_back(compiler.compile(modifier));
        chart.has_conditional = chart.has_conditional || modifier.while_holds.has_value();
    }
    const std::vector<std::string> names = names_of(spec.modifiers);
    for (std::size_t i = 0; i < spec.meters.size() && i < chart.meters.size(); ++i) {
        const std::optional<SpentSpec>& spent = spec.meters[i].spent;
        if (spent && spent->grants) {
            chart.meters[i].grants =
                named(*spent->grants, names, "meters." + spec.meters[i].name + ".spent.grants", "modifier",
                      no_modifier, findings);
        }
    }
}

void compile_blocks(const ChartSpec& spec, ChartData& chart, Findings& findings) {
    const std::vector<std::string> actions = names_of(spec.actions), states = names_of(spec.states);
    std::vector<std::string> known = actions;
    known.insert(known.end(), states.begin(), states.end());
    known.emplace_back("movement");
    for (const BlockSpec& block : spec.blocks) {
        CompiledBlock compiled;
        compiled.name = block.name;
        compiled.was = block.was.value_or("");
        compiled.resume = block.resume;
        for (std::size_t i = 0; i < block.bans.size(); ++i) {
            const std::string& name = block.bans[i];
            const auto action = std::find(actions.begin(), actions.end(), name);
            const auto state = std::find(states.begin(), states.end(), name);
            if (action == actions.end() && state == states.end() && name != "movement") {
                findings.add(fmt::format("blocks.{}.bans[{}]", block.name, i + 1),
                             fmt::format("no action and no state is named '{}'", name),
                             advise_name(name, known));
                continue;
            }
            compiled.movement = compiled.movement || name == "movement";
            if (action != actions.end()) {
                compiled.actions = compiled.actions | ActionMask{1} << ((action - actions.begin()) & 31);
            }
            if (state != states.end()) {
                compiled.states |= StateMask{1} << ((state - states.begin()) & 63);
            }
        }
        chart.blocks.push_back(std::move(compiled));
    }
}

}  // namespace cursimeter::detail
