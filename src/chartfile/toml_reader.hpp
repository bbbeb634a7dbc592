#pragma once

#include <fmt/format.h>

#include <toml++/toml.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cursimeter/chart_spec.hpp>
#include <cursimeter/chartfile/source_map.hpp>
#include <cursimeter/diagnostics.hpp>
#include <optional>
#include <string>
#include <vector>

#include "core/chart/key.hpp"

namespace cursimeter::chartfile {

/// The visitor of core/key.hpp that fills a spec from TOML. It goes on after every mistake, notes
/// where each key stands, and complains about keys that no table lists.
class TomlReader {
  public:
    explicit TomlReader(const toml::table& root);

    /// Reads a whole file: its `format`, then what `describe` lists.
    template <class Spec, class Describe>
    void read(Spec& spec, Describe describe) {
        int format = 1;
        count(keys::format_key, format);
        describe(*this, spec);
        complain_of_unlisted();
    }
    [[nodiscard]] std::vector<Diagnostic> take_diagnostics() { return std::move(diagnostics_); }
    [[nodiscard]] SourceMap take_sources() { return std::move(sources_); }

    void number(const keys::Key& key, double& value);
    void number(const keys::Key& key, std::optional<double>& value);
    void count(const keys::Key& key, int& value);
    void angle(const keys::Key& key, Degrees& value) { number(key, value.value); }
    void angle(const keys::Key& key, std::optional<Degrees>& value) {
        std::optional<double> degrees;
        number(key, degrees);
        if (degrees) {
            value = Degrees{*degrees};
        }
    }
    void truth(const keys::Key& key, bool& value);
    void truth(const keys::Key& key, std::optional<bool>& value);
    void numbers(const keys::Key& key, std::optional<std::vector<double>>& value);
    void text(const keys::Key& key, std::string& value);
    void text(const keys::Key& key, std::optional<std::string>& value);
    void names(const keys::Key& key, std::vector<std::string>& value);
    void names(const keys::Key& key, std::optional<std::vector<std::string>>& value);
    void condition(const keys::Key& key, std::optional<Condition>& value);
    void curve(const keys::Key& key, std::optional<std::vector<CurvePoint>>& value);
    void rates(const keys::Key& key, std::vector<RateSpec>& value);
    void vector3(const keys::Key& key, std::array<double, 3>& value);
    void points(const keys::Key& key, std::vector<std::array<double, 3>>& value);

    template <class Value, class Names>
    void choice(const keys::Key& key, Value& value, const Names& choices) {
        std::optional<std::string> word;
        text(key, word);
        if (!word) {
            return;
        }
        std::vector<std::string> known;
        known.reserve(choices.size());
        for (const auto& choice : choices) {
            if (choice.name == *word) {
                value = choice.value;
                return;
            }
            known.emplace_back(choice.name);
        }
        complain_of_choice(path(key), *word, known);
    }

    template <class Enum, class Names>
    void choices(const keys::Key& key, std::optional<std::vector<Enum>>& value, const Names& choices) {
        std::optional<std::vector<std::string>> words;
        names(key, words);
        if (!words) {
            return;
        }
        value.emplace();
        const std::vector<std::string> known = names_of(choices);
        for (std::size_t i = 0; i < words->size(); ++i) {
            const auto found = std::find_if(choices.begin(), choices.end(),
                                            [&](const auto& choice) { return choice.name == (*words)[i]; });
            if (found == choices.end()) {
                complain_of_choice(fmt::format("{}[{}]", path(key), i + 1), (*words)[i], known);
            } else {
                value->push_back(found->value);
            }
        }
    }

    template <class Spec, class Describe>
    void table(const keys::Key& key, Spec& spec, Describe describe) {
        if (const toml::table* node = find_table(key)) {
            within(*node, path(key), spec, describe);
        }
    }
    template <class Spec, class Describe>
    void table(const keys::Key& key, std::optional<Spec>& spec, Describe describe) {
        if (const toml::table* node = find_table(key)) {
            within(*node, path(key), spec.emplace(), describe);
        }
    }
    template <class Spec, class Describe>
    void each(const keys::Key& key, std::vector<Spec>& list, Describe describe) {
        const toml::table* node = find_table(key);
        if (node == nullptr) {
            return;
        }
        for (const Entry& entry : in_file_order(*node)) {
            const std::string place = path(key) + "." + entry.name;
            sources_.set(place, entry.position);
            list.emplace_back().name = entry.name;  // even if it is wrong: others may name it
            if (const toml::table* item = entry.node->as_table()) {
                within(*item, place, list.back(), describe);
            } else {
                complain(place, wrong_type(*entry.node, "a table"), "write { ... }");
            }
        }
    }
    template <class Spec, class Describe>
    void list(const keys::Key& key, std::vector<Spec>& list, Describe describe) {
        const toml::node* node = find(key);
        if (node == nullptr) {
            return;
        }
        const toml::array* array = node->as_array();
        for (std::size_t i = 0; array != nullptr && i < array->size(); ++i) {
            const std::string place = fmt::format("{}[{}]", path(key), i + 1);
            sources_.set(place, position_of(*array->get(i)));
            if (const toml::table* item = array->get(i)->as_table()) {
                within(*item, place, list.emplace_back(), describe);
            } else {
                complain(place, wrong_type(*array->get(i), "a table"), "write { ... }");
            }
        }
        if (array == nullptr) {
            complain(path(key), wrong_type(*node, "a list of tables"), fmt::format("write [[{}]]", key.name));
        }
    }

  private:
    template <class Names>
    [[nodiscard]] static std::vector<std::string> names_of(const Names& choices) {
        std::vector<std::string> names(choices.size());
        std::transform(choices.begin(), choices.end(), names.begin(),
                       [](const auto& choice) { return std::string(choice.name); });
        return names;
    }
    /// A key of a table in the order of the file; toml++ itself sorts by name.
    struct Entry {
        std::string name;
        const toml::node* node = nullptr;
        SourcePosition position;
    };
    /// A table being read, and the keys that its description has listed so far.
    struct Frame {
        const toml::table* table = nullptr;
        std::string path;
        std::vector<std::string> listed;
    };

    static SourcePosition position_of(const toml::node& node);
    static std::string wrong_type(const toml::node& node, std::string_view wanted);
    static std::vector<Entry> in_file_order(const toml::table& table);

    [[nodiscard]] std::string path(const keys::Key& key) const;
    /// The key's value, noting its place; complains if it is required and missing.
    const toml::node* find(const keys::Key& key);
    const toml::table* find_table(const keys::Key& key);
    bool read_number(const toml::node& node, const std::string& place, const std::string& unit,
                     double& value);
    bool read_vector3(const toml::node& node, const std::string& place, std::array<double, 3>& value);
    bool read_texts(const toml::node& node, const std::string& place, std::vector<std::string>& texts);
    void complain(std::string place, std::string what, std::string mend);
    void complain_of_choice(const std::string& place, const std::string& word,
                            const std::vector<std::string>& known);
    void complain_of_unlisted();

    template <class Spec, class Describe>
    void within(const toml::table& table, const std::string& place, Spec& spec, Describe describe) {
        frames_.push_back({&table, place, {}});
        describe(*this, spec);
        complain_of_unlisted();
        frames_.pop_back();
    }

    std::vector<Frame> frames_;
    std::vector<Diagnostic> diagnostics_;
    SourceMap sources_;
};

}  // namespace cursimeter::chartfile
