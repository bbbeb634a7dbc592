#include <catch2/catch.hpp>
#include <cursimeter/chart.hpp>
#include <map>
#include <optional>
#include <set>
#include <string>

#include "core/chart/chart_data.hpp"
#include "core/chart/chart_keys.hpp"

using namespace cursimeter;

/// What the reference promises for keys that are not said, compared with what a chart is compiled to.
namespace {

/// Says one key that the chart leaves out: the promised default, or a little beside it.
class SayOne {
  public:
    SayOne(int which, bool beside) : which_(which), beside_(beside) {}
    std::string said;  ///< table and key; empty: there is no such key
    int candidates = 0;

    void number(const keys::Key& key, std::optional<double>& value) {
        std::optional<double> promised = value;
        if (!value) {
            promised = number_of(key.fallback);
            if (!promised && known_.count(std::string(key.fallback)) != 0) {
                promised = known_.at(std::string(key.fallback));
            }
            if (promised && candidates++ == which_) {
                // Beside it, but in range.
                const double other =
                    *promised < key.most ? std::min(key.most, *promised * 1.25 + 0.25) : *promised * 0.75;
                value = beside_ ? other : *promised;
                said = table_ + std::string(key.name);
            }
        }
        know(key, promised);
    }
    void number(const keys::Key& key, double& value) { know(key, value); }
    void angle(const keys::Key& key, std::optional<Degrees>& value) {
        std::optional<double> plain;
        if (value) {
            plain = value->value;
        }
        number(key, plain);
        if (plain) {
            value = Degrees{*plain};
        }
    }
    void angle(const keys::Key& /*key*/, Degrees& /*value*/) {}
    void truth(const keys::Key& key, std::optional<bool>& value) {
        if (!value && candidates++ == which_) {
            value = (key.fallback == "true") != beside_;
            said = table_ + std::string(key.name);
        }
    }
    void truth(const keys::Key& /*key*/, bool& /*value*/) {}
    template <class Enum, class Names>
    void choice(const keys::Key& key, std::optional<Enum>& value, const Names& names) {
        for (std::size_t i = 0; i < names.size() && !value; ++i) {
            if (names[i].name == key.fallback && candidates++ == which_) {
                value = names[beside_ ? (i + 1) % names.size() : i].value;
                said = table_ + std::string(key.name);
            }
        }
    }
    template <class Enum, class Names>
    void choice(const keys::Key& /*key*/, Enum& /*value*/, const Names& /*names*/) {}
    template <class... Any>
    void count(const keys::Key& /*key*/, Any&... /*value*/) {}
    template <class... Any>
    void text(const keys::Key& /*key*/, Any&... /*value*/) {}
    template <class... Any>
    void numbers(const keys::Key& /*key*/, Any&... /*value*/) {}
    template <class... Any>
    void choices(const keys::Key& /*key*/, Any&... /*value*/) {}
    template <class... Any>
    void names(const keys::Key& /*key*/, Any&... /*value*/) {}
    template <class... Any>
    void condition(const keys::Key& /*key*/, Any&... /*value*/) {}
    template <class... Any>
    void curve(const keys::Key& /*key*/, Any&... /*value*/) {}
    template <class... Any>
    void rates(const keys::Key& /*key*/, Any&... /*value*/) {}
    template <class Spec, class Describe>
    void table(const keys::Key& key, Spec& spec, Describe describe) {
        const std::string outer = table_;
        table_ += std::string(key.name) + ".";
        describe(*this, spec);
        table_ = outer;
    }
    template <class Spec, class Describe>
    void table(const keys::Key& key, std::optional<Spec>& spec, Describe describe) {
        if (spec) {
            table(key, *spec, describe);
        }
    }
    template <class Spec, class Describe>
    void each(const keys::Key& key, std::vector<Spec>& list, Describe describe) {
        for (Spec& spec : list) {
            table(key, spec, describe);
        }
    }
    template <class Spec, class Describe>
    void list(const keys::Key& key, std::vector<Spec>& list, Describe describe) {
        each(key, list, describe);
    }

  private:
    static std::optional<double> number_of(std::string_view text) {
        if (text.empty() || text.find_first_not_of("0123456789.") != std::string_view::npos) {
            return {};
        }
        return std::stod(std::string(text));
    }
    /// For defaults that are another key: "forward", "body.gravity".
    void know(const keys::Key& key, std::optional<double> value) {
        for (const std::string& name : {std::string(key.name), table_ + std::string(key.name)}) {
            known_.erase(name);
            if (value) {
                known_[name] = *value;
            }
        }
    }

