#pragma once

#include <fmt/format.h>

#include <array>
#include <cursimeter/chart_spec.hpp>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/chart/key.hpp"

namespace cursimeter::chartfile {

/// The visitor of core/key.hpp that writes a spec as TOML, in the order and layout that people use:
/// sections for named things, inline tables inside them. What is not said stays unwritten.
class TomlWriter {
  public:
    template <class Spec, class Describe>
    std::string write(const Spec& spec, Describe describe) {
        lines_.push_back("format = 1");
        describe(*this, spec);
        std::string text;
        for (const std::string& line : lines_) {
            text += line + "\n";
        }
        return text + sections_;
    }

    void number(const keys::Key& key, double value) { line(key, fmt::format("{}", value)); }
    void number(const keys::Key& key, const std::optional<double>& value) {
        if (value) {
            number(key, *value);
        }
    }
    void count(const keys::Key& key, int value) { line(key, fmt::format("{}", value)); }
    void angle(const keys::Key& key, Degrees value) { number(key, value.value); }
    void angle(const keys::Key& key, const std::optional<Degrees>& value) {
        if (value) {
            number(key, value->value);
        }
    }
    void truth(const keys::Key& key, const std::optional<bool>& value) {
        if (value) {
            truth(key, *value);
        }
    }
    void numbers(const keys::Key& key, const std::optional<std::vector<double>>& value) {
        if (value) {
            line(key, fmt::format("[{}]", fmt::join(*value, ", ")));
        }
    }
    template <class Enum, class Names>
    void choices(const keys::Key& key, const std::optional<std::vector<Enum>>& value, const Names& choices) {
        if (!value) {
            return;
        }
        std::vector<std::string> words;
        for (const Enum item : *value) {
            for (const auto& choice : choices) {
                if (choice.value == item) {
                    words.emplace_back(choice.name);
                }
            }
        }
        line(key, list_of(words));
    }
    void truth(const keys::Key& key, bool value) { line(key, value ? "true" : "false"); }
    void text(const keys::Key& key, const std::string& value) { line(key, quoted(value)); }
    void text(const keys::Key& key, const std::optional<std::string>& value) {
        if (value) {
            text(key, *value);
        }
    }
    void names(const keys::Key& key, const std::vector<std::string>& value) {
        if (!value.empty() || key.required()) {
            line(key, list_of(value));
        }
    }
    void names(const keys::Key& key, const std::optional<std::vector<std::string>>& value) {
        if (value) {
            line(key, list_of(*value));
        }
    }
    void condition(const keys::Key& key, const std::optional<Condition>& value);
    void curve(const keys::Key& key, const std::optional<std::vector<CurvePoint>>& value);
    void rates(const keys::Key& key, const std::vector<RateSpec>& value);
    void vector3(const keys::Key& key, const std::array<double, 3>& value) {
        line(key, fmt::format("[{}, {}, {}]", value[0], value[1], value[2]));
    }

    void points(const keys::Key& key, const std::vector<std::array<double, 3>>& points) {
        std::vector<std::string> items;
        items.reserve(points.size());
        for (const std::array<double, 3>& point : points) {
            items.push_back(fmt::format("[{}, {}, {}]", point[0], point[1], point[2]));
        }
        line(key, fmt::format("[{}]", fmt::join(items, ", ")));
    }

    template <class Enum, class Names>
    void choice(const keys::Key& key, const std::optional<Enum>& value, const Names& choices) {
        if (value) {
            choice(key, *value, choices);
        }
    }
    template <class Enum, class Names>
    void choice(const keys::Key& key, const Enum& value, const Names& choices) {
        for (const auto& choice : choices) {
            if (choice.value == value) {
                line(key, quoted(choice.name));
            }
        }
    }

    template <class Spec, class Describe>
    void table(const keys::Key& key, const std::optional<Spec>& spec, Describe describe) {
        if (spec) {
            table(key, *spec, describe);
        }
    }
    template <class Spec, class Describe>
    void table(const keys::Key& key, const Spec& spec, Describe describe) {
        const std::vector<std::string> inner = lines_of(spec, describe);
        if (depth_ > 0) {
            if (!inner.empty()) {
                line(key, in_braces(inner));
            }
        } else {
            section(fmt::format("[{}]", key.name), inner);
        }
    }
    template <class Spec, class Describe>
    void each(const keys::Key& key, const std::vector<Spec>& list, Describe describe) {
        std::vector<std::string> items;
        for (const Spec& spec : list) {
            const std::vector<std::string> inner = lines_of(spec, describe);
            if (depth_ > 0) {
                items.push_back(fmt::format("{} = {}", spec.name, in_braces(inner)));
            } else {
                section(fmt::format("[{}.{}]", key.name, spec.name), inner);
            }
        }
        if (!items.empty()) {
            line(key, in_braces(items));
        }
    }
    template <class Spec, class Describe>
    void list(const keys::Key& key, const std::vector<Spec>& list, Describe describe) {
        std::string items;
        for (const Spec& spec : list) {
            const std::vector<std::string> inner = lines_of(spec, describe);
            if (depth_ > 0) {
                items += fmt::format("\n    {},", in_braces(inner));
            } else {
                section(fmt::format("[[{}]]", key.name), inner);
            }
        }
        if (depth_ > 0 && !items.empty()) {
            line(key, fmt::format("[{}\n]", items));
        }
    }

  private:
    static std::string quoted(std::string_view text);
    static std::string list_of(const std::vector<std::string>& texts);
    static std::string in_braces(const std::vector<std::string>& lines);

    void line(const keys::Key& key, const std::string& value) {
        lines_.push_back(fmt::format("{} = {}", key.name, value));
    }
    void section(const std::string& header, const std::vector<std::string>& lines);

    template <class Spec, class Describe>
    std::vector<std::string> lines_of(const Spec& spec, Describe describe) {
        std::vector<std::string> outer = std::move(lines_);
        lines_.clear();
        ++depth_;
        describe(*this, spec);
        --depth_;
        std::swap(outer, lines_);
        return outer;
    }

    int depth_ = 0;
    std::vector<std::string> lines_;
    std::string sections_;
};

}  // namespace cursimeter::chartfile
