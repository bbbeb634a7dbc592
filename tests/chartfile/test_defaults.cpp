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

    void meet(const keys::Key& key, const keys::Value<double>& value, void* spec) {
        const double* already = value.said(spec);
        std::optional<double> promised = already != nullptr ? std::optional(*already) : std::nullopt;
        if (already == nullptr) {
            promised = number_of(key.fallback);
            if (!promised && known_.count(std::string(key.fallback)) != 0) {
                promised = known_.at(std::string(key.fallback));
            }
            if (promised && candidates++ == which_) {
                // Beside it, but in range.
                const double other =
                    *promised < key.most ? std::min(key.most, *promised * 1.25 + 0.25) : *promised * 0.75;
                value.say(spec) = beside_ ? other : *promised;
                said = table_ + std::string(key.name);
            }
        }
        know(key, promised);
    }
    void meet(const keys::Key& key, const keys::Value<bool>& value, void* spec) {
        if (value.said(spec) == nullptr && candidates++ == which_) {
            value.say(spec) = (key.fallback == "true") != beside_;
            said = table_ + std::string(key.name);
        }
    }
    void meet(const keys::Key& key, const keys::Choice& choice, void* spec) {
        for (std::size_t i = 0; i < choice.words.size() && !choice.said(spec); ++i) {
            if (choice.words[i].name == key.fallback && candidates++ == which_) {
                choice.say(spec, choice.words[beside_ ? (i + 1) % choice.words.size() : i].value);
                said = table_ + std::string(key.name);
            }
        }
    }
    void meet(const keys::Key& key, const keys::Inner& inner, void* spec) {
        if (inner.said(spec) != nullptr) {
            within(key, inner.rows, inner.say(spec));
        }
    }
    void meet(const keys::Key& key, const keys::Named& named, void* spec) { within_all(key, named, spec); }
    void meet(const keys::Key& key, const keys::Listed& listed, void* spec) { within_all(key, listed, spec); }
    /// Counts, texts, lists: what the reference promises of them is no number.
    template <class Value>
    void meet(const keys::Key& /*key*/, const Value& /*value*/, void* /*spec*/) {}

  private:
    void within(const keys::Key& key, const keys::Rows& rows, void* spec) {
        const std::string outer = table_;
        table_ += std::string(key.name) + ".";
        keys::walk(rows, spec, *this);
        table_ = outer;
    }
    template <class List>
    void within_all(const keys::Key& key, const List& list, void* spec) {
        for (std::size_t i = 0; i < list.count(spec); ++i) {
            within(key, list.rows, list.edit(spec, i));
        }
    }
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
    keys::walk(keys::chart_table().rows, static_cast<void*>(&untouched), all);
    REQUIRE(untouched == taciturn());
    for (int which = 0; which < all.candidates; ++which) {
        std::string key;
        for (const bool beside : {false, true}) {
            SayOne one(which, beside);
            ChartSpec spec = taciturn();
            keys::walk(keys::chart_table().rows, static_cast<void*>(&spec), one);
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