    int which_;
    bool beside_;
    std::string table_;
    std::map<std::string, double> known_;
};

/// A state of every kind, and as little said of each as can be.
ChartSpec taciturn() {
    ChartSpec spec;
    spec.name = "taciturn";
    spec.actions = {{.name = "jump"}};
    spec.meters = {{.name = "stamina", .capacity = 100.0}};
    spec.modifiers = {{.name = "haste", .seconds = 5.0, .affects = {{.what = "speed", .adds = 1.0}}},
                      {.name = "weight", .affects = {{.what = "speed", .times = 0.5}}}};
    const auto add = [&](const std::string& name, StateKind kind) -> StateSpec& {
        StateSpec& state = spec.states.emplace_back();
        state.name = name;
        state.kind = kind;
        state.enter = Condition{"time > 1"};
        spec.rank.push_back(name);
        return state;
    };
    add("dash", StateKind::burst).burst = {.speed = 10.0, .seconds = 0.5};
    add("slide", StateKind::slide);
    add("glide", StateKind::fly).speed.forward = 8.0;
    StateSpec& along = add("along", StateKind::wall);
    along.speed.forward = 6.0;
    add("fall", StateKind::air);
    StateSpec& soft = add("soft", StateKind::ground);
    soft.speed.forward = 3.0;
    soft.gain.law = GainLaw::ease;
    soft.gain.up_half_life = 0.2;
    soft.drain = {{"stamina", 5.0}};
    StateSpec& run = add("run", StateKind::ground);
    run.speed.forward = 5.0;
    run.gain.law = GainLaw::ramp;
    run.gain.up = 12.0;
    run.enter = {};
    return spec;
}

/// Without what only tells charts apart.
detail::ChartData compiled(const ChartSpec& spec) {
    detail::ChartData data = compile(spec).data();
    data.digest = 0;
    data.tag = 0;
    return data;
}

}  // namespace

TEST_CASE("a key that is not said is what the reference promises") {
    const detail::ChartData silent = compiled(taciturn());
    std::set<std::string> kept, told;
    SayOne all(-1, false);
    ChartSpec untouched = taciturn();
    keys::describe_chart(all, untouched);
    REQUIRE(untouched == taciturn());
    for (int which = 0; which < all.candidates; ++which) {
        std::string key;
        for (const bool beside : {false, true}) {
            SayOne one(which, beside);
            ChartSpec spec = taciturn();
            keys::describe_chart(one, spec);
            key = one.said;
            CAPTURE(key, beside);
            REQUIRE_FALSE(key.empty());
            try {
                const detail::ChartData said = compiled(spec);
                if (beside) {
                    if (!(said == silent)) {
                        told.insert(key);
                    }
                } else {
                    CHECK((said == silent));
                    kept.insert(key);
                }
            } catch (const ChartError&) {
                // Another kind's key; or what lies beside it is refused, and so noticed.
                if (beside && kept.count(key) != 0) {
                    told.insert(key);
                }
            }
        }
    }
    // Every key was looked at in a state that has it, and would have been noticed.
    for (const std::string& key : kept) {
        CAPTURE(key);
        CHECK(told.count(key) == 1);
    }
    for (const char* key : {"states.speed.side",
                            "states.speed.back",
                            "states.gain.law",
                            "states.gain.down",
                            "states.gain.idle",
                            "states.gain.down_half_life",
                            "states.gain.idle_half_life",
                            "states.slope.up",
                            "states.slope.down",
                            "states.air.rise_gravity",
                            "states.air.fall_gravity",
                            "states.air.terminal",
                            "states.air.steer",
                            "states.air.brake",
                            "states.slide.boost",
                            "states.slide.boost_limit",
                            "states.slide.friction",
                            "states.slide.slope",
                            "states.slide.top",
                            "states.burst.after",
                            "states.burst.gravity",
                            "states.fly.by_look",
                            "states.fly.climb",
                            "states.fly.dive",
                            "states.fly.sink",
                            "states.wall.reach",
                            "states.wall.least_speed",
                            "states.wall.most_angle",
                            "states.wall.seconds",
                            "states.wall.climb",
                            "states.wall.gravity",
                            "states.wall.growth",
                            "states.low",
                            "states.again",
                            "states.drain_above",
                            "modifiers.affects.adds",
                            "modifiers.affects.times"}) {
        CAPTURE(key);
        CHECK(kept.count(key) == 1);
    }
}
