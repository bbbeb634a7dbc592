#pragma once

#include <fmt/format.h>

#include <array>
#include <cmath>
#include <cursimeter/chart_spec.hpp>
#include <optional>
#include <set>

#include "core/chart/findings.hpp"
#include "core/chart/key.hpp"

/// The visitor that holds every number against its key's range and every name against the rules for names.
namespace cursimeter::detail {

[[nodiscard]] std::string range_text(const keys::Key& key);
/// Names are what a TOML bare key may be, in lower case, so that terms can be read without quotes.
[[nodiscard]] bool valid_name(std::string_view name);
/// Whether terms begin with this word; a thing of that name could not be told apart.
[[nodiscard]] bool is_reserved(std::string_view name);

class LimitsCheck {
  public:
    explicit LimitsCheck(Findings& findings) : findings_(findings) {}

    void number(const keys::Key& key, double value) {
        if (!std::isfinite(value)) {
            findings_.add(path(key), "is not a finite number", range_text(key));
        } else if (value > key.most || value < key.least || (key.above_least && value == key.least)) {
            findings_.add(path(key), fmt::format("{} is out of range", value), range_text(key));
        }
    }
    void number(const keys::Key& key, const std::optional<double>& value) {
        if (value) {
            number(key, *value);
        }
    }
    void count(const keys::Key& key, int value) { number(key, static_cast<double>(value)); }
    void angle(const keys::Key& key, Degrees value) { number(key, value.value); }
    void angle(const keys::Key& key, const std::optional<Degrees>& value) {
        if (value) {
            number(key, value->value);
        }
    }
    template <class Truth>
    void truth(const keys::Key& /*key*/, const Truth& /*value*/) {}
    void numbers(const keys::Key& key, const std::optional<std::vector<double>>& values) {
        for (std::size_t i = 0; values && i < values->size(); ++i) {
            const std::string name = fmt::format("{}[{}]", key.name, i + 1);
            keys::Key item = key;
            item.name = name;
            number(item, (*values)[i]);
        }
    }
    void text(const keys::Key& key, const std::string& value) {
        if (key.required() && value.empty()) {
            findings_.add(path(key), "is empty", std::string(key.meaning));
        }
    }
    void text(const keys::Key& /*key*/, const std::optional<std::string>& /*value*/) {}
    template <class Value, class Names>
    void choice(const keys::Key& /*key*/, const Value& /*value*/, const Names& /*names*/) {}
    template <class Enum, class Names>
    void choices(const keys::Key& /*key*/, const std::optional<std::vector<Enum>>& /*values*/,
                 const Names& /*names*/) {}
    template <class Names>
    void names(const keys::Key& /*key*/, const Names& /*names*/) {}
    void condition(const keys::Key& /*key*/, const std::optional<Condition>& /*condition*/) {}
    void curve(const keys::Key& key, const std::optional<std::vector<CurvePoint>>& points) {
        for (std::size_t i = 0; points && i < points->size(); ++i) {
            const CurvePoint& point = (*points)[i];
            if (!(point.seconds >= 0.0 && point.seconds <= 60.0 && point.fraction >= 0.0 &&
                  point.fraction <= 1.0)) {
                findings_.add(fmt::format("{}[{}]", path(key), i + 1),
                              fmt::format("[{}, {}] is out of range", point.seconds, point.fraction),
                              "0 <= seconds <= 60 and 0 <= fraction <= 1");
            }
        }
    }
    void rates(const keys::Key& key, const std::vector<RateSpec>& rates) {
        for (const RateSpec& rate : rates) {
            const keys::Key named{.name = rate.meter,
                                  .unit = key.unit,
                                  .meaning = key.meaning,
                                  .least = key.least,
                                  .most = key.most};
            const std::string outer = prefix_;
            prefix_ = path(key);
            number(named, rate.rate);
            prefix_ = outer;
        }
    }
    template <std::size_t N>
    void vector3(const keys::Key& key, const std::array<double, N>& values) {
        for (const double value : values) {
            number(key, value);
        }
    }
    void points(const keys::Key& key, const std::vector<std::array<double, 3>>& points) {
        for (std::size_t i = 0; i < points.size(); ++i) {
            const std::string name = fmt::format("{}[{}]", key.name, i + 1);
            keys::Key item = key;
            item.name = name;
            vector3(item, points[i]);
        }
    }
    template <class Spec, class Describe>
    void table(const keys::Key& key, const Spec& spec, Describe describe) {
        within(path(key), spec, describe);
    }
    template <class Spec, class Describe>
    void table(const keys::Key& key, const std::optional<Spec>& spec, Describe describe) {
        if (spec) {
            within(path(key), *spec, describe);
        }
    }
    template <class Spec, class Describe>
    void each(const keys::Key& key, const std::vector<Spec>& list, Describe describe) {
        std::set<std::string> seen;
        if (static_cast<double>(list.size()) > key.most) {
            findings_.add(path(key), fmt::format("there are {} {}", list.size(), key.name),
                          too_many(list.size(), static_cast<std::size_t>(key.most)));
        }
        for (const Spec& spec : list) {
            const std::string place = path(key) + "." + spec.name;
            if (!valid_name(spec.name)) {
                findings_.add(place, fmt::format("'{}' cannot be a name", spec.name),
                              "names are a letter, then letters, digits and _, all in lower case");
            } else if (is_reserved(spec.name)) {
                findings_.add(place, fmt::format("'{}' is a word of the conditions", spec.name),
                              "choose another name");
            } else if (!seen.insert(spec.name).second) {
                findings_.add(place, fmt::format("there are two {} named '{}'", key.name, spec.name),
                              "rename one of them");
            }
            within(place, spec, describe);
        }
    }
    template <class Spec, class Describe>
    void list(const keys::Key& key, const std::vector<Spec>& list, Describe describe) {
        for (std::size_t i = 0; i < list.size(); ++i) {
            within(fmt::format("{}[{}]", path(key), i + 1), list[i], describe);
        }
    }

  private:
    [[nodiscard]] std::string path(const keys::Key& key) const {
        return prefix_.empty() ? std::string(key.name) : prefix_ + "." + std::string(key.name);
    }
    template <class Spec, class Describe>
    void within(const std::string& place, const Spec& spec, Describe describe) {
        const std::string outer = prefix_;
        prefix_ = place;
        describe(*this, spec);
        prefix_ = outer;
    }

    Findings& findings_;
    std::string prefix_;
};

}  // namespace cursimeter::detail
